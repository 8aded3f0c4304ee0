import type { Method } from "../document/types";
import { Choice } from "../primitives/Choice";
import { type Kind, Variant } from "./Variant";

const LOSSES: Record<string, Kind> = {
  proportional: { label: "a share", value: { share: 0.5 }, numbers: [["share", "Lost", "share"]] },
  continuing: {
    label: "initial, continuing",
    value: { initial: 10, continuing: 2.5 },
    numbers: [
      ["initial", "Initial", "rain"],
      ["continuing", "Continuing", "rate"],
    ],
  },
  horton: {
    label: "Horton",
    value: { initial: 75, final: 12, decay: 4, recovery: 0 },
    numbers: [
      ["initial", "Capacity at first", "rate"],
      ["final", "Capacity at last", "rate"],
      ["decay", "Decay per hour", "plain"],
      ["recovery", "Recovery per hour", "plain"],
    ],
  },
  green_ampt: {
    label: "Green–Ampt",
    value: { conductivity: 6.5, suction: 110, deficit: 0.25 },
    numbers: [
      ["conductivity", "Conductivity", "rate"],
      ["suction", "Suction", "rain"],
      ["deficit", "Moisture deficit", "share"],
    ],
  },
  curve_number: {
    label: "curve number",
    value: { curve_number: 75, abstraction: 0.2 },
    numbers: [
      ["curve_number", "Curve number", "count"],
      ["abstraction", "Initial abstraction", "share"],
    ],
  },
};
const GREEN = { kind: "horton", ...LOSSES.horton?.value };
const METHODS: Record<string, Kind> = {
  coefficient: { label: "coefficients", value: {}, numbers: [] },
  losses: {
    label: "losses, time–area",
    value: { paved_loss: 1, green: GREEN },
    numbers: [["paved_loss", "Wetting of paved ground", "rain"]],
  },
  unit_hydrograph: {
    label: "unit hydrograph",
    value: { curve_number: 85, abstraction: 0.2, concentration: 900, peak_factor: 484 },
    numbers: [
      ["curve_number", "Curve number", "count"],
      ["abstraction", "Initial abstraction", "share"],
      ["concentration", "Time of concentration", "minutes"],
      ["peak_factor", "Peak factor", "count"],
    ],
  },
  overland: {
    label: "overland flow",
    value: {
      form: "reservoir",
      length: 50,
      slope: 0.02,
      paved_roughness: 0.015,
      green_roughness: 0.15,
      paved_store: 1,
      green_store: 4,
      paved_over_green: 0,
      green: GREEN,
    },
    numbers: [
      ["length", "Length of flow", "length"],
      ["slope", "Slope", "percent"],
      ["paved_roughness", "Roughness, paved", "roughness"],
      ["green_roughness", "Roughness, green", "roughness"],
      ["paved_store", "Hollows, paved", "rain"],
      ["green_store", "Hollows, green", "rain"],
      ["paved_over_green", "Paved over green", "share"],
    ],
  },
};

/** How rain becomes runoff, with the numbers of the chosen way and of the loss on green ground. */
export function MethodInputs({
  method,
  commit,
  testId,
}: {
  method: Method;
  commit: (method: Method) => void;
  testId: string;
}) {
  return (
    <>
      <Variant
        label="Method"
        value={method}
        kinds={METHODS}
        commit={(value) => commit(value as Method)}
        testId={testId}
      />
      {method.kind === "overland" && (
        <Choice
          label="Surface"
          value={method.form}
          options={{ reservoir: "nonlinear reservoir", plane: "kinematic plane" }}
          commit={(form) => commit({ ...method, form: form as "plane" })}
        />
      )}
      {(method.kind === "overland" || method.kind === "losses") && (
        <Variant
          label="Loss on green"
          value={method.green}
          kinds={LOSSES}
          commit={(green) => commit({ ...method, green } as Method)}
          testId={`${testId}-loss`}
        />
      )}
    </>
  );
}

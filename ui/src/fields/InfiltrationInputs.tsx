import type { Infiltration } from "../document/types";
import { Choice } from "../primitives/Choice";
import { NumberField } from "../primitives/NumberField";

/** Whether and how fast water infiltrates through base and sides. */
export function InfiltrationInputs({
  value,
  commit,
}: {
  value: Infiltration | null;
  commit: (value: Infiltration | null) => void;
}) {
  return (
    <>
      <Choice
        label="Infiltration"
        value={value?.through ?? "no"}
        options={{ no: "none", base: "through the base", sides: "through the sides", both: "base and sides" }}
        commit={(through) =>
          commit(
            through === "no"
              ? null
              : { rate: value?.rate ?? 1e-5, safety_factor: value?.safety_factor ?? 2, through: through as "both" },
          )
        }
        testId="infiltrates"
      />
      {value && (
        <>
          <NumberField
            label="Measured rate"
            value={value.rate}
            quantity="infiltrating"
            commit={(rate) => commit({ ...value, rate })}
          />
          <NumberField
            label="Safety factor"
            value={value.safety_factor}
            quantity="plain"
            commit={(safety_factor) => commit({ ...value, safety_factor })}
          />
        </>
      )}
    </>
  );
}

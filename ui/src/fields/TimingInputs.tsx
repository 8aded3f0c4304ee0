import { useQuery } from "@tanstack/react-query";
import { api, call } from "../api/client";
import { useProject } from "../document/store";
import type { Catchment } from "../document/types";
import { show } from "../document/units";
import { Choice, Tick } from "../primitives/Choice";
import { Figure } from "../primitives/Figure";
import { NumberField } from "../primitives/NumberField";
import type { Kind, Num } from "./Variant";

const LIE: Num[] = [
  ["length", "Length of flow", "length"],
  ["slope", "Slope", "percent"],
];
const FORMULAS: Record<string, Kind> = {
  kirpich: { label: "Kirpich", value: { length: 200, slope: 0.02 }, numbers: LIE },
  lag: {
    label: "curve-number lag",
    value: { length: 300, slope: 0.02, curve_number: 75 },
    numbers: [...LIE, ["curve_number", "Curve number", "count"]],
  },
  airport: {
    label: "FAA, by coefficient",
    value: { length: 100, slope: 0.01, coefficient: 0.7 },
    numbers: [...LIE, ["coefficient", "Runoff coefficient", "plain"]],
  },
  bransby: { label: "Bransby Williams", value: { length: 500, slope: 0.02 }, numbers: LIE },
};
type Stretch = "sheet" | "shallow" | "channel";
const STRETCHES: [Stretch, string, Record<string, unknown>, Num[]][] = [
  [
    "sheet",
    "Sheet flow",
    { length: 30, slope: 0.02, roughness: 0.15, rain: 50 },
    [...LIE, ["roughness", "Roughness", "roughness"], ["rain", "Rain, 2 yr 24 h", "rain"]],
  ],
  ["shallow", "Shallow flow", { length: 60, slope: 0.02, surface: "unpaved" }, LIE],
  [
    "channel",
    "Channel",
    { length: 100, slope: 0.01, roughness: 0.03, area: 0.5, perimeter: 2 },
    [
      ...LIE,
      ["roughness", "Roughness", "roughness"],
      ["area", "Area of flow", "shaft"],
      ["perimeter", "Wetted", "length"],
    ],
  ],
];

/** What a catchment comes to: its time of concentration, its paved share and the area that runs off, with creep. */
export function useGround(id: string) {
  const { id: project, option, revision } = useProject();
  const { data } = useQuery({
    queryKey: ["time", project, id, revision],
    enabled: !!project,
    placeholderData: (old) => old,
    queryFn: () =>
      call(
        api.GET("/api/projects/{project_id}/options/{option}/catchments/{catchment}/time", {
          params: { path: { project_id: project ?? "", option, catchment: id } },
        }),
      ),
  });
  return data;
}

/** A catchment's time of concentration: typed or the project's, or computed from its lie. */
export function TimingInputs({ id, ground }: { id: string; ground: Catchment }) {
  const { project: document, edit, optionPath } = useProject();
  const general = document?.rain.runoff.time_of_entry ?? 300;
  const set = (field: "timing" | "time_of_entry") => (value: unknown) =>
    void edit([{ op: "add", path: `${optionPath}/catchments/${id}/${field}`, value }]);
  const data = useGround(id);
  const { timing } = ground;
  const path = timing?.kind === "path" ? timing : null;
  const fields = (value: Record<string, unknown>, numbers: Num[], commit: (value: Record<string, unknown>) => void) =>
    numbers.map(([field, label, quantity]) => (
      <NumberField
        key={field}
        label={label}
        value={value[field] as number}
        quantity={quantity}
        commit={(number) => commit({ ...value, [field]: number })}
      />
    ));
  return (
    <>
      <Choice
        label="Time of concentration"
        value={timing?.kind ?? "typed"}
        options={{
          typed: "typed",
          ...Object.fromEntries(Object.entries(FORMULAS).map(([key, kind]) => [key, kind.label])),
          path: "flow path",
        }}
        commit={(kind) =>
          set("timing")(
            kind === "typed"
              ? null
              : kind === "path"
                ? { kind, sheet: STRETCHES[0]?.[2] }
                : { kind, ...FORMULAS[kind]?.value },
          )
        }
        testId="timing"
      />
      {!timing && (
        <>
          <NumberField
            label="Time of entry"
            value={ground.time_of_entry ?? general}
            quantity="minutes"
            commit={set("time_of_entry")}
          />
          {ground.time_of_entry === null ? (
            <p className="text-right text-[11px] text-ink3">of the project; type to give its own</p>
          ) : (
            <p className="text-right text-[11px]">
              <button type="button" className="textlink" onClick={() => set("time_of_entry")(null)}>
                as the project: {show(general, "minutes")} min
              </button>
            </p>
          )}
        </>
      )}
      {timing && !path && fields(timing, FORMULAS[timing.kind]?.numbers ?? [], (value) => set("timing")(value))}
      {path &&
        STRETCHES.map(([stretch, label, value, numbers]) => {
          const own = path[stretch];
          const put = (next: Record<string, unknown> | null) => set("timing")({ ...path, [stretch]: next });
          const last = own && STRETCHES.every(([other]) => other === stretch || !path[other]);
          return (
            <div key={stretch} className="border-t border-rule">
              <Tick
                label={`${label}${data?.stretches[stretch] !== undefined ? `, ${data.stretches[stretch]?.toFixed(1)} min` : ""}`}
                value={!!own}
                commit={(on) => (on ? put(value) : last ? set("timing")(null) : put(null))}
              />
              {own && fields(own, numbers, put)}
              {own && stretch === "shallow" && (
                <Choice
                  label="Surface"
                  value={"surface" in own ? own.surface : "unpaved"}
                  options={{ unpaved: "unpaved", paved: "paved" }}
                  commit={(surface) => put({ ...own, surface })}
                />
              )}
            </div>
          );
        })}
      {timing && data && <Figure label="Computed" value={(data.used / 60).toFixed(1)} unit="min" />}
    </>
  );
}

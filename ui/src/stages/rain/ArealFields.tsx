import { useProject } from "../../document/store";
import type { Areal } from "../../document/types";
import { Choice } from "../../primitives/Choice";
import { NumberField } from "../../primitives/NumberField";
import { Rows } from "../../primitives/Rows";

const NEW: Record<string, Areal> = {
  typed: { kind: "typed", rows: [{ duration: 60, factor: 0.97 }] },
  power: { kind: "formula", form: "power", area: 1e6 },
  exponential: { kind: "formula", form: "exponential", area: 1e6 },
};

/** What area takes off point depths. The order is always the same: point, area, allowance. */
export function ArealFields() {
  const { project, edit } = useProject();
  const areal = project?.rain.areal ?? null;
  const set = (value: Areal | null) => void edit([{ op: "add", path: "/rain/areal", value }]);
  const kind = areal === null ? "none" : areal.kind === "typed" ? "typed" : areal.form;
  return (
    <div className="ml-auto flex items-baseline gap-3" data-testid="areal-fields">
      <Choice
        label="Areal reduction"
        value={kind}
        options={{ none: "none", typed: "typed", power: "by area, power", exponential: "by area, exponential" }}
        commit={(next) => set(NEW[next] ?? null)}
        testId="areal"
      />
      {areal?.kind === "formula" && (
        <NumberField
          label="Area"
          value={areal.area}
          quantity="area"
          commit={(area) => set({ ...areal, area })}
          testId="areal-area"
        />
      )}
      {areal?.kind === "typed" && (
        <Rows
          title="Areal over point depth"
          columns={[
            { key: "duration", label: "duration", quantity: "duration" },
            { key: "factor", label: "factor", quantity: "third" },
          ]}
          rows={areal.rows}
          commit={(rows) => set({ ...areal, rows })}
        />
      )}
    </div>
  );
}

import type { Pump, PumpUnit } from "../../document/types";
import { LevelField } from "../../fields/LevelField";
import { useCommit } from "../../fields/useCommit";
import { Choice, Tick } from "../../primitives/Choice";
import { NumberField } from "../../primitives/NumberField";
import { Rows } from "../../primitives/Rows";
import type { ControlKind } from "../control";
import { useTop } from "../shared";

/** What is wrong with a pump curve: its flow rises from row to row and its head falls. */
export function curveOf(pump: string, rows: { flow: number; head: number }[]): string | null {
  if (rows.length < 2) return `${pump}: a curve has two rows at least; add one`;
  for (const [k, row] of rows.entries()) {
    const before = rows[k - 1];
    if (row.flow < 0 || row.head < 0) return `${pump}, row ${k + 1}: is negative; type flow and head from 0 up`;
    if (!before) continue;
    if (row.flow <= before.flow)
      return `${pump}, row ${k + 1}: its flow must be greater than that of row ${k}; correct one, or sort the rows`;
    if (row.head >= before.head)
      return `${pump}, row ${k + 1}: its head must be less than that of row ${k}; a pump lifts less as it passes more`;
  }
  return null;
}

function Form({ id, control: pump }: { id: string; control: Pump }) {
  const commit = useCommit("links", id);
  const top = useTop(pump.upstream);
  const set = (k: number, unit: PumpUnit) => commit("units")(pump.units.map((u, i) => (i === k ? unit : u)));
  const main = pump.main;
  return (
    <>
      {pump.units.map((unit, k) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: pumps have no other identity
        <fieldset key={k} className="mt-1 border-t border-rule">
          <legend className="font-semibold">Pump {k + 1}</legend>
          <LevelField label="Starts at" value={unit.on} top={top} commit={(on) => set(k, { ...unit, on })} />
          <LevelField label="Stops at" value={unit.off} top={top} commit={(off) => set(k, { ...unit, off })} />
          <Rows
            title={`Curve of pump ${k + 1}`}
            columns={[
              { key: "flow", label: "flow", quantity: "flow", trend: true },
              { key: "head", label: "head", quantity: "length", trend: true },
            ]}
            check={(curve) => curveOf(`Pump ${k + 1}`, curve)}
            rows={unit.curve}
            commit={(curve) => set(k, { ...unit, curve })}
          />
          <Tick
            label="Efficiency known"
            value={unit.efficiency !== null}
            commit={(known) => set(k, { ...unit, efficiency: known ? 0.6 : null })}
          />
          {unit.efficiency !== null && (
            <NumberField
              label="Pump and motor"
              value={unit.efficiency}
              quantity="share"
              commit={(efficiency) => set(k, { ...unit, efficiency })}
            />
          )}
          {pump.units.length > 1 && (
            <Tick label="Stands by" value={unit.standby} commit={(standby) => set(k, { ...unit, standby })} />
          )}
          {pump.units.length > 1 && (
            <button
              type="button"
              className="textlink text-[11px]"
              onClick={() => commit("units")(pump.units.filter((_, i) => i !== k))}
            >
              remove pump {k + 1}
            </button>
          )}
        </fieldset>
      ))}
      {pump.units.length < 4 && pump.units[0] && (
        <button
          type="button"
          className="textlink text-[11px]"
          onClick={() => {
            const last = pump.units[pump.units.length - 1] as PumpUnit;
            commit("units")([...pump.units, { ...last, on: last.on + 0.1 }]);
          }}
        >
          another pump beside it
        </button>
      )}
      <Tick label="Run each storm with a pump out" value={pump.one_out} commit={commit("one_out")} />
      {pump.one_out && (
        <p className="text-[11px] text-ink3">
          each duty pump fails in turn, in every storm; pumps that stand by serve instead. Rules judge these storms too.
        </p>
      )}
      <Choice
        label="Rising main"
        value={main?.law ?? "no"}
        options={{ no: "none", hazen_williams: "Hazen–Williams", darcy_weisbach: "Darcy–Weisbach" }}
        commit={(law) => commit("main")(law === "no" ? null : { length: 50, diameter: 0.1, ...main, law })}
      />
      {main && (
        <>
          <NumberField label="Length" value={main.length} quantity="length" commit={commit("main/length")} />
          <NumberField label="Diameter" value={main.diameter} quantity="diameter" commit={commit("main/diameter")} />
          {main.law === "hazen_williams" ? (
            <NumberField
              label="C"
              value={main.hazen_williams}
              quantity="plain"
              commit={commit("main/hazen_williams")}
            />
          ) : (
            <NumberField
              label="Sand roughness"
              value={main.sand_roughness}
              quantity="sharp"
              commit={commit("main/sand_roughness")}
            />
          )}
          <NumberField label="Sum of K" value={main.minor_loss} quantity="plain" commit={commit("main/minor_loss")} />
          <Choice
            label="Pours out"
            value={main.discharge_level === null ? "there" : "at"}
            options={{ there: "at its end's level", at: "at a level" }}
            commit={(value) => commit("main/discharge_level")(value === "at" ? pump.units[0]?.on : null)}
          />
          {main.discharge_level !== null && (
            <NumberField
              label="Level"
              value={main.discharge_level}
              quantity="level"
              commit={commit("main/discharge_level")}
            />
          )}
        </>
      )}
    </>
  );
}

export const KIND: ControlKind<Pump> = {
  kind: "pump",
  order: 6,
  label: "Pump",
  level: null,
  levelOf: (control) => Math.min(...control.units.map((unit) => unit.off)),
  headOf: ({ main }, up, down) => (main?.discharge_level == null ? down : Math.max(main.discharge_level, down)) - up,
  // an impeller's arrow
  mark: "M-4 -4L5 0L-4 4Z",
  Form,
};

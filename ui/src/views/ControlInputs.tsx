import { useProject } from "../document/store";
import { type Control, type Pump, type PumpUnit, topOf } from "../document/types";
import { Choice } from "../primitives/Choice";
import { NumberField } from "../primitives/NumberField";
import { Rows } from "../primitives/Rows";
import { LevelField } from "./LevelField";
import { OPENING, SectionInputs } from "./SectionInputs";
import { useCommit } from "./useCommit";

const WEIRS = { sharp: "sharp crest", broad: "broad crest", v_notch: "V-notch", trapezoidal: "trapezoidal" };

/** The ground over a node, below which depths count. */
function useTop(node: string): number | null {
  const found = useProject((s) => s.network?.nodes[node]);
  return found ? topOf(found) : null;
}

/** What a control is given. */
export function ControlInputs({ id, control }: { id: string; control: Control }) {
  const commit = useCommit("links", id);
  const top = useTop(control.upstream);
  const flap = (
    <Choice
      label="Flap"
      value={control.flap ? "yes" : "no"}
      options={{ no: "none", yes: "lets nothing back" }}
      commit={(value) => commit("flap")(value === "yes")}
    />
  );
  switch (control.kind) {
    case "orifice":
      return (
        <>
          <Choice
            label="Opening in"
            value={control.position}
            options={{ side: "a wall", bottom: "a floor" }}
            commit={commit("position")}
          />
          <SectionInputs section={control.section} shapes={OPENING} commit={commit("section")} />
          <LevelField label="Lowest edge" value={control.invert} top={top} commit={commit("invert")} />
          <NumberField
            label="Coefficient"
            value={control.discharge_coefficient}
            quantity="plain"
            commit={commit("discharge_coefficient")}
          />
          {flap}
        </>
      );
    case "weir":
      return (
        <>
          <Choice
            label="Form"
            value={control.form}
            options={WEIRS}
            commit={(form) => {
              const { form: _, length, side_slope, ...rest } = control;
              commit("")({
                ...rest,
                form,
                length: form === "v_notch" ? 0 : length || 1,
                side_slope: form === "v_notch" || form === "trapezoidal" ? side_slope || 1 : 0,
                coefficient: form === "broad" ? 1.7 : control.coefficient,
              });
            }}
            testId="weir-form"
          />
          <LevelField label="Crest" value={control.crest} top={top} commit={commit("crest")} />
          {control.form !== "v_notch" && (
            <NumberField label="Length" value={control.length} quantity="length" commit={commit("length")} />
          )}
          {(control.form === "v_notch" || control.form === "trapezoidal") && (
            <NumberField label="Side slope" value={control.side_slope} quantity="slope" commit={commit("side_slope")} />
          )}
          <NumberField label="C" value={control.coefficient} quantity="weir" commit={commit("coefficient")} />
          {flap}
        </>
      );
    case "riser":
      return (
        <>
          <LevelField label="Rim" value={control.crest} top={top} commit={commit("crest")} />
          <NumberField label="Diameter" value={control.diameter} quantity="diameter" commit={commit("diameter")} />
          <NumberField
            label="C of the rim"
            value={control.coefficient}
            quantity="weir"
            commit={commit("coefficient")}
          />
          <NumberField
            label="Drowned"
            value={control.discharge_coefficient}
            quantity="plain"
            commit={commit("discharge_coefficient")}
          />
          {flap}
        </>
      );
    case "curve":
      return (
        <>
          <LevelField label="Head counts from" value={control.invert} top={top} commit={commit("invert")} />
          <Rows
            title="Curve"
            columns={[
              { key: "head", label: "head", quantity: "length" },
              { key: "flow", label: "flow", quantity: "flow" },
            ]}
            rows={control.rows}
            commit={commit("rows")}
          />
        </>
      );
    default:
      return <PumpInputs id={id} pump={control} />;
  }
}

function PumpInputs({ id, pump }: { id: string; pump: Pump }) {
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
              { key: "flow", label: "flow", quantity: "flow" },
              { key: "head", label: "head", quantity: "length" },
            ]}
            rows={unit.curve}
            commit={(curve) => set(k, { ...unit, curve })}
          />
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

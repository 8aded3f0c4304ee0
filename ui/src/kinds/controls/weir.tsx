import type { Weir } from "../../document/types";
import { LevelField } from "../../fields/LevelField";
import { useCommit } from "../../fields/useCommit";
import { Choice } from "../../primitives/Choice";
import { NumberField } from "../../primitives/NumberField";
import type { ControlKind } from "../control";
import { Flap, useTop } from "../shared";

const FORMS = { sharp: "sharp crest", broad: "broad crest", v_notch: "V-notch", trapezoidal: "trapezoidal" };

function Form({ id, control }: { id: string; control: Weir }) {
  const commit = useCommit("links", id);
  const sloping = control.form === "v_notch" || control.form === "trapezoidal";
  return (
    <>
      <Choice
        label="Form"
        value={control.form}
        options={FORMS}
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
      <LevelField label="Crest" value={control.crest} top={useTop(control.upstream)} commit={commit("crest")} />
      {control.form !== "v_notch" && (
        <NumberField label="Length" value={control.length} quantity="length" commit={commit("length")} />
      )}
      {sloping && (
        <NumberField label="Side slope" value={control.side_slope} quantity="slope" commit={commit("side_slope")} />
      )}
      <NumberField label="C" value={control.coefficient} quantity="weir" commit={commit("coefficient")} />
      <Flap id={id} control={control} />
    </>
  );
}

export const KIND: ControlKind<Weir> = {
  kind: "weir",
  order: 2,
  label: "Weir",
  level: "crest",
  levelOf: (control) => control.crest,
  // water over a crest
  mark: "M0 5V-1M-5 -2C-2 -2 0 -3 1 -1S3 3 4 4",
  Form,
};

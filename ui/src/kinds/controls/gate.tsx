import type { SluiceGate } from "../../document/types";
import { LevelField } from "../../fields/LevelField";
import { useCommit } from "../../fields/useCommit";
import { NumberField } from "../../primitives/NumberField";
import type { ControlKind } from "../control";
import { Flap, useTop } from "../shared";

function Form({ id, control }: { id: string; control: SluiceGate }) {
  const commit = useCommit("links", id);
  return (
    <>
      <LevelField
        label="Sill"
        value={control.sill}
        top={useTop(control.upstream)}
        commit={commit("sill")}
        testId="sill"
      />
      <NumberField label="Width" value={control.width} quantity="length" commit={commit("width")} testId="gate-width" />
      <NumberField
        label="Opening"
        value={control.opening}
        quantity="length"
        commit={commit("opening")}
        testId="gate-opening"
      />
      <NumberField
        label="Contraction"
        value={control.contraction_coefficient}
        quantity="plain"
        commit={commit("contraction_coefficient")}
      />
      <Flap id={id} control={control} />
    </>
  );
}

export const KIND: ControlKind<SluiceGate> = {
  kind: "gate",
  order: 4,
  label: "Sluice gate",
  level: "sill",
  levelOf: (control) => control.sill,
  opening: { height: (control) => control.opening, field: () => "opening" },
  // a plate over a gap
  mark: "M0 -5V2M-2 -5H2M-5 4H5M-5 0C-2 0 -1 3 1 3H5",
  Form,
};

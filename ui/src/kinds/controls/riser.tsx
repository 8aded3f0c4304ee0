import type { Riser } from "../../document/types";
import { LevelField } from "../../fields/LevelField";
import { useCommit } from "../../fields/useCommit";
import { NumberField } from "../../primitives/NumberField";
import type { ControlKind } from "../control";
import { Flap, useTop } from "../shared";

function Form({ id, control }: { id: string; control: Riser }) {
  const commit = useCommit("links", id);
  return (
    <>
      <LevelField label="Crest" value={control.crest} top={useTop(control.upstream)} commit={commit("crest")} />
      <NumberField label="Diameter" value={control.diameter} quantity="diameter" commit={commit("diameter")} />
      <NumberField label="C of the crest" value={control.coefficient} quantity="weir" commit={commit("coefficient")} />
      <NumberField
        label="Submerged"
        value={control.discharge_coefficient}
        quantity="plain"
        commit={commit("discharge_coefficient")}
      />
      <Flap id={id} control={control} />
    </>
  );
}

export const KIND: ControlKind<Riser> = {
  kind: "riser",
  order: 3,
  label: "Riser",
  level: "crest",
  levelOf: (control) => control.crest,
  // a ring that drinks
  mark: "M-4 -2H-2V5M4 -2H2V5M-4 -4H4",
  Form,
};

import type { Orifice } from "../../document/types";
import { LevelField } from "../../fields/LevelField";
import { OPENING, SectionInputs } from "../../fields/SectionInputs";
import { useCommit } from "../../fields/useCommit";
import { Choice } from "../../primitives/Choice";
import { NumberField } from "../../primitives/NumberField";
import type { ControlKind } from "../control";
import { Flap, useTop } from "../shared";

function Form({ id, control }: { id: string; control: Orifice }) {
  const commit = useCommit("links", id);
  return (
    <>
      <Choice
        label="Opening in"
        value={control.position}
        options={{ side: "a wall", bottom: "a floor" }}
        commit={commit("position")}
      />
      <SectionInputs section={control.section} shapes={OPENING} commit={commit("section")} />
      <LevelField label="Invert" value={control.invert} top={useTop(control.upstream)} commit={commit("invert")} />
      <NumberField
        label="Coefficient"
        value={control.discharge_coefficient}
        quantity="plain"
        commit={commit("discharge_coefficient")}
      />
      <Flap id={id} control={control} />
    </>
  );
}

export const KIND: ControlKind<Orifice> = {
  kind: "orifice",
  order: 1,
  label: "Orifice",
  level: "invert",
  levelOf: (control) => control.invert,
  opening: {
    height: ({ section }) => (section.shape === "circular" ? section.diameter : section.height),
    field: ({ section }) => (section.shape === "circular" ? "section/diameter" : "section/height"),
  },
  // a hole in a wall
  mark: "M0 -5V-2M0 2V5M-2 0a2 2 0 1 0 4 0a2 2 0 1 0 -4 0",
  Form,
};

import type { Control } from "../../document/types";
import { LevelField } from "../../fields/LevelField";
import { useCommit } from "../../fields/useCommit";
import { NumberField } from "../../primitives/NumberField";
import type { ControlKind } from "../control";
import { Flap, useTop } from "../shared";

type Flume = Extract<Control, { kind: "flume" }>;

function Form({ id, control }: { id: string; control: Flume }) {
  const commit = useCommit("links", id);
  return (
    <>
      <LevelField label="Sill" value={control.sill} top={useTop(control.upstream)} commit={commit("sill")} />
      <NumberField label="Throat" value={control.width} quantity="length" commit={commit("width")} />
      <Flap id={id} control={control} />
    </>
  );
}

export const KIND: ControlKind<Flume> = {
  kind: "flume",
  order: 7,
  label: "Flume",
  level: "sill",
  levelOf: (control) => control.sill,
  // walls that draw near and part again
  mark: "M-5 -4L-1 -2H1L5 -4M-5 4L-1 2H1L5 4",
  Form,
};

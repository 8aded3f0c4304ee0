import type { FlowCurve } from "../../document/types";
import { Rows } from "../../primitives/Rows";
import { LevelField } from "../../views/LevelField";
import { useCommit } from "../../views/useCommit";
import type { ControlKind } from "../control";
import { useTop } from "../shared";

function Form({ id, control }: { id: string; control: FlowCurve }) {
  const commit = useCommit("links", id);
  const top = useTop(control.upstream);
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
}

export const KIND: ControlKind<FlowCurve> = {
  kind: "curve",
  order: 5,
  label: "Flow curve",
  level: "invert",
  levelOf: (control) => control.invert,
  // a vortex
  mark: "M0 0a1 1 0 0 1 2 0a2 2 0 0 1 -4 0a3 3 0 0 1 6 0a4 4 0 0 1 -8 0",
  Form,
};

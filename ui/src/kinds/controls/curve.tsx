import { useState } from "react";
import { useProject } from "../../document/store";
import type { FlowCurve } from "../../document/types";
import { LevelField } from "../../fields/LevelField";
import { useCommit } from "../../fields/useCommit";
import { NumberField } from "../../primitives/NumberField";
import { Rows } from "../../primitives/Rows";
import type { ControlKind } from "../control";
import { useTop } from "../shared";

function Form({ id, control }: { id: string; control: FlowCurve }) {
  const commit = useCommit("links", id);
  const { edit, optionPath } = useProject();
  const top = useTop(control.upstream);
  const own = (rows: FlowCurve["rows"]) =>
    edit([
      { op: "add", path: `${optionPath}/links/${id}/rows`, value: rows },
      { op: "add", path: `${optionPath}/links/${id}/general`, value: false },
    ]);
  return (
    <>
      <LevelField label="Head counts from" value={control.invert} top={top} commit={commit("invert")} />
      <Vortex id={id} control={control} />
      <Rows
        title="Curve"
        columns={[
          { key: "head", label: "head", quantity: "length", trend: true },
          { key: "flow", label: "flow", quantity: "flow", trend: true },
        ]}
        rows={control.rows}
        commit={own}
      />
    </>
  );
}

/** A vortex control by its design point: a general curve, marked as such until its maker's table replaces it. */
function Vortex({ id, control }: { id: string; control: FlowCurve }) {
  const { apply } = useProject();
  const last = control.rows[control.rows.length - 1];
  const [head, setHead] = useState(1);
  const [flow, setFlow] = useState(last?.flow ?? 0.005);
  return (
    <details className="py-1" open={control.general}>
      <summary className="cursor-pointer text-ink2">
        {control.general
          ? "a general vortex curve: paste its maker’s table below"
          : "vortex control by design head and flow"}
      </summary>
      <NumberField label="Design head" value={head} quantity="length" commit={setHead} testId="design-head" />
      <NumberField label="Design flow" value={flow} quantity="flow" commit={setFlow} testId="design-flow" />
      <button
        type="button"
        className="textlink text-[11px]"
        title="rises to the design flow at 0.3 of the head, falls as the vortex forms, then follows the root of the head"
        onClick={() => void apply([{ edit: "general vortex", element: id, head, flow }])}
        data-testid="general-vortex"
      >
        take the general curve
      </button>
    </details>
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

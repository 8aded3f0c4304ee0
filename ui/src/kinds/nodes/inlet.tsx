import { useProject } from "../../document/store";
import type { Inlet } from "../../document/types";
import { useCommit } from "../../fields/useCommit";
import { Choice } from "../../primitives/Choice";
import { NumberField } from "../../primitives/NumberField";
import type { Canvas, NodeKind } from "../node";
import { HeadLoss, PlanArea } from "../shared";

function Form({ id, node: inlet }: { id: string; node: Inlet }) {
  const { network } = useProject();
  const commit = useCommit("nodes", id);
  const others = Object.entries(network?.nodes ?? {}).filter(([key, node]) => key !== id && node.kind !== "outfall");
  return (
    <>
      <PlanArea id={id} shaft={inlet} />
      <NumberField label="Capacity" value={inlet.capacity} quantity="flow" commit={commit("capacity")} />
      <Choice
        label="The rest runs to"
        value={inlet.bypass ?? ""}
        options={{ "": "nowhere: lost", ...Object.fromEntries(others.map(([key, node]) => [key, node.name])) }}
        commit={(value) => commit("bypass")(value || null)}
      />
      <HeadLoss id={id} shaft={inlet} />
    </>
  );
}

/** Bars of a grating. */
function mark(c: Canvas) {
  for (const x of [-3, 0, 3]) {
    c.moveTo(x, -Math.sqrt(36 - x * x));
    c.lineTo(x, Math.sqrt(36 - x * x));
  }
}

export const KIND: NodeKind<Inlet> = {
  kind: "inlet",
  order: 3,
  draws: [{ drawn: "inlet", label: "Inlet", key: "i" }],
  label: () => "Inlet",
  radius: 6,
  mark,
  Form,
};

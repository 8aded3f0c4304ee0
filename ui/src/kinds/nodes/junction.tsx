import type { Junction } from "../../document/types";
import type { NodeKind } from "../node";
import { HeadLoss, PlanArea } from "../shared";

function Form({ id, node: junction }: { id: string; node: Junction }) {
  return (
    <>
      <PlanArea id={id} shaft={junction} />
      <HeadLoss id={id} shaft={junction} />
    </>
  );
}

export const KIND: NodeKind<Junction> = {
  kind: "junction",
  order: 2,
  draws: [{ drawn: "junction", label: "Junction", key: "j" }],
  label: () => "Junction",
  radius: 4,
  Form,
};

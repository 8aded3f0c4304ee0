import { useProject } from "../document/store";
import { type Control, topOf } from "../document/types";
import { Choice } from "../primitives/Choice";
import { useCommit } from "../views/useCommit";

/** The ground over a node, below which depths count. */
export function useTop(node: string): number | null {
  const found = useProject((s) => s.network?.nodes[node]);
  return found ? topOf(found) : null;
}

/** Whether a control lets anything back. */
export function Flap({ id, control }: { id: string; control: Control }) {
  const commit = useCommit("links", id);
  return (
    <Choice
      label="Flap"
      value={control.flap ? "yes" : "no"}
      options={{ no: "none", yes: "lets nothing back" }}
      commit={(value) => commit("flap")(value === "yes")}
    />
  );
}

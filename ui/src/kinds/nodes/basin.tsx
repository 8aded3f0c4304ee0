import type { Basin } from "../../document/types";
import { NumberField } from "../../primitives/NumberField";
import { Rows } from "../../primitives/Rows";
import { Dimensions } from "../../views/Dimensions";
import { useCommit } from "../../views/useCommit";
import type { Canvas, NodeKind } from "../node";
import { box, StoreForm } from "../shared";

function Form({ id, node: basin }: { id: string; node: Basin }) {
  const commit = useCommit("nodes", id);
  return (
    <StoreForm id={id} store={basin}>
      <NumberField label="Side slope" value={basin.side_slope} quantity="slope" commit={commit("side_slope")} />
      <Dimensions id={id} store={basin} />
      <Rows
        title="Base corners"
        columns={[
          { key: "x", label: "east", quantity: "length" },
          { key: "y", label: "north", quantity: "length" },
        ]}
        rows={basin.base.map(([x, y]) => ({ x, y }))}
        commit={(rows) => commit("base")(rows.map(({ x, y }) => [x, y]))}
      />
    </StoreForm>
  );
}

/** Banks around the base. */
function mark(c: Canvas) {
  c.rect(-10, -6, 20, 12);
  for (const sx of [-1, 1])
    for (const sy of [-1, 1]) {
      c.moveTo(17 * sx, 12 * sy);
      c.lineTo(10 * sx, 6 * sy);
    }
}

export const KIND: NodeKind<Basin> = {
  kind: "basin",
  order: 6,
  draws: [{ drawn: "basin", label: "Pond, by side slope", key: "b" }],
  label: () => "Pond",
  radius: 15,
  outline: box,
  mark,
  Form,
};

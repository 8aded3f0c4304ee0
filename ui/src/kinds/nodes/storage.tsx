import type { Storage } from "../../document/types";
import { Dimensions } from "../../fields/Dimensions";
import { useCommit } from "../../fields/useCommit";
import { Rows } from "../../primitives/Rows";
import type { Canvas, NodeKind } from "../node";
import { box, StoreForm } from "../shared";

function Form({ id, node: store }: { id: string; node: Storage }) {
  const commit = useCommit("nodes", id);
  return (
    <StoreForm id={id} store={store}>
      <Dimensions id={id} store={store} />
      <Rows
        title="Areas"
        columns={[
          { key: "depth", label: "depth", quantity: "length" },
          { key: "area", label: "area", quantity: "area" },
        ]}
        rows={store.table}
        commit={commit("table")}
      />
    </StoreForm>
  );
}

/** An oval pond, a tank dashed under ground. */
function outline(c: Canvas, { form }: Storage) {
  if (form === "tank") return [...box(c), 4, 2];
  c.ellipse(0, 0, 19, 13, 0, 0, 2 * Math.PI);
  return [];
}

export const KIND: NodeKind<Storage> = {
  kind: "storage",
  order: 5,
  draws: [
    { drawn: "pond", label: "Pond, by areas" },
    { drawn: "tank", label: "Tank" },
  ],
  label: ({ form }) => (form === "pond" ? "Pond" : "Tank"),
  radius: 15,
  outline,
  Form,
};

import type { Edit, Network } from "../document/types";
import { type Column, cellChange, type Table } from "./columns";

/** A row that a paste would add: the edit that draws it, or why there is none. */
export type NewRow = { name: string; edit: Edit | null; wrong: string };

type Fields = Record<string, unknown>;
/** What is known of an element before its cells are read, and the edit that draws it with what they say. */
type Base = { element: Fields; draw: (fields: Fields) => Edit };

const at = (drawn: "manhole" | "pond" | "outfall") => (): Base => ({
  element: { kind: drawn === "pond" ? "storage" : drawn },
  draw: ({ x = 0, y = 0, ...fields }) => ({ edit: "draw node", drawn, x: Number(x), y: Number(y), fields }),
});

const BASES: Record<string, (network: Network, cells: Map<string, string>) => Base | string> = {
  shafts: at("manhole"),
  stores: at("pond"),
  outfalls: at("outfall"),
  areas: () => ({
    element: {},
    draw: ({ area = 100, ...fields }) => ({ edit: "draw catchment", area: Number(area), fields }),
  }),
  pipes: (network, cells) => {
    const ends: string[] = [];
    for (const end of ["upstream", "downstream"]) {
      const name = cells.get(end) ?? "";
      const named = Object.entries(network.nodes).filter(([, node]) => node.name === name);
      if (named.length !== 1) return `“${name}” names ${named.length ? "several nodes" : "no node"}`;
      ends.push(named[0]?.[0] ?? "");
    }
    const [upstream = "", downstream = ""] = ends;
    if (upstream === downstream) return "both ends are the same node";
    return {
      element: { kind: "pipe", upstream, downstream, section: { shape: "circular" } },
      draw: (fields) => ({ edit: "draw link", drawn: "pipe", upstream, downstream, fields }),
    };
  },
};

/** Rows from lines of cells pasted below a table's last one; columns from the one that the paste begins at. */
export function newRows(network: Network, table: Table, columns: Column[], lines: string[][]): NewRow[] {
  return lines.map((line) => {
    const cells = new Map(columns.map((column, j) => [column.key, (line[j] ?? "").trim()]));
    const name = cells.get("name") ?? "";
    const refuse = (wrong: string): NewRow => ({ name, edit: null, wrong });
    const base = BASES[table.key]?.(network, cells);
    if (!base) return refuse(`rows of ${table.label.toLowerCase()} are drawn on the plan`);
    if (typeof base === "string") return refuse(base);
    if (!name) return refuse("a new row needs a name");
    const element: Fields = { ...base.element, name };
    const fields: Fields = { name };
    for (const column of columns) {
      const text = cells.get(column.key) ?? "";
      const path = column.path?.(element);
      if (column.key === "kind" && text !== "" && !table.kinds.slice(0, 1).includes(text.toLowerCase()))
        return refuse(
          `a new row is a ${table.kinds[0]}, not “${text}”; paste it with its headings, or draw it on the plan`,
        );
      if (text === "" || !path || typeof base.element[column.key] === "string") continue; // the ends are known
      if (column.stored && typeof column.ground?.(element, network) !== "number")
        return refuse(`${column.label.toLowerCase()}: the ground is not known; paste its level too`);
      const change = cellChange(table, column, { id: "", element }, network, "", text);
      if (typeof change === "string") return refuse(change);
      if (!change) continue;
      fields[path.slice(1)] = change.value;
      element[column.key] = change.value;
    }
    return { name, edit: base.draw(fields), wrong: "" };
  });
}

import { makeLink, makeNode } from "./elements";
import { type Column, cellChange, type Table } from "./tables";
import type { Network } from "./types";

/** A row that a paste would add: the element that it makes, or why it makes none. */
export type NewRow = { id: string; name: string; value: Record<string, unknown> | null; wrong: string };

const BASES: Record<string, (network: Network, cells: Map<string, string>) => object | string> = {
  shafts: (network) => makeNode(network, "manhole", 0, 0),
  stores: (network) => makeNode(network, "pond", 0, 0),
  outfalls: (network) => makeNode(network, "outfall", 0, 0),
  areas: () => ({
    area: 100,
    impervious: 1,
    node: null,
    time_of_entry: null,
    timing: null,
    over: null,
    creep: null,
    polygon: [],
  }),
  pipes: (network, cells) => {
    const ends: string[] = [];
    for (const end of ["upstream", "downstream"]) {
      const name = cells.get(end) ?? "";
      const named = Object.entries(network.nodes).filter(([, node]) => node.name === name);
      if (named.length !== 1) return `“${name}” names ${named.length ? "several nodes" : "no node"}`;
      ends.push(named[0]?.[0] ?? "");
    }
    if (ends[0] === ends[1]) return "both ends are the same node";
    return makeLink(network, "pipe", ends[0] ?? "", ends[1] ?? "");
  },
};

/** Sets a field that may lie inside another one, such as /section/diameter. */
function set(element: Record<string, unknown>, path: string, value: unknown) {
  const [, first = "", second] = path.split("/");
  element[first] = second ? { ...(element[first] as object), [second]: value } : value;
}

/** Elements from lines of cells pasted below a table's last row; columns from the one that the paste begins at. */
export function newRows(
  network: Network,
  table: Table,
  columns: Column[],
  lines: string[][],
  makeId: () => string = () => crypto.randomUUID(),
): NewRow[] {
  return lines.map((line) => {
    const cells = new Map(columns.map((column, j) => [column.key, (line[j] ?? "").trim()]));
    const name = cells.get("name") ?? "";
    const id = makeId();
    const refuse = (wrong: string): NewRow => ({ id, name, value: null, wrong });
    const base = BASES[table.key]?.(network, cells);
    if (!base) return refuse(`rows of ${table.label.toLowerCase()} are drawn on the plan`);
    if (typeof base === "string") return refuse(base);
    if (!name) return refuse("a new row needs a name");
    const element = { ...base, name } as Record<string, unknown>;
    for (const column of columns) {
      const text = cells.get(column.key) ?? "";
      if (text === "" || !column.path?.(element)) continue;
      const change = cellChange(table, column, { id, element }, network, "", text);
      if (typeof change === "string") return refuse(change);
      if (change) set(element, change.path.slice(`/${table.group}/${id}`.length), change.value);
    }
    return { id, name, value: element, wrong: "" };
  });
}

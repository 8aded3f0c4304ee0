import { read } from "../document/numbers";
import type { Change } from "../document/store";
import { type Conduit, type Network, topOf } from "../document/types";
import { type Quantity, show, unitOf } from "../document/units";
import { CONTROL_KINDS, controlKind, levelOf } from "../kinds";

type Group = "nodes" | "links" | "catchments";
// biome-ignore lint/suspicious/noExplicitAny: a column reads the fields that its own kinds of element have
type Element = any;

/** One column: what it shows of an element, and which of its fields it writes. */
export type Column = {
  key: string;
  label: string;
  quantity?: Quantity;
  /** Path of the field below the element; none where it is derived, or where this element has no such field. */
  path?: (element: Element) => string | null;
  value: (element: Element, network: Network) => number | string | null;
  /** What is kept for a typed number, where that is not the number itself. */
  stored?: (typed: number, element: Element, network: Network) => number;
  /** Cells that name a node. */
  node?: boolean;
  /** Of levels: the level of the ground above, from which a depth counts. */
  ground?: (element: Element, network: Network) => number | null;
  /** Belongs to one element only: never set for several at once. */
  own?: boolean;
  /** May be left empty: then the project's own value counts. */
  optional?: boolean;
};

export type Table = {
  key: string;
  label: string;
  group: Group;
  /** Of its elements; that of a new row first. */
  kinds: readonly string[];
  columns: Column[];
};

const field = (key: string, label: string, quantity?: Quantity, more: Partial<Column> = {}): Column => ({
  key,
  label,
  quantity,
  path: () => `/${key}`,
  value: (element) => element[key] ?? null,
  ...more,
});
const nodeField = (key: string, label: string, more: Partial<Column>) =>
  field(key, label, undefined, {
    ...more,
    node: true,
    value: (element, network) => network.nodes[element[key]]?.name ?? null,
  });
const level = (key: string, label: string, ground: Column["ground"]) => field(key, label, "level", { ground });
const overNode = (node: Element) => topOf(node);
const overEnd = (end: "upstream" | "downstream") => (link: Element, network: Network) => {
  const node = network.nodes[link[end]];
  return node ? topOf(node) : null;
};
const NAME = field("name", "Name", undefined, { own: true });
const PLACE = [field("x", "East", "length", { own: true }), field("y", "North", "length", { own: true })];
const KIND: Column = { key: "kind", label: "Kind", value: (element) => element.form ?? element.kind };
const round = (section: Element) => section?.shape === "circular";

const SLOPE: Column = {
  key: "slope",
  label: "Slope",
  quantity: "slope",
  value: (link: Conduit) => {
    const fall = link.upstream_invert - link.downstream_invert;
    return fall === 0 ? null : link.length / fall;
  },
};

export const TABLES: Table[] = [
  {
    key: "shafts",
    label: "Manholes",
    group: "nodes",
    kinds: ["manhole", "junction", "inlet"],
    columns: [
      NAME,
      KIND,
      ...PLACE,
      field("cover", "Cover", "level"),
      level("invert", "Invert", overNode),
      field("ponded_area", "Ponded area", "area"),
      { key: "depth", label: "Depth", quantity: "length", value: (node) => topOf(node) - node.invert },
    ],
  },
  {
    key: "pipes",
    label: "Pipes",
    group: "links",
    kinds: ["pipe"],
    columns: [
      NAME,
      nodeField("upstream", "From", { own: true }),
      nodeField("downstream", "To", { own: true }),
      field("length", "Length", "length"),
      {
        key: "section",
        label: "Diameter",
        quantity: "diameter",
        path: (pipe) => (round(pipe.section) ? "/section/diameter" : null),
        value: (pipe) => (round(pipe.section) ? pipe.section.diameter : pipe.section.shape),
      },
      level("upstream_invert", "Invert up", overEnd("upstream")),
      level("downstream_invert", "Invert down", overEnd("downstream")),
      field("roughness", "Roughness", "roughness"),
      SLOPE,
      { key: "full", label: "Full-bore", quantity: "flow", value: (pipe) => pipe.full_bore ?? null },
    ],
  },
  {
    key: "open",
    label: "Channels",
    group: "links",
    kinds: ["channel", "trench"],
    columns: [
      NAME,
      KIND,
      nodeField("upstream", "From", { own: true }),
      nodeField("downstream", "To", { own: true }),
      field("length", "Length", "length"),
      level("upstream_invert", "Bed up", overEnd("upstream")),
      level("downstream_invert", "Bed down", overEnd("downstream")),
      field("roughness", "Roughness", "roughness"),
      SLOPE,
    ],
  },
  {
    key: "areas",
    label: "Areas",
    group: "catchments",
    kinds: ["catchment"],
    columns: [
      NAME,
      field("area", "Area", "area"),
      field("impervious", "Paved", "share"),
      nodeField("node", "Drains to", { optional: true }),
      field("time_of_entry", "Time of entry", "minutes", { optional: true }),
    ],
  },
  {
    key: "stores",
    label: "Storage",
    group: "nodes",
    kinds: ["storage", "basin", "stone"],
    columns: [
      NAME,
      KIND,
      ...PLACE,
      field("cover", "Bank or cover", "level"),
      level("invert", "Invert", overNode),
      field("initial_depth", "Permanent water", "length"),
    ],
  },
  {
    key: "controls",
    label: "Controls",
    group: "links",
    kinds: Object.keys(CONTROL_KINDS),
    columns: [
      NAME,
      KIND,
      nodeField("upstream", "From", { own: true }),
      nodeField("downstream", "To", { own: true }),
      {
        key: "level",
        label: "Level",
        quantity: "level",
        path: (link) => {
          const { level } = controlKind(link);
          return level && `/${level}`;
        },
        value: (link) => levelOf(link),
        ground: overEnd("upstream"),
      },
    ],
  },
  {
    key: "outfalls",
    label: "Outfalls",
    group: "nodes",
    kinds: ["outfall"],
    columns: [
      NAME,
      ...PLACE,
      field("invert", "Invert", "level"),
      field("ground", "Ground", "level", { optional: true }),
    ],
  },
];

/** A table whose levels read, and are typed, as depths below the ground. */
export const asDepths = (table: Table): Table => ({
  ...table,
  columns: table.columns.map((column) => {
    const { ground } = column;
    if (!ground) return column;
    return {
      ...column,
      label: `${column.label}, below ground`,
      value: (element, network) => {
        const [at, top] = [column.value(element, network), ground(element, network)];
        return typeof at === "number" && top !== null ? Number((top - at).toFixed(6)) : null;
      },
      stored: (typed, element, network) => Number(((ground(element, network) ?? 0) - typed).toFixed(6)),
    };
  }),
});

/** Whether an element is one of a table's. */
export const holds = (table: Table, element: Element) => table.kinds.includes(element.kind ?? "catchment");

export type Row = { id: string; element: Element };

/** Rows of a table. fullBore: capacities of pipes as the server works them out, m³/s by id. */
export const rowsOf = (network: Network, table: Table, fullBore: Record<string, number | null> = {}): Row[] =>
  Object.entries(network[table.group])
    .filter(([, element]) => holds(table, element))
    .map(([id, element]) => ({ id, element: id in fullBore ? { ...element, full_bore: fullBore[id] } : element }));

/** Heading of a column: its unit, as its cells are read and typed. */
export const unitOfColumn = (column: Column) =>
  column.quantity === "slope" ? "1 in" : column.quantity ? unitOf(column.quantity) : "";

export function cellText(column: Column, row: Row, network: Network): string {
  const value = column.value(row.element, network);
  if (value === null) return "";
  return typeof value === "number" && column.quantity ? show(value, column.quantity) : String(value);
}

/** The edit that a text typed or pasted into a cell stands for, null where it changes nothing, or what is wrong. */
export function cellChange(
  table: Table,
  column: Column,
  row: Row,
  network: Network,
  optionPath: string,
  text: string,
): Change | string | null {
  const path = column.path?.(row.element);
  const typed = text.trim();
  if (typed === cellText(column, row, network)) return null;
  if (!path) return `${column.label.toLowerCase()} follows from other fields`;
  const at = `${optionPath}/${table.group}/${row.id}${path}`;
  if (typed === "" && column.optional) return { op: "replace", path: at, value: null };
  if (column.node) {
    const named = Object.entries(network.nodes).filter(([, node]) => node.name === typed);
    if (named.length !== 1) return `“${typed}” names ${named.length ? "several nodes" : "no node"}`;
    return { op: "replace", path: at, value: named[0]?.[0] };
  }
  if (!column.quantity) return typed === "" ? "a name is needed" : { op: "replace", path: at, value: typed };
  const found = read(typed, column.quantity);
  if ("wrong" in found) return found.wrong;
  return { op: "replace", path: at, value: column.stored?.(found.value, row.element, network) ?? found.value };
}

/** Rows in the order of a column, numbers by size; texts so that M2 comes before M10. */
export function inOrder(rows: Row[], column: Column, network: Network, rising: boolean): Row[] {
  const sign = rising ? 1 : -1;
  const collate = new Intl.Collator("en", { numeric: true });
  return [...rows].sort((a, b) => {
    const [p, q] = [column.value(a.element, network), column.value(b.element, network)];
    if (typeof p === "number" && typeof q === "number") return sign * (p - q);
    return sign * collate.compare(String(p ?? ""), String(q ?? ""));
  });
}

import { numberIn } from "../document/numbers";
import type { Network } from "../document/types";
import { cellText, rowsOf, TABLES } from "./columns";

export const RELATIONS = ["<", "≤", "=", "≥", ">", "contains"] as const;
/** A question of one kind of element; the value is typed as its column is read, with or without a unit. */
export type Query = { table: string; column: string; relation: (typeof RELATIONS)[number]; value: string };

const HOLDS: Record<Exclude<Query["relation"], "contains">, (a: number, b: number) => boolean> = {
  "<": (a, b) => a < b - 1e-9,
  "≤": (a, b) => a <= b + 1e-9,
  "=": (a, b) => Math.abs(a - b) <= 1e-9 + 1e-6 * Math.abs(b),
  "≥": (a, b) => a >= b - 1e-9,
  ">": (a, b) => a > b + 1e-9,
};

/** Ids of the elements that a query holds of; of none while there is nothing to compare with. */
export function matching(network: Network, query: Query, fullBore: Record<string, number | null> = {}): string[] {
  const table = TABLES.find((t) => t.key === query.table);
  const column = table?.columns.find((c) => c.key === query.column);
  const wanted = query.value.trim();
  if (!table || !column || wanted === "") return [];
  const typed = column.quantity ? numberIn(wanted, column.quantity) : null;
  return rowsOf(network, table, fullBore)
    .filter((row) => {
      const value = column.value(row.element, network);
      if (query.relation === "contains")
        return cellText(column, row, network).toLowerCase().includes(wanted.toLowerCase());
      if (typeof value === "number" && typed !== null) return HOLDS[query.relation](value, typed);
      return query.relation === "=" && String(value ?? "").toLowerCase() === wanted.toLowerCase();
    })
    .map((row) => row.id);
}

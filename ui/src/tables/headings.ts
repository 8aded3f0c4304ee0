/** A row of headings over pasted rows: whether there is one, and what it is the heading of. */
import { readNumber } from "../document/pastedBlock";
import type { Network } from "../document/types";
import type { Row, Table } from "./columns";

const is = (heading: string, label: string) => heading.toLowerCase().startsWith(label.toLowerCase());

/**
 * Whether the first row of a block is of headings: one of them is a column's, or words stand over columns of numbers.
 * A row that names an element is none.
 */
export function headed(block: string[][], table: Table, network: Network): boolean {
  const [first = [], ...rest] = block;
  if (rest.length === 0 || first.some((cell) => readNumber(cell) !== null)) return false;
  const names = new Set(
    Object.values({ ...network.nodes, ...network.links, ...network.catchments }).map((e) => e.name),
  );
  if (first.some((cell) => names.has(cell))) return false;
  if (first.some((cell) => table.columns.some(({ label }) => is(cell, label)))) return true;
  const numeric = (j: number) => 2 * rest.filter((row) => readNumber(row[j] ?? "") !== null).length > rest.length;
  return first.length > 1 && first.some((cell, j) => cell !== "" && numeric(j));
}

/** Whether the headings are those of the columns from one on, in their order, and no row is told by its name. */
export const inPlace = (headings: string[], columns: Table["columns"]) =>
  headings.every((text, j) => {
    const column = columns[j];
    return column !== undefined && column.key !== "name" && is(text, column.label);
  });

/**
 * The text of a block for whoever reads it by its headings. Where these are all the table's own and none is the name,
 * the rows belong to those of the table from one on.
 */
export function byHeadings(block: string[][], table: Table, rows: Row[]): string {
  const [first = [], ...rest] = block;
  const columns = first.map((text) => table.columns.find(({ label }) => is(text, label)));
  const nameless = columns.every((column) => column !== undefined && column.key !== "name");
  const lines = nameless ? [["id", ...first], ...rest.map((line, i) => [rows[i]?.id ?? "", ...line])] : block;
  return lines.map((line) => line.join("\t")).join("\n");
}

/** A block from a spreadsheet as rows of a short table. */

import { read } from "./numbers";
import { readNumber } from "./pastedBlock";
import type { Quantity } from "./units";

type Column<K extends string> = { key: K; label: string; quantity: Quantity };
type Row<K extends string> = Record<K, number>;

/**
 * The rows, or what is wrong with the block. Headings say which column is which, where they name all of them; else the
 * columns stand as they are shown, or the other way round where only that passes the check.
 */
export function pasted<K extends string>(
  block: string[][],
  columns: Column<K>[],
  check?: (rows: Row<K>[]) => string | null,
): Row<K>[] | string {
  const heading = block[0]?.some((cell) => readNumber(cell) === null) ? 1 : 0;
  const heads = heading ? (block[0] ?? []).map((cell) => cell.trim().toLowerCase()) : [];
  const named = columns.map(({ label }) =>
    heads.findIndex((head) => label !== "" && head.startsWith(label.toLowerCase())),
  );
  const asShown = columns.map((_, j) => j);
  const known = named.every((place) => place >= 0) && new Set(named).size === named.length;
  const orders = known ? [named] : check ? [asShown, [...asShown].reverse()] : [asShown];
  const tried = orders.map((order) => take(block, columns, order, heading));
  const fits = tried.find((rows) => typeof rows !== "string" && !check?.(rows));
  return fits ?? tried[0] ?? "nothing is there";
}

function take<K extends string>(
  block: string[][],
  columns: Column<K>[],
  order: number[],
  heading: number,
): Row<K>[] | string {
  const rows: Row<K>[] = [];
  for (const [i, line] of block.entries()) {
    if (i < heading) continue;
    const row = {} as Row<K>;
    for (const [j, column] of columns.entries()) {
      const place = order[j] ?? j;
      const found = read(line[place] ?? "", column.quantity);
      if ("wrong" in found) return `row ${i + 1}, column ${place + 1}: ${found.wrong}`;
      row[column.key] = found.value;
    }
    rows.push(row);
  }
  return rows;
}

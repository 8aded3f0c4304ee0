import { type ClipboardEvent, useState } from "react";
import { readBlock } from "../document/pastedBlock";
import { pasted } from "../document/rows";
import { type Quantity, unitOf } from "../document/units";
import { NumberField } from "./NumberField";

/** trend: a further row goes on by the step of the last two, and not from the same value. */
export type Column<K extends string> = { key: K; label: string; quantity: Quantity; trend?: true };
type Row<K extends string> = Record<K, number>;

/**
 * A short table of numbers: every cell edits, a block pasted from a spreadsheet replaces it, its columns in whichever
 * order their headings or `check` tell; rows come and go. What `check` finds wrong stays here, marked, and is committed
 * as a whole once it is mended.
 */
export function Rows<K extends string>({
  title,
  columns,
  rows: kept,
  commit,
  check,
}: {
  title: string;
  columns: Column<K>[];
  rows: Row<K>[];
  commit: (rows: Row<K>[]) => unknown;
  /** What is wrong with the rows as a whole, by row and remedy. */
  check?: (rows: Row<K>[]) => string | null;
}) {
  const [wrong, setWrong] = useState<string | null>(null);
  const [draft, setDraft] = useState<Row<K>[] | null>(null);
  const rows = draft ?? kept;
  const put = (next: Row<K>[]) => {
    const why = check?.(next) ?? null;
    setDraft(why ? next : null);
    setWrong(why);
    if (!why) commit(next);
  };
  const paste = (event: ClipboardEvent) => {
    const block = readBlock(event.clipboardData.getData("text"));
    if (block.length < 2 || (block[0]?.length ?? 0) < columns.length) return; // one value goes into its cell
    event.preventDefault();
    const found = pasted(block, columns, check);
    if (typeof found === "string") setWrong(`${found}; nothing was pasted`);
    else put(found);
  };
  const last = rows[rows.length - 1];
  const further = () => {
    const next = { ...last } as Row<K>;
    const before = rows[rows.length - 2];
    for (const [j, { key, trend }] of columns.entries()) {
      if (!last || !(j === 0 || trend)) continue;
      const on = last[key] + (before ? last[key] - before[key] : 1);
      next[key] = on < 0 && last[key] >= 0 ? last[key] / 2 : on;
    }
    put([...rows, next]);
  };
  return (
    <div onPaste={paste} data-testid={`rows-${title}`}>
      <table className="mt-1 w-full">
        <caption className="text-left">
          {title} <span className="text-[11px] text-ink3">paste a block to replace it</span>
        </caption>
        <thead>
          <tr className="text-[11px] text-ink3">
            {columns.map((column) => (
              <th key={column.key} className="text-right font-normal">
                {column.label} {unitOf(column.quantity)}
              </th>
            ))}
            <th className="w-4" />
          </tr>
        </thead>
        <tbody>
          {rows.map((row, i) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: rows have no other identity
            <tr key={i} className="border-b border-rule">
              {columns.map((column) => (
                <td key={column.key} className="text-right">
                  <NumberField
                    bare
                    label={`${title}, row ${i + 1}, ${column.label}`}
                    value={row[column.key]}
                    quantity={column.quantity}
                    commit={(value) => put(rows.map((r, k) => (k === i ? { ...r, [column.key]: value } : r)))}
                  />
                </td>
              ))}
              <td>
                <button
                  type="button"
                  aria-label={`remove row ${i + 1} of ${title}`}
                  className="px-1 text-ink3"
                  onClick={() => put(rows.filter((_, k) => k !== i))}
                >
                  ×
                </button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <button type="button" className="textlink text-[11px]" onClick={further}>
        add a row
      </button>
      {wrong && (
        <p role="alert" className="text-[11px] text-madder">
          {wrong}{" "}
          {draft && (
            <button
              type="button"
              className="textlink"
              onClick={() => {
                setDraft(null);
                setWrong(null);
              }}
            >
              drop these rows
            </button>
          )}
        </p>
      )}
    </div>
  );
}

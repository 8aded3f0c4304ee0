import { type ClipboardEvent, useState } from "react";
import { readBlock, readNumber } from "../document/block";
import { read } from "../document/typed";
import { type Quantity, unitOf } from "../document/units";
import { NumberField } from "./NumberField";

export type Column<K extends string> = { key: K; label: string; quantity: Quantity };
type Row<K extends string> = Record<K, number>;

/** A short table of numbers: every cell edits, a block pasted from a spreadsheet replaces it, rows come and go. */
export function Rows<K extends string>({
  title,
  columns,
  rows,
  commit,
}: {
  title: string;
  columns: Column<K>[];
  rows: Row<K>[];
  commit: (rows: Row<K>[]) => void;
}) {
  const [wrong, setWrong] = useState<string | null>(null);
  const paste = (event: ClipboardEvent) => {
    const block = readBlock(event.clipboardData.getData("text"));
    if (block.length < 2 || (block[0]?.length ?? 0) < columns.length) return; // one value goes into its cell
    event.preventDefault();
    const heading = block[0]?.some((cell) => readNumber(cell) === null) ? 1 : 0;
    const taken: Row<K>[] = [];
    for (const [i, line] of block.entries()) {
      if (i < heading) continue;
      const row = {} as Row<K>;
      for (const [j, column] of columns.entries()) {
        const found = read(line[j] ?? "", column.quantity);
        if ("wrong" in found) {
          setWrong(`row ${i + 1}, column ${j + 1}: ${found.wrong}; nothing was pasted`);
          return;
        }
        row[column.key] = found.value;
      }
      taken.push(row);
    }
    setWrong(null);
    commit(taken);
  };
  const last = rows[rows.length - 1];
  const further = () => {
    const next = { ...last } as Row<K>;
    const lead = columns[0]?.key;
    const before = rows[rows.length - 2];
    if (lead && last) next[lead] = last[lead] + (before ? last[lead] - before[lead] : 1);
    commit([...rows, next]);
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
                    commit={(value) => commit(rows.map((r, k) => (k === i ? { ...r, [column.key]: value } : r)))}
                  />
                </td>
              ))}
              <td>
                <button
                  type="button"
                  aria-label={`remove row ${i + 1} of ${title}`}
                  className="px-1 text-ink3"
                  onClick={() => commit(rows.filter((_, k) => k !== i))}
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
          {wrong}
        </p>
      )}
    </div>
  );
}

import type { ClipboardEvent } from "react";
import { numberIn } from "../../document/numbers";
import { readBlock } from "../../document/pastedBlock";
import { useProject } from "../../document/store";
import type { Rainfall } from "../../document/types";
import { unitOf } from "../../document/units";
import { NumberField } from "../../primitives/NumberField";
import { Source } from "./Source";

type Table = Extract<Rainfall, { kind: "table" }>;

/** Depths by duration and return period: every cell edits, a block pasted into one fills those right of it and under it. */
export function DepthTable({ table, path }: { table: Table; path: string }) {
  const { answer, edit } = useProject();
  const paste = (i: number, j: number) => (event: ClipboardEvent) => {
    const block = readBlock(event.clipboardData.getData("text/plain"));
    if (block.length === 1 && block[0]?.length === 1) return;
    event.preventDefault();
    const depths = table.depths.map((row) => [...row]);
    for (const [di, cells] of block.entries())
      for (const [dj, cell] of cells.entries()) {
        const [row, value] = [depths[i + di], numberIn(cell, "rain")];
        if (!row || j + dj >= row.length || value === null) {
          useProject.setState({
            notice: `the pasted block does not fit: “${cell}” would go to row ${i + di + 1}, column ${j + dj + 1}; nothing was changed`,
          });
          return;
        }
        row[j + dj] = value;
      }
    void edit([{ op: "replace", path: `${path}/depths`, value: depths }]);
  };
  return (
    <>
      <table className="mt-2 w-full text-right" aria-label={`Rainfall depths in ${unitOf("rain")}`}>
        <thead>
          <tr className="border-b border-ink">
            <th className="whitespace-nowrap py-1 text-left font-semibold">yr \ min</th>
            {table.durations.map((d) => (
              <th key={d} className="font-semibold">
                {d}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {table.return_periods.map((t, i) => (
            <tr key={t} className="border-b border-rule">
              <th className="whitespace-nowrap py-[2px] text-left font-semibold">
                {answer?.storms.some((s) => s.return_period === t) ? "● " : ""}
                {t}
              </th>
              {table.depths[i]?.map((depth, j) => (
                <td key={table.durations[j]} onPaste={paste(i, j)}>
                  <NumberField
                    bare
                    label={`${t} yr, ${table.durations[j]} min`}
                    value={depth}
                    quantity="rain"
                    commit={(value) => void edit([{ op: "replace", path: `${path}/depths/${i}/${j}`, value }])}
                    testId={`depth-${t}-${table.durations[j]}`}
                  />
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      <div className="max-w-[520px]">
        <Source
          value={table.source}
          keep={(source) => void edit([{ op: "add", path: `${path}/source`, value: source }])}
        />
      </div>
      <p className="pt-1 text-[11px] text-ink3">
        {unitOf("rain")}; dot: used by a storm. Between rows: linear in log depth over log duration and log return
        period. A block from a spreadsheet may be pasted into any cell.
      </p>
    </>
  );
}

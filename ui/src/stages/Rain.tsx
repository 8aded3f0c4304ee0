import { type ClipboardEvent, useState } from "react";
import { readBlock, readDepthTable } from "../document/block";
import { type Change, useProject } from "../document/store";
import type { Rainfall } from "../document/types";
import { parse, unitOf } from "../document/units";
import { useWidth } from "../instrument/useWidth";
import { NumberField } from "../primitives/NumberField";
import { EnsembleFields } from "./EnsembleFields";
import { FormulaForm, OtherRain, RatioForm } from "./RainfallForms";
import { StormRain } from "./StormRain";

type DepthTable = Extract<Rainfall, { kind: "table" }>;

/** The region's rain as curves and table, the ensemble taken from it, and what of it runs off. */
export function Rain() {
  const { project, answer } = useProject();
  const [ref, width, height] = useWidth<HTMLDivElement>();
  const rainfall = project?.rain.rainfall;
  return (
    <div className="flex min-w-0 flex-1" data-testid="rain">
      <div className="flex min-w-0 flex-1 flex-col overflow-auto p-3">
        <p className="flex gap-3 pb-1">
          <b className="text-[15px] font-semibold">Depth, duration, return period</b>
          <span className="text-ink2">
            {project?.rain.place ?? "no place named"}; {answer?.storms.length ?? 0} storms
          </span>
        </p>
        {rainfall?.kind === "table" && (
          <>
            <div className="flex min-h-[190px] flex-1 gap-4">
              <div ref={ref} className="min-w-0 flex-[3]">
                {width > 0 && <Curves width={width} height={height} table={rainfall} />}
              </div>
              <div className="flex min-w-0 flex-[2] flex-col [&>section]:flex-1">
                <StormRain />
              </div>
            </div>
            <Table table={rainfall} />
          </>
        )}
        {rainfall?.kind === "formula" && <FormulaForm formula={rainfall} />}
        {rainfall?.kind === "ratio" && <RatioForm ratio={rainfall} />}
        {rainfall && rainfall.kind !== "table" && <StormRain />}
        <PasteTable fresh={!rainfall} />
        <OtherRain rainfall={rainfall ?? null} />
      </div>
      <EnsembleFields />
    </div>
  );
}

function Table({ table }: { table: DepthTable }) {
  const { answer, edit } = useProject();
  const path = "/rain/rainfall";
  const commit = (changes: Change[]) => void edit(changes);
  /** A block that is pasted into a cell fills the cells right of it and under it. */
  const paste = (i: number, j: number) => (event: ClipboardEvent) => {
    const block = readBlock(event.clipboardData.getData("text/plain"));
    if (block.length === 1 && block[0]?.length === 1) return;
    event.preventDefault();
    const depths = table.depths.map((row) => [...row]);
    for (const [di, cells] of block.entries())
      for (const [dj, cell] of cells.entries()) {
        const [row, value] = [depths[i + di], parse(cell.replace(/[\s\u00a0]/g, ""), "rain")];
        if (!row || j + dj >= row.length || value === null) {
          useProject.setState({
            notice: `the pasted block does not fit: “${cell}” would go to row ${i + di + 1}, column ${j + dj + 1}; nothing was changed`,
          });
          return;
        }
        row[j + dj] = value;
      }
    commit([{ op: "replace", path: `${path}/depths`, value: depths }]);
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
                    commit={(value) => commit([{ op: "replace", path: `${path}/depths/${i}/${j}`, value }])}
                    testId={`depth-${t}-${table.durations[j]}`}
                  />
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      <p className="pt-1 text-[11px] text-ink3">
        {unitOf("rain")}; dot: used by a storm. Source: {table.source || "not stated"}. Between rows: linear in log
        depth over log duration and log return period. A block from a spreadsheet may be pasted into any cell.
      </p>
    </>
  );
}

/** A pasted table is in the unit that depths are read in. */
const inMillimetres = (found: ReturnType<typeof readDepthTable>) =>
  typeof found === "string"
    ? found
    : { ...found, depths: found.depths.map((row) => row.map((d) => parse(String(d), "rain") ?? d)) };

/** A whole table from a spreadsheet, headings and all: how a new place begins. */
function PasteTable({ fresh }: { fresh: boolean }) {
  const edit = useProject((s) => s.edit);
  const [asked, setOpen] = useState(false);
  const open = asked || fresh;
  const [text, setText] = useState("");
  const found = text.trim() ? inMillimetres(readDepthTable(text)) : null;
  if (!open)
    return (
      <button
        type="button"
        className="textlink mt-1 self-start"
        onClick={() => setOpen(true)}
        data-testid="other-table"
      >
        another table
      </button>
    );
  return (
    <div className="mt-2 border-t border-rule pt-2">
      <label className="block">
        <b className="font-semibold">Paste a depth table:</b> first row durations in min, first column return periods in
        years, depths in {unitOf("rain")}
        <textarea
          className="figure mt-1 block h-24 w-full bg-hi p-1"
          value={text}
          onChange={(event) => setText(event.target.value)}
          data-testid="table-text"
        />
      </label>
      <p className="flex items-center gap-3 pt-1">
        <span className={typeof found === "string" ? "text-madder" : "text-ink3"} data-testid="table-found">
          {found === null
            ? "nothing pasted yet"
            : typeof found === "string"
              ? found
              : `${found.return_periods.length} return periods, ${found.durations.length} durations`}
        </span>
        <button
          type="button"
          className="ml-auto h-6 bg-ink px-4 font-semibold text-hi"
          disabled={found === null || typeof found === "string"}
          onClick={() => {
            if (found === null || typeof found === "string") return;
            void edit([
              { op: "replace", path: "/rain/rainfall", value: { kind: "table", ...found, source: "pasted" } },
            ]).then(() => {
              setText("");
              setOpen(false);
            });
          }}
          data-testid="use-table"
        >
          Use this table
        </button>
        {!fresh && (
          <button type="button" className="textlink" onClick={() => setOpen(false)}>
            keep the old one
          </button>
        )}
      </p>
    </div>
  );
}

function Curves({
  width,
  height,
  table,
}: {
  width: number;
  height: number;
  table: { durations: number[]; return_periods: number[]; depths: number[][] };
}) {
  const { answer } = useProject();
  const flat = table.depths.flat();
  const storms = answer?.storms ?? [];
  const top = Math.max(...flat, ...storms.map((s) => s.depth)) * 1.15;
  const low = Math.min(...flat) * 0.85;
  const [first, last] = [table.durations[0] ?? 1, table.durations[table.durations.length - 1] ?? 1];
  const x = (d: number) => 40 + (Math.log(d / first) / Math.log(last / first)) * (width - 120);
  const y = (mm: number) => 8 + (1 - Math.log(mm / low) / Math.log(top / low)) * (height - 30);
  const marks = [0.2, 0.5, 1, 2, 5, 10, 20, 50, 100, 200]
    .map((shown) => ({ shown, mm: parse(String(shown), "rain") ?? shown }))
    .filter(({ mm }) => mm > low && mm < top);
  const uplifted = storms.filter((s) => s.allowance > 0 && s.season === storms[0]?.season);
  return (
    <svg width={width} height={height} role="img" aria-label="Depth by duration and return period">
      {marks.map(({ shown, mm }) => (
        <g key={shown}>
          <line x1={40} x2={width - 80} y1={y(mm)} y2={y(mm)} stroke="var(--color-rule)" />
          <text x={34} y={y(mm) + 4} fontSize={10.5} textAnchor="end" className="figure">
            {shown}
          </text>
        </g>
      ))}
      {table.durations.map((d) => (
        <text key={d} x={x(d)} y={height - 6} fontSize={10.5} textAnchor="middle">
          {d}
        </text>
      ))}
      {table.depths.map((row, i) => {
        const used = storms.some((s) => s.return_period === table.return_periods[i]);
        return (
          <g key={table.return_periods[i]}>
            <polyline
              points={row.map((mm, j) => `${x(table.durations[j] ?? 1)},${y(mm)}`).join(" ")}
              fill="none"
              stroke="var(--color-water4)"
              strokeWidth={used ? 1.8 : 1}
              strokeDasharray={used ? "" : "4 3"}
            />
            <text x={width - 74} y={y(row[row.length - 1] ?? 1) + 4} fontSize={11} fontWeight={used ? 600 : 400}>
              {table.return_periods[i]} yr
            </text>
          </g>
        );
      })}
      {uplifted.length > 1 && (
        <>
          <polyline
            points={uplifted.map((s) => `${x(s.duration)},${y(s.depth)}`).join(" ")}
            fill="none"
            stroke="var(--color-ink)"
            strokeDasharray="6 3"
            strokeWidth={1.6}
          />
          <text x={width - 74} y={y(uplifted[uplifted.length - 1]?.depth ?? 1) + 4} fontSize={11} fontWeight={600}>
            {uplifted[0]?.return_period} +{Math.round((uplifted[0]?.allowance ?? 0) * 100)} %
          </text>
        </>
      )}
    </svg>
  );
}

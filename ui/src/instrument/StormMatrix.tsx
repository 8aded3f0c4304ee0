import type { StormInfo } from "../api/client";
import { useProject } from "../document/store";
import { showMargin } from "../document/units";
import { toneOf } from "./tone";

/** Rows (rarities), columns (durations) and seasons of an ensemble; given storms lie outside it. */
export function layout(storms: StormInfo[]) {
  const made = storms.filter((s) => !s.given);
  const rows = [...new Set(made.map((s) => s.row))];
  const durations = [...new Set(made.map((s) => s.duration))].sort((a, b) => a - b);
  const seasons = [...new Set(made.map((s) => s.season))];
  return { rows, durations, seasons, given: storms.filter((s) => s.given) };
}

/** How the storms of one duration lie beside one another, in words; nothing where there is only one kind. */
export function orderOf(storms: StormInfo[], first: "above" | "left", last: "below" | "right"): string {
  const { seasons } = layout(storms);
  const [one, ...more] = seasons;
  if (!one || more.length === 0) return "";
  return `; ${first} ${one}, ${more.length > 1 ? "to " : ""}${last} ${more.at(-1)}`;
}

/** The storm picker of every view: tone is the margin of the chosen rule, the governing cell is ringed. */
export function StormMatrix({
  width,
  cell = 17,
  numbers = false,
}: {
  width: number;
  cell?: number;
  numbers?: boolean;
}) {
  const { answer, cursor, point } = useProject();
  if (!answer || answer.storms.length === 0)
    return <p className="p-3 text-ink3">No storms: build the ensemble in Rain.</p>;
  const { rows, durations, seasons, given } = layout(answer.storms);
  const verdict = answer.verdicts[cursor.rule];
  const left = 62;
  const column = (width - left) / durations.length;
  const half = column / seasons.length;
  const stacked = numbers;
  const rowHeight = stacked ? cell * seasons.length + 6 : cell;
  return (
    <>
      <svg
        width={width}
        height={rows.length ? 16 + rows.length * (rowHeight + 2) : 0}
        role="grid"
        aria-label="Storm matrix"
        data-testid="storm-matrix"
      >
        {durations.map((d, j) => (
          <text
            key={d}
            x={left + (j + 0.5) * column}
            y={10}
            fontSize={10.5}
            textAnchor="middle"
            fill="var(--color-ink2)"
          >
            {d}
          </text>
        ))}
        {rows.map((row, i) => (
          <g key={row} role="row">
            <text
              x={left - 5}
              y={16 + i * (rowHeight + 2) + rowHeight / 2 + 4}
              fontSize={11}
              textAnchor="end"
              fill="var(--color-ink)"
            >
              {row.replace(" yr +", " +")}
            </text>
            {durations.map((d, j) =>
              seasons.map((season, k) => {
                const storm = answer.storms.find((s) => s.row === row && s.duration === d && s.season === season);
                if (!storm) return null;
                const margin = verdict?.margins[storm.key];
                const x = stacked ? left + j * column : left + j * column + k * half;
                const y = 16 + i * (rowHeight + 2) + (stacked ? k * cell : 0);
                const w = (stacked ? column : half) - (stacked || k === seasons.length - 1 ? 2.5 : 0.5);
                const h = cell - (stacked ? 2 : 0);
                const governs = verdict?.storm === storm.key;
                const picked = cursor.storm === storm.key;
                const shown = margin ? showMargin(margin[0], verdict?.unit ?? "m") : null;
                const text = shown
                  ? `${shown.text}${shown.unit === "mm" || shown.unit === "in" ? ` ${shown.unit}` : ""}`
                  : "";
                return (
                  <g
                    key={storm.key}
                    role="gridcell"
                    tabIndex={0}
                    aria-label={`${storm.label}${text ? `, margin ${text}` : ", no result yet"}`}
                    aria-selected={picked}
                    data-testid={`storm-${storm.key}`}
                    className="cursor-pointer"
                    onClick={() => point({ storm: storm.key })}
                    onKeyDown={(event) => (event.key === "Enter" || event.key === " ") && point({ storm: storm.key })}
                  >
                    <title>{`${storm.label}: ${text || "no result yet"}`}</title>
                    <rect
                      x={x}
                      y={y}
                      width={w}
                      height={h}
                      fill={margin ? toneOf(margin[0], margin[1]) : "transparent"}
                      stroke={storm.state === "in" ? "none" : "var(--color-rule2)"}
                      strokeDasharray="2 2"
                    />
                    {numbers && margin && (
                      <>
                        {margin[0] < 0.1 * margin[1] && (
                          <rect x={x + w * 0.22} y={y + 1} width={w * 0.76} height={h - 2} fill="var(--color-hi)" />
                        )}
                        <text
                          x={x + w - 3}
                          y={y + h / 2 + 4}
                          fontSize={11}
                          textAnchor="end"
                          className="figure"
                          fill={margin[0] < 0 ? "var(--color-madder)" : "var(--color-ink)"}
                        >
                          {text}
                        </text>
                      </>
                    )}
                    {storm.state === "failed" && (
                      <path
                        d={`M${x + 2} ${y + 2}l${w - 4} ${h - 4}m0 ${4 - h}l${4 - w} ${h - 4}`}
                        stroke="var(--color-madder)"
                      />
                    )}
                    {picked && (
                      <rect
                        x={x - 1}
                        y={y - 1}
                        width={w + 2}
                        height={h + 2}
                        fill="none"
                        stroke="var(--color-paper)"
                        strokeWidth={3}
                      />
                    )}
                    {picked && (
                      <rect
                        x={x - 1.5}
                        y={y - 1.5}
                        width={w + 3}
                        height={h + 3}
                        fill="none"
                        stroke="var(--color-ink)"
                        strokeWidth={2}
                      />
                    )}
                    {governs && (
                      <circle cx={x + 4} cy={y + 4} r={2} fill="var(--color-ink)" stroke="var(--color-paper)" />
                    )}
                  </g>
                );
              }),
            )}
          </g>
        ))}
      </svg>
      {given.length > 0 && (
        <p className="flex flex-wrap gap-1 pt-1" role="group" aria-label="given storms">
          {given.map((storm) => {
            const margin = verdict?.margins[storm.key];
            const shown = margin ? showMargin(margin[0], verdict?.unit ?? "m") : null;
            return (
              <button
                key={storm.key}
                type="button"
                aria-pressed={cursor.storm === storm.key}
                title={`${storm.label}${shown ? `: margin ${shown.text} ${shown.unit}` : ""}`}
                onClick={() => point({ storm: storm.key })}
                className={`border px-1 text-[11px] ${cursor.storm === storm.key ? "border-ink bg-hi" : "border-rule2"} ${margin && margin[0] < 0 ? "text-madder" : ""}`}
                data-testid={`storm-${storm.key}`}
              >
                {storm.given}
                {numbers && shown ? ` ${shown.text}` : ""}
              </button>
            );
          })}
        </p>
      )}
    </>
  );
}

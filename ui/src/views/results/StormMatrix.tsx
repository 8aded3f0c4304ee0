import type { StormInfo } from "../../api/client";
import { useProject } from "../../document/store";
import { marginReadings, type Reading, type Readings } from "./readings";

/** Rows (probabilities), columns (durations) and seasons of an ensemble; given storms lie outside it. */
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

/** The storm picker of every view: tone is the margin of the chosen rule or what is read, the governing cell is ringed. */
export function StormMatrix({
  width,
  cell = 17,
  numbers = false,
  read,
}: {
  width: number;
  cell?: number;
  numbers?: boolean;
  /** Figures instead of the margins of the chosen rule. */
  read?: Readings | undefined;
}) {
  const { answer, cursor, point } = useProject();
  if (!answer || answer.storms.length === 0)
    return (
      <p className="p-3 text-ink3">
        {answer ? "No storms: build the ensemble in Rain." : "The storms are being made."}
      </p>
    );
  const { rows, durations, seasons, given } = layout(answer.storms);
  const readings = read ?? marginReadings(answer.verdicts[cursor.rule]);
  const left = 62;
  const column = (width - left) / durations.length;
  // patterns of a duration: their spread says more than a figure for each
  const spreads = numbers && answer.storms.some((s) => s.pattern);
  const stacked = numbers && !spreads;
  const half = column / seasons.length;
  const rowHeight = stacked ? cell * seasons.length + 6 : spreads ? 44 : cell;
  const storms = new Map(answer.storms.map((s) => [`${s.row}/${s.duration}/${s.season}`, s]));
  return (
    <>
      <svg
        width={width}
        height={rows.length ? 16 + rows.length * (rowHeight + 2) : 0}
        role="grid"
        aria-label={`Storm matrix: ${readings.name}`}
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
            {durations.map((d, j) => {
              const top = 16 + i * (rowHeight + 2);
              const own = seasons.flatMap((season) => storms.get(`${row}/${d}/${season}`) ?? []);
              if (spreads)
                return (
                  <PatternCell
                    key={d}
                    storms={own}
                    x={left + j * column}
                    y={top}
                    width={column - 3}
                    height={rowHeight}
                    readings={readings}
                  />
                );
              return seasons.map((season, k) => {
                const storm = storms.get(`${row}/${d}/${season}`);
                if (!storm) return null;
                return (
                  <StormCell
                    key={storm.key}
                    storm={storm}
                    x={stacked ? left + j * column : left + j * column + k * half}
                    y={stacked ? top + k * cell : top}
                    width={(stacked ? column : half) - (stacked || k === seasons.length - 1 ? 2.5 : 0.5)}
                    height={cell - (stacked ? 2 : 0)}
                    reading={readings.of.get(storm.key)}
                    governs={readings.governs === storm.key}
                    numbers={numbers}
                  />
                );
              });
            })}
          </g>
        ))}
      </svg>
      {given.length > 0 && (
        <p className="flex flex-wrap gap-1 pt-1" role="group" aria-label="given storms">
          {given.map((storm) => {
            const reading = readings.of.get(storm.key);
            return (
              <button
                key={storm.key}
                type="button"
                aria-pressed={cursor.storm === storm.key}
                title={`${storm.label}${reading ? `: ${reading.text}` : ""}`}
                onClick={() => point({ storm: storm.key })}
                className={`border px-1 text-[11px] ${cursor.storm === storm.key ? "border-ink bg-hi" : "border-rule2"} ${reading?.state === "over" ? "text-madder" : ""}`}
                data-testid={`storm-${storm.key}`}
              >
                {storm.given}
                {numbers && reading ? ` ${reading.text}` : ""}
              </button>
            );
          })}
        </p>
      )}
    </>
  );
}

type Box = { x: number; y: number; width: number; height: number };

/** One storm: its tone, its figure where there is room, a cross where it failed. */
function StormCell({
  storm,
  x,
  y,
  width: w,
  height: h,
  reading,
  governs,
  numbers,
}: Box & { storm: StormInfo; reading: Reading | undefined; governs: boolean; numbers: boolean }) {
  const picked = useProject((s) => s.cursor.storm === storm.key);
  const point = useProject((s) => s.point);
  const pick = () => point({ storm: storm.key });
  return (
    <g
      role="gridcell"
      tabIndex={0}
      aria-label={`${storm.label}${reading ? `, ${reading.text}` : ", no result yet"}${storm.beyond.length ? ", to be checked" : ""}`}
      aria-selected={picked}
      data-testid={`storm-${storm.key}`}
      className="cursor-pointer"
      onClick={pick}
      onKeyDown={(event) => (event.key === "Enter" || event.key === " ") && pick()}
    >
      <title>{`${storm.label}: ${reading?.text ?? "no result yet"}${storm.beyond.length ? ", to be checked" : ""}`}</title>
      <rect
        x={x}
        y={y}
        width={w}
        height={h}
        fill={reading?.tone ?? "transparent"}
        stroke={storm.state === "in" ? "none" : "var(--color-rule2)"}
        strokeDasharray="2 2"
      />
      {numbers && reading && (
        <>
          {reading.state !== "free" && (
            <rect x={x + w * 0.22} y={y + 1} width={w * 0.76} height={h - 2} fill="var(--color-hi)" />
          )}
          <text
            x={x + w - 3}
            y={y + h / 2 + 4}
            fontSize={11}
            textAnchor="end"
            className="figure"
            fill={reading.state === "over" ? "var(--color-madder)" : "var(--color-ink)"}
          >
            {reading.text}
          </text>
        </>
      )}
      {storm.state === "failed" && (
        <path d={`M${x + 2} ${y + 2}l${w - 4} ${h - 4}m0 ${4 - h}l${4 - w} ${h - 4}`} stroke="var(--color-madder)" />
      )}
      {storm.beyond.length > 0 && w > 12 && (
        <text
          x={x + w / 2}
          y={y + h / 2 + 4}
          fontSize={11}
          fontWeight={700}
          textAnchor="middle"
          fill="var(--color-ink)"
        >
          ?
        </text>
      )}
      {picked && <Ring x={x} y={y} width={w} height={h} />}
      {governs && <circle cx={x + 4} cy={y + 4} r={2} fill="var(--color-ink)" stroke="var(--color-paper)" />}
    </g>
  );
}

function Ring({ x, y, width, height }: Box) {
  return (
    <>
      <rect
        x={x - 1}
        y={y - 1}
        width={width + 2}
        height={height + 2}
        fill="none"
        stroke="var(--color-paper)"
        strokeWidth={3}
      />
      <rect
        x={x - 1.5}
        y={y - 1.5}
        width={width + 3}
        height={height + 3}
        fill="none"
        stroke="var(--color-ink)"
        strokeWidth={2}
      />
    </>
  );
}

/** Storms of one probability and duration as a small distribution: a stroke for each pattern, what they come to below. */
function PatternCell({ storms, x, y, width, height, readings }: Box & { storms: StormInfo[]; readings: Readings }) {
  const { cursor, point } = useProject();
  const known = storms.flatMap((storm) => {
    const reading = readings.of.get(storm.key);
    return reading ? [{ storm, reading }] : [];
  });
  known.sort((a, b) => a.reading.value - b.reading.value);
  const worst = readings.least ? known[0] : known.at(-1);
  const together = readings.together.get(storms[0]?.key ?? "");
  const said = together ?? worst?.reading;
  const word = together?.word ?? (storms.length > 1 ? (readings.least ? "worst" : "highest") : "");
  const inside = storms.some((s) => s.key === cursor.storm);
  const [low, high] = [known[0]?.reading.value ?? 0, known.at(-1)?.reading.value ?? 1];
  const at = (v: number) => x + 6 + ((v - low) / Math.max(high - low, 1e-12)) * (width - 12);
  const strip = height - 20;
  return (
    <g>
      <rect
        x={x}
        y={y}
        width={width}
        height={height}
        fill={said?.tone ?? "transparent"}
        stroke={known.length === storms.length ? "none" : "var(--color-rule2)"}
        strokeDasharray="2 2"
      />
      <rect x={x + 2} y={y + strip + 2} width={width - 4} height={16} fill="var(--color-hi)" opacity={0.9} />
      {said && (
        <text x={x + width - 5} y={y + height - 6} fontSize={11} textAnchor="end" data-testid="cell-figure">
          <tspan fontSize={10.5} fill="var(--color-ink3)">
            {together && !together.whole ? `${word} so far ` : `${word} `}
          </tspan>
          <tspan className="figure" fill={said.state === "over" ? "var(--color-madder)" : "var(--color-ink)"}>
            {said.text}
          </tspan>
        </text>
      )}
      <rect x={x + 3} y={y + 3} width={width - 6} height={strip - 4} fill="var(--color-hi)" opacity={0.55} />
      {known.map(({ storm, reading }) => {
        const picked = storm.key === cursor.storm;
        return (
          <g
            key={storm.key}
            role="gridcell"
            tabIndex={0}
            aria-label={`${storm.label}, ${reading.text}`}
            aria-selected={picked}
            className="cursor-pointer"
            data-testid={`storm-${storm.key}`}
            onClick={() => point({ storm: storm.key })}
            onKeyDown={(event) => (event.key === "Enter" || event.key === " ") && point({ storm: storm.key })}
          >
            <title>{`${storm.label}: ${reading.text}`}</title>
            <rect x={at(reading.value) - 3} y={y + 3} width={6} height={strip - 4} fill="transparent" />
            <rect
              x={at(reading.value) - (picked ? 1.5 : 0.75)}
              y={y + (picked ? 3 : 6)}
              width={picked ? 3 : 1.5}
              height={strip - (picked ? 4 : 10)}
              fill="var(--color-ink)"
            />
          </g>
        );
      })}
      {inside && <Ring x={x} y={y} width={width} height={height} />}
      {storms.some((s) => s.key === readings.governs) && (
        <circle cx={x + 4} cy={y + height - 8} r={2.5} fill="var(--color-ink)" stroke="var(--color-paper)" />
      )}
    </g>
  );
}

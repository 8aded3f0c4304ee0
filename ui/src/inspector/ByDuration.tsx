import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { api, call } from "../api/client";
import type { components } from "../api/schema";
import { useResults } from "../document/results";
import { useProject } from "../document/store";
import { type Quantity, show, unitOf } from "../document/units";
import { type Statistic, StatisticChoice } from "../fields/StatisticChoice";
import { SpreadBox } from "../primitives/SpreadBox";
import { MEASURES } from "../views/results/Measures";

type Spread = components["schemas"]["SpreadOut"];

const BOXES = 5; // storms of a duration from which their spread says more than they do
const boxed = (d: { peaks: Record<string, unknown> }) => Object.keys(d.peaks).length >= BOXES;
const [WIDE, TOP, FOOT] = [246, 6, 80];

/** How the peak varies over durations in the row of the picked storm: a box for many patterns, a dot for each of few. */
export function ByDuration({ id, limit }: { id: string; limit?: number }) {
  const { id: project, option, network, answer, cursor, drawGraph, look } = useProject();
  const { of, still } = useResults();
  const node = network?.nodes[id];
  const [chosen, setChosen] = useState<Statistic | null>(null);
  const [single, setSingle] = useState(false);
  const [asked, setAsked] = useState<Spread["measure"] | null>(null);
  const storm = answer?.storms.find((s) => s.key === cursor.storm);
  const patterned = answer?.storms.some((s) => !["summer", "winter", "all year"].includes(s.season) && !s.given);
  const by = chosen ?? (patterned ? "mean" : "highest");
  const { data, isPlaceholderData } = useQuery({
    queryKey: ["spread", project, id, storm?.row, by, asked, ...of],
    enabled: !!project && !!storm && !storm.given && still && answer?.state === "settled",
    placeholderData: (old) => old,
    queryFn: () =>
      call(
        api.GET("/api/projects/{project_id}/options/{option}/elements/{element}/spread", {
          params: {
            path: { project_id: project ?? "", option, element: id },
            query: { row: storm?.row ?? "", by, ...(asked ? { measure: asked } : {}) },
          },
        }),
      ) as Promise<Spread>,
  });
  if (!data || data.durations.length === 0 || !answer || !storm || storm.given) return null;
  const isLevel = data.measure === "level";
  const { quantity } = MEASURES[data.measure];
  const others = (Object.keys(MEASURES) as Spread["measure"][]).filter((key) =>
    node
      ? MEASURES[key].of === "nodes" && (key === "outflow") === (node.kind === "outfall")
      : MEASURES[key].of === "links",
  );
  const enlarge = () => {
    const drawn = data.measure === "level" ? "level" : data.measure === "speed" ? "speed" : "flow";
    drawGraph({ against: "duration", quantities: [drawn] });
    look("graphs");
  };
  const boxes = data.durations.some(boxed);
  return (
    <figure className="mt-2 border-t border-rule pt-1" data-testid="by-duration">
      <figcaption className="flex items-baseline justify-between">
        <b className="font-semibold">
          <select
            className="border-b border-ink3 bg-transparent"
            aria-label="what is compared over durations"
            value={data.measure}
            onChange={(event) => setAsked(event.target.value as Spread["measure"])}
            data-testid="spread-measure"
          >
            {others.map((key) => (
              <option key={key} value={key}>
                {MEASURES[key].word}
              </option>
            ))}
          </select>{" "}
          by duration
        </b>
        <button type="button" className="textlink text-[11px]" onClick={enlarge} data-testid="spread-graph">
          graph
        </button>
        {boxes ? (
          <label className="flex items-center gap-1 text-[11px] text-ink3">
            single storms
            <input type="checkbox" checked={single} onChange={(event) => setSingle(event.target.checked)} />
          </label>
        ) : (
          <span className="text-[11px] text-ink3">● winter ○ summer</span>
        )}
      </figcaption>
      <Picture
        data={data}
        isLevel={isLevel}
        limit={isLevel ? limit : undefined}
        single={single || !boxes}
        boxes={boxes}
        quantity={quantity}
      />
      <Critical data={data} fresh={!isPlaceholderData} by={by} choose={setChosen} quantity={quantity} />
    </figure>
  );
}

function Picture({
  data,
  isLevel,
  limit,
  single,
  boxes,
  quantity,
}: {
  data: Spread;
  isLevel: boolean;
  limit: number | undefined;
  single: boolean;
  boxes: boolean;
  quantity: Quantity;
}) {
  const { answer, cursor, point } = useProject();
  const all = data.durations.flatMap((d) => [d.lowest, d.highest]);
  const spread = Math.max(Math.max(...all) - Math.min(...all), isLevel ? 0.05 : 1e-4);
  const low = isLevel ? Math.min(...all) - 0.2 * spread : boxes ? Math.max(Math.min(...all) - 0.3 * spread, 0) : 0;
  const shownLimit = limit !== undefined && limit < Math.max(...all) + spread ? limit : undefined;
  const high = Math.max(Math.max(...all), shownLimit ?? -1e9) + 0.08 * spread;
  const many = data.durations.length;
  const x = (i: number) => 14 + (i / Math.max(many - 1, 1)) * (WIDE - 28);
  const y = (v: number) => TOP + (1 - (v - low) / (high - low)) * (FOOT - TOP - 2);
  const half = Math.min(8, 90 / many);
  return (
    <svg width={WIDE} height={98} role="img" aria-label="Peak by duration">
      {shownLimit !== undefined && (
        <line
          x1={0}
          x2={WIDE}
          y1={y(shownLimit)}
          y2={y(shownLimit)}
          stroke="var(--color-ink)"
          strokeDasharray="7 2 1.5 2"
        />
      )}
      <line x1={0} x2={WIDE} y1={FOOT} y2={FOOT} stroke="var(--color-ink)" />
      {data.durations.map((d, i) => (
        <g key={d.duration}>
          {boxed(d) && <SpreadBox of={d} at={x(i)} half={half} y={y} quantity={quantity} />}
          {Object.entries(d.peaks).map(([key, v]) => {
            const storm = answer?.storms.find((s) => s.key === key);
            const here = key === cursor.storm;
            if (!single && !here && boxed(d)) return null;
            return (
              <g key={key} className="cursor-pointer" onClick={() => point({ storm: key })}>
                <title>{`${storm?.label}: ${show(v, quantity)}`}</title>
                {!boxes && single && <line x1={x(i)} x2={x(i)} y1={y(v)} y2={FOOT} stroke="var(--color-water2)" />}
                <circle
                  cx={x(i)}
                  cy={y(v)}
                  r={boxes ? 2 : 3}
                  fill={storm?.season === "winter" || boxes ? "var(--color-water5)" : "var(--color-hi)"}
                  stroke="var(--color-water5)"
                />
                {here && <circle cx={x(i)} cy={y(v)} r={6} fill="none" stroke="var(--color-ink)" strokeWidth={1.5} />}
              </g>
            );
          })}
          <text x={x(i)} y={93} fontSize={10.5} textAnchor="middle" fill="var(--color-ink2)">
            {d.duration}
          </text>
        </g>
      ))}
    </svg>
  );
}

/** Which duration is critical by the chosen statistic, the storm that stands for it, and whether a further one may be worse. */
function Critical({
  data,
  fresh,
  by,
  choose,
  quantity,
}: {
  data: Spread;
  /** Whether the data belong to the present inputs. */
  fresh: boolean;
  by: Statistic;
  choose: (by: Statistic) => void;
  quantity: Quantity;
}) {
  const { answer, project, point, edit } = useProject();
  const found = data.critical;
  if (!found || !project) return null;
  const storm = answer?.storms.find((s) => s.key === found.storm);
  const { rainfall, ensemble } = project.rain;
  const next = found.at_end === "longest" ? found.duration * 2 : found.duration / 2;
  const table = rainfall?.kind === "table" ? rainfall.durations : null;
  const held = !table || (next >= (table[0] ?? 0) && next <= (table[table.length - 1] ?? 0));
  const extend = (more: number[]) =>
    void edit([
      {
        op: "replace",
        path: "/rain/ensemble/durations",
        value: [...new Set([...ensemble.durations, ...more])].sort((a, b) => a - b),
      },
    ]);
  const shaped = ensemble.seasons.length > 0 || ensemble.patterns.some((p) => p.duration === next);
  return (
    <div className="text-[11px]" data-testid="critical">
      <p>
        critical <b className="figure font-semibold">{found.duration}</b> min by{" "}
        <StatisticChoice by={by} choose={choose} testId="statistic" />{" "}
        <span className="figure">
          {show(found.value, quantity)} {unitOf(quantity)}
        </span>
        ;{" "}
        <button type="button" className="textlink" onClick={() => point({ storm: found.storm })}>
          {storm?.season ?? "its storm"}
        </button>{" "}
        stands for it
      </p>
      {ensemble.seasons.length > 0 && data.durations.length > 1 && <Refine data={data} fresh={fresh} extend={extend} />}
      {found.at_end && (
        <p className="text-ochre-ink" data-testid="at-end">
          That is the {found.at_end} duration run: a {found.at_end === "longest" ? "longer" : "shorter"} one may be
          worse.{" "}
          {held && shaped ? (
            <button type="button" className="textlink" onClick={() => extend([next])} data-testid="extend">
              add {next} min
            </button>
          ) : (
            `There ${held ? "are no patterns" : "is no rain in the table"} for ${next} min.`
          )}
        </p>
      )}
    </div>
  );
}

/** Ratios of neighbours within which a critical duration may count as bracketed. */
const RATIOS = [1.1, 1.2, 1.4, 2];
const MOST_ROUNDS = 8;

/** Adds durations on both sides of the critical one, round by round as storms come in, until it is bracketed. */
function Refine({ data, fresh, extend }: { data: Spread; fresh: boolean; extend: (more: number[]) => void }) {
  const { answer, run } = useProject();
  const [ratio, setRatio] = useState(1.4);
  const [rounds, setRounds] = useState<number | null>(null);
  const critical = data.critical?.duration ?? 0;
  const durations = data.durations.map((d) => d.duration);
  const between = refinement(durations, critical, ratio);
  const wanted = between.join();
  // biome-ignore lint/correctness/useExhaustiveDependencies: a round follows each answer
  useEffect(() => {
    if (rounds === null) return;
    if (answer?.state === "part") void run();
    if (answer?.state !== "settled" || !fresh) return;
    if (between.length === 0 || rounds >= MOST_ROUNDS) setRounds(null);
    else {
      setRounds(rounds + 1);
      extend(between);
    }
  }, [rounds === null, answer?.state, answer?.revision, fresh, wanted]);
  const at = durations.indexOf(critical);
  return (
    <p data-testid="bracket">
      Between <span className="figure">{durations[at - 1] ?? "–"}</span> and{" "}
      <span className="figure">{durations[at + 1] ?? "–"}</span> min.{" "}
      {rounds !== null ? (
        <>
          adding {between.join(" and ")} min …{" "}
          <button type="button" className="textlink" onClick={() => setRounds(null)}>
            stop
          </button>
        </>
      ) : between.length > 0 ? (
        <>
          <button type="button" className="textlink" onClick={() => setRounds(0)} data-testid="refine">
            refine
          </button>{" "}
          until neighbours lie within
        </>
      ) : (
        "Bracketed within"
      )}{" "}
      <select
        className="border-b border-ink3 bg-transparent"
        aria-label="ratio of neighbours"
        value={ratio}
        disabled={rounds !== null}
        onChange={(event) => setRatio(Number(event.target.value))}
        data-testid="refine-ratio"
      >
        {RATIOS.map((r) => (
          <option key={r} value={r}>
            ×{r}
          </option>
        ))}
      </select>
    </p>
  );
}

/** Durations halfway (by ratio) between the critical one and its neighbours, where those are farther off than wanted. */
export function refinement(durations: number[], critical: number, ratio: number): number[] {
  const at = durations.indexOf(critical);
  return [durations[at - 1], durations[at + 1]].flatMap((other) => {
    if (other === undefined || Math.max(other / critical, critical / other) <= ratio) return [];
    const middle = Math.sqrt(other * critical);
    const round = middle > 60 ? Math.round(middle / 5) * 5 : Math.round(middle);
    return durations.includes(round) ? [] : [round];
  });
}

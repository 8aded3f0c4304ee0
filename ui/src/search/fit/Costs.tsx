import { show, unitOf } from "../../document/units";
import { useWidth } from "../../primitives/useWidth";
import type { FittedOut } from "./variables";

const [LEFT, RIGHT, TOP, BOTTOM, HEIGHT] = [56, 20, 44, 34, 300];

/** What each permitted rate costs: the least storage, each point a fit of its own; more rain, and the lower bound. */
export function Costs({ fit }: { fit: FittedOut }) {
  const [ref, width] = useWidth<HTMLDivElement>();
  const { points, more, lower, best, drawn, permitted, outcome } = fit;
  if (points.length === 0 && fit.stage === "")
    return (
      <p className="p-3 text-ink3">
        What each rate costs is set out where a permitted outflow must hold and a control may change with the store.
      </p>
    );
  const known = (all: FittedOut["points"]) =>
    all.filter((p) => p.volume !== null) as { rate: number; volume: number }[];
  const own = known(points);
  const high = [...own, ...known(more)].map((p) => p.volume);
  const most = Math.max(...high, best?.volume ?? 0, drawn?.volume ?? 0, 1) * 1.08;
  const was = outcome?.before.find((v) => v.kind === "outflow" && v.limit === permitted);
  const lets = permitted !== null && was && was.value !== null ? permitted - was.value : null;
  const rates = [...points, ...more].map((p) => p.rate).concat(permitted ?? [], lets ?? []);
  const [first, last] = [Math.min(...rates), Math.max(...rates)];
  const x = (rate: number) => LEFT + ((rate - first) / Math.max(last - first, 1e-9)) * (width - LEFT - RIGHT);
  const y = (volume: number) => HEIGHT - BOTTOM - (volume / most) * (HEIGHT - TOP - BOTTOM);
  const path = (all: { rate: number; volume: number }[]) => all.map((p) => `${x(p.rate)},${y(p.volume)}`).join(" ");
  const below = lower.map(([rate = 0, volume = 0]) => ({ rate, volume }));
  const failed = [...points, ...more].filter((p) => p.volume === null);
  const step = niceStep(most);
  return (
    <div ref={ref} className="px-1 pt-2" data-testid="fit-costs">
      <p className="px-2">
        <b className="text-[14px] font-semibold">What each rate costs</b>{" "}
        <span className="text-[11px] text-ink2">every point a fit over all storms</span>
      </p>
      {width > 0 && (
        <svg width={width} height={HEIGHT} role="img" aria-label="least storage by permitted rate">
          <text x={LEFT - 44} y={16} fontSize={11} fill="var(--color-ink2)">
            storage needed, {unitOf("volume")}
          </text>
          {Array.from({ length: Math.floor(most / step) + 1 }, (_, k) => k * step).map((v) => (
            <g key={v}>
              <line x1={LEFT} x2={width - RIGHT} y1={y(v)} y2={y(v)} stroke="var(--color-rule)" />
              <text x={LEFT - 6} y={y(v) + 4} fontSize={11} textAnchor="end">
                {show(v, "volume", 0)}
              </text>
            </g>
          ))}
          {points.map((p) => (
            <text key={p.rate} x={x(p.rate)} y={HEIGHT - 18} fontSize={11} textAnchor="middle">
              {show(p.rate, "flow")}
            </text>
          ))}
          <text x={width - RIGHT} y={HEIGHT - 4} fontSize={11} textAnchor="end" fill="var(--color-ink2)">
            permitted rate, {unitOf("flow")}
          </text>
          {permitted !== null && (
            <>
              <line
                x1={x(permitted)}
                x2={x(permitted)}
                y1={TOP - 12}
                y2={HEIGHT - BOTTOM}
                stroke="var(--color-ink)"
                strokeDasharray="8 3 2 3"
              />
              <path d={`M${x(permitted) - 4} ${TOP - 16}h8l-4 6z`} fill="var(--color-ink)" />
              <text x={x(permitted) + 7} y={TOP - 10} fontSize={11}>
                permitted {show(permitted, "flow")}
              </text>
            </>
          )}
          {below.length > 1 && (
            <polyline points={path(below)} fill="none" stroke="var(--color-ink2)" strokeDasharray="2 3" />
          )}
          {known(more).length > 1 && (
            <polyline points={path(known(more))} fill="none" stroke="var(--color-ink3)" strokeDasharray="7 4" />
          )}
          <polyline points={path(own)} fill="none" stroke="var(--color-water5)" strokeWidth={2} />
          {own.map((p) => (
            <circle key={p.rate} cx={x(p.rate)} cy={y(p.volume)} r={3} fill="var(--color-water5)" />
          ))}
          {known(more)
            .slice(0, 1)
            .map((p) => (
              <text key={p.rate} x={x(p.rate) + 6} y={y(p.volume) - 6} fontSize={11} fill="var(--color-ink2)">
                +10 % rain
              </text>
            ))}
          {below.slice(-1).map((p) => (
            <text
              key={p.rate}
              x={x(p.rate)}
              y={y(p.volume) + 15}
              fontSize={11}
              textAnchor="end"
              fill="var(--color-ink2)"
            >
              constant outflow, a lower bound
            </text>
          ))}
          {lets !== null && drawn && (
            <>
              <circle cx={x(lets)} cy={y(drawn.volume)} r={4} fill="var(--color-madder)" />
              <text x={x(lets) + 8} y={y(drawn.volume) + 4} fontSize={11} fill="var(--color-madder)">
                as drawn, lets {show(lets, "flow")} out
              </text>
            </>
          )}
          {best && permitted !== null && (
            <>
              <circle cx={x(permitted)} cy={y(best.volume)} r={6} fill="var(--color-hi)" stroke="var(--color-ink)" />
              <circle cx={x(permitted)} cy={y(best.volume)} r={3} fill="var(--color-ink)" />
              {/* below it: what is drawn now often lies close above */}
              <text x={x(permitted) + 10} y={y(best.volume) + 22} fontSize={13} fontWeight={600}>
                {show(best.volume, "volume", 0)} {unitOf("volume")}
              </text>
            </>
          )}
        </svg>
      )}
      {[...new Set(failed.map((p) => p.problem))].map((problem) => (
        <p key={problem} className="px-2 py-[1px] text-[11px] leading-[14px] text-ochre-ink">
          {more.some((p) => p.problem === problem) ? "With 10 % more rain, " : ""}
          {failed
            .filter((p) => p.problem === problem)
            .map((p) => show(p.rate, "flow"))
            .join(", ")}{" "}
          {unitOf("flow")}: {problem}
        </p>
      ))}
      {below.length > 0 && (
        <p className="px-2 py-1 text-[11px] text-ink2">
          The lower bound lets the rate out from the first drop on. A real control passes its full rate only at full
          head.
        </p>
      )}
    </div>
  );
}

/** A step of 1, 2 or 5 times a power of ten that makes about five lines. */
function niceStep(most: number): number {
  const rough = most / 5;
  const ten = 10 ** Math.floor(Math.log10(rough));
  return (rough / ten < 1.5 ? 1 : rough / ten < 3.5 ? 2 : rough / ten < 7.5 ? 5 : 10) * ten;
}

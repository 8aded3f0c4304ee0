import { type MarginState, marginState } from "../primitives/tone";

/** How much of what is allowed is used; the tick is the limit. Stale gauges are dashed; a bracket spans what is close. */
export function Gauge({
  value,
  scale,
  state = marginState(value, scale),
  stale = false,
  band = 0,
  width = 72,
}: {
  value: number | null | undefined;
  scale: number | null | undefined;
  /** Of the rule, where it is more than its margin tells: one that was not judged has an empty gauge. */
  state?: MarginState;
  stale?: boolean;
  /** By how much the grid may have the value wrong, where that may change the verdict. */
  band?: number;
  width?: number;
}) {
  const limit = width * 0.72;
  const used = value === null || value === undefined ? 0 : scale ? 1 - value / scale : value < 0 ? 1.3 : 0;
  const length = Math.min(Math.max(used, 0), 1.38) * limit;
  const fill = state === "tight" ? "url(#tight)" : "var(--color-water3)";
  return (
    <svg width={width} height={18} role="img" aria-label={WORDS[state]}>
      <line
        x1={0}
        x2={width}
        y1={14.5}
        y2={14.5}
        stroke="var(--color-rule2)"
        strokeDasharray={state === "not judged" ? "1 2" : ""}
      />
      {(state !== "not judged" || stale) && (
        <rect
          x={0}
          y={6}
          width={Math.min(length, limit)}
          height={8}
          fill={stale ? "none" : fill}
          stroke={stale ? "var(--color-ink3)" : "none"}
          strokeDasharray="2 2"
        />
      )}
      {state === "fails" && <rect x={limit} y={6} width={Math.max(length - limit, 4)} height={8} fill="url(#over)" />}
      {band > 0 && <path d={bracket(length, band, scale, limit)} fill="none" stroke="var(--color-ink)" data-band="" />}
      <path d={`M${limit - 3.5} 0h7l-3.5 5z`} fill="var(--color-ink)" />
      <line x1={limit} x2={limit} y1={3} y2={16} stroke="var(--color-ink)" strokeWidth={1.5} />
    </svg>
  );
}

/** Over the end of the bar, as wide as the band to either side, and three pixels at least. */
function bracket(end: number, band: number, scale: number | null | undefined, limit: number) {
  const half = Math.max((scale ? band / scale : 0) * limit, 3);
  return `M${end - half} 18v-2.5h${2 * half}v2.5`;
}

const WORDS = {
  meets: "within the limit",
  tight: "within a tenth of the limit",
  fails: "over the limit",
  "too close": "too close to the limit to call",
  "not judged": "not judged",
};

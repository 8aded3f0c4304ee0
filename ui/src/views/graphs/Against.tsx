import { useProject } from "../../document/store";
import type { Drawn } from "../../document/types";
import { show, unitOf } from "../../document/units";
import { polyline } from "../../primitives/polyline";
import { inkOf, marksOf, rangeOf } from "./Panels";
import { DRAWN, type Trace, valueAt } from "./traces";

/** Traces that run against one another: of the same element or, where it lacks one of the two, of another picked one. */
export function paired(traces: Trace[], upward: Drawn, across: Drawn): { up: Trace; over: Trace }[] {
  const [ups, overs] = [traces.filter((t) => t.quantity === upward), traces.filter((t) => t.quantity === across)];
  const has = (list: Trace[], t: Trace) =>
    list.find((o) => o.element === t.element && o.storm === t.storm && o.beside === t.beside);
  return ups.flatMap((up) => {
    const own = has(overs, up);
    const others = own ? [own] : overs.filter((o) => o.storm === up.storm && o.beside === up.beside && !has(ups, o));
    return others.map((over) => ({ up, over }));
  });
}

const [LEFT, RIGHT, TOP, FOOT] = [62, 16, 22, 36];

/** One quantity of each element against another, as the storm runs through both; a ring where the clock stands. */
export function Against({
  traces,
  upward,
  across,
  places,
  width,
  height,
  label,
}: {
  traces: Trace[];
  upward: Drawn;
  across: Drawn;
  places: Map<string, number>;
  width: number;
  height: number;
  label: (trace: Trace) => string;
}) {
  const { cursor } = useProject();
  const pairs = paired(traces, upward, across).filter(({ up }) => places.has(up.element));
  if (pairs.length === 0)
    return (
      <p className="p-4 text-ink3">
        Nothing to draw: pick an element with both {DRAWN[upward].word} and {DRAWN[across].word}, or one with each.
      </p>
    );
  const [left, right] = rangeOf(
    pairs.map((p) => p.over),
    across,
  );
  const [low, high] = rangeOf(
    pairs.map((p) => p.up),
    upward,
  );
  const x = (v: number) => LEFT + ((v - left) / (right - left)) * (width - LEFT - RIGHT);
  const y = (v: number) => height - FOOT - ((v - low) / (high - low)) * (height - FOOT - TOP);
  const [ofUp, ofAcross] = [DRAWN[upward].quantity, DRAWN[across].quantity];
  return (
    <svg
      width={width}
      height={height}
      viewBox={`0 0 ${width} ${height}`}
      role="img"
      aria-label={`${DRAWN[upward].word} against ${DRAWN[across].word} of ${places.size} elements`}
      data-testid="graph-against"
    >
      <text x={LEFT} y={13} fontSize={11} fontWeight={600}>
        {DRAWN[upward].word}, {unitOf(ofUp)}
      </text>
      <text x={width - RIGHT} y={height - 4} fontSize={11} fontWeight={600} textAnchor="end">
        {DRAWN[across].word}, {unitOf(ofAcross)}
      </text>
      {marksOf(low, high, Math.max(height / 50, 2), ofUp).map((v) => (
        <g key={v}>
          <line x1={LEFT} x2={width - RIGHT} y1={y(v)} y2={y(v)} stroke="var(--color-rule)" />
          <text x={LEFT - 5} y={y(v) + 4} fontSize={10.5} textAnchor="end" className="figure">
            {show(v, ofUp, ofUp === "level" ? 2 : undefined)}
          </text>
        </g>
      ))}
      {marksOf(left, right, Math.max(width / 110, 2), ofAcross).map((v) => (
        <g key={v}>
          <line x1={x(v)} x2={x(v)} y1={TOP} y2={height - FOOT} stroke="var(--color-rule)" />
          <text x={x(v)} y={height - FOOT + 14} fontSize={10.5} textAnchor="middle" className="figure">
            {show(v, ofAcross, ofAcross === "level" ? 2 : undefined)}
          </text>
        </g>
      ))}
      {pairs.map(({ up, over }) => {
        const picked = up.storm === cursor.storm;
        return (
          <g key={`${up.storm}/${up.element}/${over.element}/${up.beside ?? ""}`}>
            <title>{up.element === over.element ? label(up) : `${label(up)} against ${label(over)}`}</title>
            <polyline
              points={polyline(up.values, (v, i) => [x(over.values[i] ?? 0), y(v)])}
              fill="none"
              {...inkOf(places.get(up.element) ?? 0)}
              {...(up.beside ? { strokeDasharray: "2 3" } : {})}
              strokeWidth={picked ? 1.6 : 0.7}
            />
            {picked && <Ring up={up} over={over} x={x} y={y} />}
          </g>
        );
      })}
      <path
        d={`M${LEFT} ${TOP}V${height - FOOT}H${width - RIGHT}`}
        fill="none"
        stroke="var(--color-ink)"
        pointerEvents="none"
      />
    </svg>
  );
}

function Ring({ up, over, x, y }: { up: Trace; over: Trace; x: (v: number) => number; y: (v: number) => number }) {
  const moment = useProject((s) => s.moment);
  return (
    <circle
      cx={x(valueAt(over, moment))}
      cy={y(valueAt(up, moment))}
      r={4}
      fill="var(--color-hi)"
      stroke="var(--color-ink)"
      strokeWidth={1.5}
    />
  );
}

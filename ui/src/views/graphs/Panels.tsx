import { scaleLinear } from "d3-scale";
import { type PointerEvent, useCallback, useMemo, useRef, useState } from "react";
import { marks } from "../../document/span";
import { useProject } from "../../document/store";
import type { Drawn } from "../../document/types";
import { clock, type Quantity, ruleOf, show, unitOf } from "../../document/units";
import { MomentLine } from "../../primitives/MomentLine";
import { polyline } from "../../primitives/polyline";
import { RainBars } from "../../primitives/RainBars";
import { useSpan, useWheel } from "../../primitives/useSpan";
import { DRAWN, type Trace, valueAt } from "./traces";

export const MOST = 8; // lines that can be told apart
const DASHES = ["", "6 2", "2 2", "8 2 2 2", "1 3", "10 3", "4 4", "6 2 1 2 1 2"];
const [LEFT, RIGHT, RAIN, FOOT] = [58, 12, 30, 20];

/** How the line of an element is told from others. */
export function inkOf(place: number) {
  return { stroke: place % 2 ? "var(--color-ink)" : "var(--color-water4)", strokeDasharray: DASHES[place % MOST] };
}

/** Marks of an axis from least to most, even in the unit that is read. */
export function marksOf(least: number, most: number, about: number, quantity: Quantity): number[] {
  const unit = 1 / ruleOf(quantity).factor;
  const ticks = scaleLinear([least / unit, most / unit], [0, 1]).ticks(about);
  return ticks.map((tick) => tick * unit);
}

/** Range of values, with what makes a flat line visible. */
export function rangeOf(traces: Trace[], quantity: Drawn): [number, number] {
  let [least, most] = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY];
  for (const { values } of traces)
    for (const v of values) {
      least = Math.min(least, v);
      most = Math.max(most, v);
    }
  if (quantity === "level") return [least, Math.max(most, least + 0.05)];
  return [Math.min(least, 0), Math.max(most, 1e-6)];
}

/** Quantities by panel: what enters stores and what leaves them are read against each other. */
export function together(quantities: Drawn[]): Drawn[][] {
  const both = quantities.includes("entering") && quantities.includes("leaving");
  return quantities
    .filter((q) => !both || q !== "leaving")
    .map((q) => (both && q === "entering" ? ["entering", "leaving"] : [q]));
}

const widthOf = (group: Drawn[], trace: Trace) =>
  group.indexOf(trace.quantity) > 0 ? 0.55 : group.length > 1 ? 1.4 : 1;

/** A panel for each quantity, one above the other, with the rain of the picked storm over them and one clock. */
export function Panels({
  traces,
  quantities,
  places,
  width,
  height,
  label,
}: {
  traces: Trace[];
  quantities: Drawn[];
  /** Which line an element is. */
  places: Map<string, number>;
  width: number;
  height: number;
  label: (trace: Trace) => string;
}) {
  const { cursor, series, point } = useProject();
  const [under, setUnder] = useState<{ trace: Trace; moment: number } | null>(null);
  const frame = useSpan(useMemo(() => traces.filter((t) => places.has(t.element)), [traces, places]));
  const [from, to] = frame.span;
  const x = (t: number) => LEFT + ((t - from) / Math.max(to - from, 1)) * (width - LEFT - RIGHT);
  const svg = useRef<SVGSVGElement>(null);
  const momentAt = useCallback(
    (clientX: number) => {
      const left = svg.current?.getBoundingClientRect().left ?? 0;
      const at = from + ((clientX - left - LEFT) / (width - LEFT - RIGHT)) * (to - from);
      return Math.min(Math.max(at, from), to);
    },
    [from, to, width],
  );
  useWheel(svg, momentAt, frame);
  const groups = together(quantities);
  const each = (height - RAIN - FOOT) / Math.max(groups.length, 1);
  const panels = groups.map((group, k) => {
    const own = traces.filter((t) => group.includes(t.quantity) && places.has(t.element));
    const quantity = group[0] ?? "flow";
    const [least, most] = own.length ? rangeOf(own, quantity) : [0, 1];
    const [top, foot] = [RAIN + k * each + 14, RAIN + (k + 1) * each - 4];
    const y = (v: number) => foot - ((v - least) / (most - least)) * (foot - top);
    return { quantity, group, own, least, most, top, foot, y };
  });
  const many = new Set(traces.map((t) => t.storm)).size > 1;
  const ticks = marks(frame.span, 12);

  const find = (event: PointerEvent<SVGSVGElement>) => {
    const box = event.currentTarget.getBoundingClientRect();
    const py = event.clientY - box.top;
    const moment = momentAt(event.clientX);
    const panel = panels.find(({ top, foot }) => py >= top - 8 && py <= foot + 8);
    const near = panel?.own
      .filter((t) => moment <= (t.times.at(-1) ?? 0))
      .map((trace) => ({ trace, off: Math.abs(panel.y(valueAt(trace, moment)) - py) }))
      .sort((a, b) => a.off - b.off)[0];
    return { moment, near: near && near.off < 24 ? near.trace : null };
  };

  return (
    <svg
      ref={svg}
      width={width}
      height={height}
      viewBox={`0 0 ${width} ${height}`}
      className="cursor-crosshair"
      role="img"
      aria-label={`${quantities.map((q) => DRAWN[q].word).join(", ")} of ${places.size} elements over time`}
      data-testid="graph-panels"
      onPointerMove={(event) => {
        const { moment, near } = find(event);
        setUnder(near && { trace: near, moment });
        if (event.buttons === 1) point({ moment });
      }}
      onPointerLeave={() => setUnder(null)}
      onDoubleClick={frame.back}
      onClick={(event) => {
        const { moment, near } = find(event as unknown as PointerEvent<SVGSVGElement>);
        point(near && near.storm !== cursor.storm ? { storm: near.storm, moment } : { moment });
      }}
    >
      <clipPath id="graph-span">
        <rect x={LEFT} y={0} width={Math.max(width - LEFT - RIGHT, 0)} height={height - FOOT} />
      </clipPath>
      {series && (
        <g clipPath="url(#graph-span)">
          <RainBars series={series} x={x} />
        </g>
      )}
      {panels.map(({ quantity, group, own, least, most, top, foot, y }) => {
        const of = DRAWN[quantity].quantity;
        return (
          <g key={quantity}>
            <text x={LEFT} y={top - 3} fontSize={11} fontWeight={600}>
              {group.map((q) => DRAWN[q].word).join(" and, thinner, ")}, {unitOf(of)}
            </text>
            {own.length === 0 && (
              <text x={LEFT + 8} y={(top + foot) / 2} fontSize={11} fill="var(--color-ink3)">
                none of them has it
              </text>
            )}
            {own.length > 0 &&
              marksOf(least, most, Math.max(each / 32, 2), of).map((v) => (
                <g key={v}>
                  <line x1={LEFT} x2={width - RIGHT} y1={y(v)} y2={y(v)} stroke="var(--color-rule)" />
                  <text x={LEFT - 5} y={y(v) + 4} fontSize={10.5} textAnchor="end" className="figure">
                    {show(v, of, of === "level" ? 2 : undefined)}
                  </text>
                </g>
              ))}
            {own
              .slice()
              .sort((a, b) => Number(a.storm === cursor.storm) - Number(b.storm === cursor.storm))
              .map((trace) => {
                const picked = trace.storm === cursor.storm;
                return (
                  <polyline
                    key={`${trace.storm}/${trace.element}/${trace.quantity}/${trace.beside ?? ""}`}
                    data-beside={trace.beside}
                    points={polyline(trace.values, (v, i) => [x(trace.times[i] ?? 0), y(v)])}
                    clipPath="url(#graph-span)"
                    fill="none"
                    {...inkOf(places.get(trace.element) ?? 0)}
                    {...(trace.beside ? { strokeDasharray: "2 3" } : {})}
                    strokeWidth={under?.trace === trace ? 2.6 : widthOf(group, trace) * (picked ? 1.6 : 0.7)}
                    opacity={many && !picked && under?.trace !== trace ? 0.55 : 1}
                  />
                );
              })}
            <line x1={LEFT} x2={width - RIGHT} y1={foot} y2={foot} stroke="var(--color-ink)" />
          </g>
        );
      })}
      {ticks.at.map((t) => (
        <text key={t} x={x(t)} y={height - 5} fontSize={10.5} className="figure" textAnchor="middle">
          {clock(t, ticks.seconds)}
        </text>
      ))}
      <g clipPath="url(#graph-span)">
        <MomentLine x={x} foot={height - FOOT} end={frame.end} />
      </g>
      {under && <Reading under={under} panels={panels} x={x} width={width} label={label} />}
    </svg>
  );
}

/** What stands under the pointer. */
function Reading({
  under: { trace, moment },
  panels,
  x,
  width,
  label,
}: {
  under: { trace: Trace; moment: number };
  panels: { group: Drawn[]; y: (v: number) => number }[];
  x: (t: number) => number;
  width: number;
  label: (trace: Trace) => string;
}) {
  const panel = panels.find((p) => p.group.includes(trace.quantity));
  const value = valueAt(trace, moment);
  const { quantity, word } = DRAWN[trace.quantity];
  const text = `${label(trace)}, ${word}, ${clock(moment, true)}: ${show(value, quantity)} ${unitOf(quantity)}`;
  const [px, py] = [x(moment), panel?.y(value) ?? 0];
  const wide = text.length * 5.6 + 12;
  const left = px + 10 + wide > width ? px - 10 - wide : px + 10;
  return (
    <g pointerEvents="none" data-testid="graph-reading">
      <circle cx={px} cy={py} r={3.5} fill="var(--color-hi)" stroke="var(--color-ink)" />
      <rect x={left} y={py - 24} width={wide} height={18} fill="var(--color-hi)" stroke="var(--color-ink)" />
      <text x={left + 6} y={py - 11} fontSize={11}>
        {text}
      </text>
    </g>
  );
}

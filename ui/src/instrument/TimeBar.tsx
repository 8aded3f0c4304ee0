import { type RefObject, useCallback, useEffect, useRef, useState } from "react";
import { criteriaOf } from "../document/criteria";
import { marks, moved } from "../document/span";
import { useProject } from "../document/store";
import { clock, show, unitOf } from "../document/units";
import { polyline } from "../primitives/polyline";
import { RainBars } from "../primitives/RainBars";
import { useSpan, useWheel } from "../primitives/useSpan";
import { useWidth } from "../primitives/useWidth";
import { orderOf, StormMatrix } from "../views/results/StormMatrix";
import { Jumps } from "./Jumps";
import { LANE, Lanes, useLanes } from "./Lanes";
import { useBefore } from "./useBefore";

const SPEEDS = [60, 240, 960];

/** Play, step, speed; the scrubber lies over hanging rain bars and the outflow against its limit. */
export function TimeBar() {
  const { cursor, series, answer, point, playing, play, network, project } = useProject();
  const [speed, setSpeed] = useState(240);
  const [ref, width] = useWidth<HTMLDivElement>();
  const end = series?.end ?? 0;
  const { span, show: frameTo } = useSpan();
  const shown = useRef({ span, frameTo });
  shown.current = { span, frameTo };
  const step = (span[1] - span[0]) / 360;
  const storm = answer?.storms.find((s) => s.key === cursor.storm);
  // the graphs go on with the clock, and with whatever else sets the moment
  useEffect(() => {
    if (!series) return;
    const follow = ({ moment }: { moment: number }) => {
      const { span: part, frameTo: go } = shown.current;
      if (moment < part[0] || moment > part[1])
        go(moved(part, moment - part[0] - 0.2 * (part[1] - part[0]), series.end));
    };
    follow(useProject.getState());
    return useProject.subscribe((now, before) => {
      if (now.moment !== before.moment) follow(now);
    });
  }, [series]);
  useEffect(() => {
    if (!playing || !series) return;
    let frame = 0;
    let last = performance.now();
    const tick = (now: number) => {
      const next = useProject.getState().moment + ((now - last) / 1000) * speed;
      last = now;
      if (next >= series.end) {
        point({ moment: series.end });
        play(false);
        return;
      }
      point({ moment: next });
      frame = requestAnimationFrame(tick);
    };
    frame = requestAnimationFrame(tick);
    return () => cancelAnimationFrame(frame);
  }, [playing, series, speed, point, play]);

  const criteria = criteriaOf(project);
  const own = (at: number) => criteria[at]?.rule.kind === "outflow";
  const ruleAt = own(cursor.rule) ? cursor.rule : criteria.findIndex((_, i) => own(i));
  const outflowRule = criteria[ruleAt]?.rule;
  const outfall =
    (outflowRule?.kind === "outflow" ? outflowRule.element : null) ??
    Object.keys(network?.nodes ?? {}).find((id) => network?.nodes[id]?.kind === "outfall");
  const into = Object.entries(network?.links ?? {})
    .filter(([id, link]) => link.downstream === outfall || id === outfall)
    .map(([id]) => id);
  // the judged limit: it need not be the typed one
  const limit = outflowRule ? (answer?.verdicts[ruleAt]?.limit ?? null) : null;
  const move = (moment: number) => point({ moment: Math.min(Math.max(moment, 0), end) });
  return (
    <footer className="flex h-[124px] shrink-0 border-t border-ink">
      <div className="w-[138px] shrink-0 py-3 pl-3">
        <div className="flex">
          <button
            type="button"
            className="h-7 w-7 bg-ink text-hi"
            onClick={() => {
              if (useProject.getState().moment >= end) move(0);
              play(!playing);
            }}
            aria-label={playing ? "Pause" : "Play"}
            disabled={!series}
            data-testid="play"
          >
            {playing ? "❚❚" : "▶"}
          </button>
          <button
            type="button"
            className="h-7 w-6 border border-rule2"
            onClick={() => move(useProject.getState().moment - step)}
            aria-label="Step back"
            disabled={!series}
          >
            ‹
          </button>
          <button
            type="button"
            className="h-7 w-6 border border-l-0 border-rule2"
            onClick={() => move(useProject.getState().moment + step)}
            aria-label="Step on"
            disabled={!series}
          >
            ›
          </button>
          <button
            type="button"
            className="figure h-7 flex-1 border border-l-0 border-rule2 text-[11px]"
            aria-label="Speed"
            onClick={() => setSpeed(SPEEDS[(SPEEDS.indexOf(speed) + 1) % SPEEDS.length] ?? 240)}
          >
            {speed}×
          </button>
        </div>
        <p className="figure text-[24px] leading-8">
          <span data-testid="clock">
            <Clock />
          </span>
          <span className="pl-1 font-sans text-[11px] text-ink3">of {clock(end)}</span>
        </p>
        <div className="text-[11px] leading-[15px]">
          <Jumps />
        </div>
        <p className="text-[11px] leading-[14px]">
          <b className="font-semibold">{storm?.label ?? "no storm"}</b>
        </p>
      </div>
      <div ref={ref} className="min-w-0 flex-1 py-2">
        {series && width > 0 && (
          <Trace
            width={width}
            height={106}
            into={into}
            limit={limit}
            rule={criteria[ruleAt]?.place ?? -1}
            move={move}
          />
        )}
        {!series && <p className="p-6 text-ink3">Water shows here once this storm is in.</p>}
      </div>
      <div className="ml-2 w-[340px] shrink-0 border-l border-rule2 p-2">
        <p className="flex justify-between">
          <b className="text-[14px] font-semibold">Storms</b>
          <span className="truncate text-[11px] text-ink3">
            tone: {answer?.verdicts[cursor.rule]?.name ?? ""}
            {orderOf(answer?.storms ?? [], "left", "right")}
          </span>
        </p>
        <StormMatrix width={324} />
      </div>
    </footer>
  );
}

function Trace({
  width,
  height,
  into,
  limit,
  rule,
  move,
}: {
  width: number;
  height: number;
  into: string[];
  limit: number | null;
  /** Place in the brief of the rule about the outflow. */
  rule: number;
  move: (t: number) => void;
}) {
  const { series, cursor, answer } = useProject();
  const svg = useRef<SVGSVGElement>(null);
  const lanes = useLanes();
  const frame = useSpan();
  const before = useBefore(rule);
  const right = width - 14;
  const momentAt = useCallback(
    (clientX: number) => {
      const left = svg.current?.getBoundingClientRect().left ?? 0;
      return frame.span[0] + ((clientX - left - 8) / (right - 8)) * (frame.span[1] - frame.span[0]);
    },
    [frame.span, right],
  );
  useWheel(svg, momentAt, frame);
  if (!series) return null;
  const storm = answer?.storms.find((s) => s.key === cursor.storm);
  const [from, to] = frame.span;
  const x = (t: number) => 8 + ((t - from) / Math.max(to - from, 1)) * (right - 8);
  const flow = Array.from(series.time, (_, i) =>
    into.reduce((sum, id) => sum + (series.column(`flow:${id}`)?.[i] ?? 0), 0),
  );
  const top = Math.max(limit ?? 0, ...flow, ...(before?.flow ?? [])) * 1.12 || 1;
  // water that comes in from a high tail water hangs below the axis
  const least = Math.min(0, ...flow);
  const base = height - 26 - lanes.length * LANE;
  const y = (q: number) => base - ((q - least) / (top - least)) * (base - 30);
  const peakRain = Math.max(...series.rain.intensity, 1e-9);
  const line = polyline(flow, (q, i) => [x(series.time[i] ?? 0), y(q)]);
  const ticks = marks(frame.span, 10);
  const seek = (event: React.PointerEvent) => move(momentAt(event.clientX));
  return (
    <div className="relative">
      <svg
        ref={svg}
        width={width}
        height={height}
        className="cursor-ew-resize touch-none"
        data-testid="trace"
        role="slider"
        tabIndex={0}
        aria-label="Moment"
        aria-valuemin={0}
        aria-valuemax={Math.round(series.end)}
        aria-valuenow={Math.round(useProject.getState().moment)}
        onKeyDown={(e) => {
          const step = (to - from) / 360;
          const { moment } = useProject.getState();
          if (e.key === "ArrowRight") move(moment + step);
          if (e.key === "ArrowLeft") move(moment - step);
          if (e.key === "Home") move(0);
          if (e.key === "End") move(series.end);
        }}
        onPointerDown={(e) => {
          e.currentTarget.setPointerCapture(e.pointerId);
          seek(e);
        }}
        onPointerMove={(e) => e.buttons === 1 && seek(e)}
        onDoubleClick={frame.back}
      >
        <clipPath id="bar-span">
          <rect x={8} y={0} width={Math.max(right - 8, 0)} height={height} />
        </clipPath>
        <g clipPath="url(#bar-span)">
          <RainBars series={series} x={x} height={28} />
        </g>
        <line x1={8} x2={right} y1={0.5} y2={0.5} stroke="var(--color-ink)" />
        <text
          x={Math.max(Math.min(x((storm?.duration ?? 0) * 60) + 6, right - 150), 12)}
          y={11}
          fontSize={10.5}
          fill="var(--color-ink2)"
        >
          rain, {show(storm?.depth, "rain")} {unitOf("rain")}, peak{" "}
          {show(storm?.peak ?? peakRain, "rate", unitOf("rate") === "mm/h" ? 0 : 2)} {unitOf("rate")}
        </text>
        <g clipPath="url(#bar-span)">
          <polygon points={`${x(0)},${y(0)} ${line} ${x(series.end)},${y(0)}`} fill="var(--color-water1)" />
          <polyline points={line} fill="none" stroke="var(--color-water5)" strokeWidth={1.5} />
          {before && (
            <polyline
              points={polyline(before.times, (t, i) => [x(t), y(before.flow[i] ?? 0)])}
              fill="none"
              stroke="var(--color-ink2)"
              strokeDasharray="4 3"
              data-testid="before-works"
            >
              <title>what ran off the site before the works, in this storm without its allowance</title>
            </polyline>
          )}
        </g>
        {limit !== null && (
          <g>
            <line x1={8} x2={right} y1={y(limit)} y2={y(limit)} stroke="var(--color-ink)" strokeDasharray="7 2 1.5 2" />
            <path d={`M${right - 4} ${y(limit) - 5}h7l-3.5 5z`} />
            <text x={right - 8} y={y(limit) - 4} fontSize={10.5} textAnchor="end">
              permitted {show(limit, "flow")} {unitOf("flow")}
            </text>
          </g>
        )}
        <line x1={8} x2={right} y1={base} y2={base} stroke="var(--color-ink)" />
        {ticks.at.map((t) => (
          <g key={t}>
            <line x1={x(t)} x2={x(t)} y1={base} y2={base + 3} stroke="var(--color-ink)" />
            <text x={x(t)} y={base + 14} fontSize={10.5} className="figure" textAnchor={t === 0 ? "start" : "middle"}>
              {clock(t, ticks.seconds)}
            </text>
          </g>
        ))}
        <g clipPath="url(#bar-span)">
          <Lanes lanes={lanes} top={base + 18} x={x} />
        </g>
        <Whole frame={frame} left={8} right={right} y={height - 5} />
      </svg>
      <svg
        width={width}
        height={height}
        aria-hidden="true"
        // a layer of its own: what stands under it is not painted again as it moves
        className="pointer-events-none absolute top-0 left-0 will-change-transform"
      >
        <Now trace={svg} into={into} x={x} y={y} base={base} right={right} />
      </svg>
    </div>
  );
}

/** The whole run as a line, and on it the part that is shown: it is dragged along, or clicked to. */
function Whole({
  frame,
  left,
  right,
  y,
}: {
  frame: ReturnType<typeof useSpan>;
  left: number;
  right: number;
  y: number;
}) {
  const { span, end, show, whole } = frame;
  const at = (t: number) => left + (t / Math.max(end, 1)) * (right - left);
  const drag = (event: React.PointerEvent<SVGRectElement>) => {
    const box = event.currentTarget.ownerSVGElement?.getBoundingClientRect();
    if (!box) return;
    const middle = ((event.clientX - box.left - left) / (right - left)) * end;
    show(moved(span, middle - 0.5 * (span[0] + span[1]), end));
  };
  return (
    <g data-testid="whole-run">
      <title>
        {whole ? "all of the run is shown" : `shown: ${clock(span[0])} to ${clock(span[1])} of ${clock(end)}`}; scroll
        to come closer, double click for all of it and back
      </title>
      <line x1={left} x2={right} y1={y} y2={y} stroke="var(--color-rule2)" />
      <rect
        x={at(span[0])}
        y={y - 2}
        width={Math.max(at(span[1]) - at(span[0]), 3)}
        height={4}
        fill="var(--color-ink2)"
      />
      <rect
        x={left}
        y={y - 5}
        width={right - left}
        height={10}
        fill="transparent"
        className="cursor-grab"
        onPointerDown={(event) => {
          event.stopPropagation();
          event.currentTarget.setPointerCapture(event.pointerId);
          drag(event);
        }}
        onPointerMove={(event) => event.buttons === 1 && drag(event)}
      />
    </g>
  );
}

function Clock() {
  return clock(useProject((s) => s.moment));
}

/** The moment of the clock on the trace; the slider tells it to who cannot see it. */
function Now({
  trace,
  into,
  x,
  y,
  base,
  right,
}: {
  trace: RefObject<SVGSVGElement | null>;
  into: string[];
  x: (t: number) => number;
  y: (q: number) => number;
  base: number;
  right: number;
}) {
  const { series, moment } = useProject();
  useEffect(() => {
    trace.current?.setAttribute("aria-valuenow", String(Math.round(moment)));
  }, [trace, moment]);
  if (!series) return null;
  const now = into.reduce((sum, id) => sum + series.at(`flow:${id}`, moment), 0);
  return (
    <g>
      <line x1={x(moment)} x2={x(moment)} y1={0} y2={base} stroke="var(--color-ink)" strokeWidth={1.5} />
      <path d={`M${x(moment) - 4.5} 0h9v5l-4.5 4-4.5-4z`} />
      <circle cx={x(moment)} cy={y(now)} r={3} fill="var(--color-hi)" stroke="var(--color-water4)" strokeWidth={1.5} />
      <text
        x={x(moment) + (x(moment) > right - 110 ? -8 : 8)}
        y={Math.min(y(now) + 14, base - 4)}
        fontSize={11}
        fontWeight={600}
        textAnchor={x(moment) > right - 110 ? "end" : "start"}
        fill="var(--color-water5)"
      >
        outflow {show(now, "flow")} {unitOf("flow")}
      </text>
    </g>
  );
}

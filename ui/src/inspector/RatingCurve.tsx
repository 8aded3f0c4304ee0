import { useEffect, useMemo, useState } from "react";
import { api, call } from "../api/client";
import type { StormSeries } from "../document/series";
import { useProject } from "../document/store";
import type { Control } from "../document/types";
import { show, unitOf } from "../document/units";
import { controlKind, levelOf } from "../kinds";
import { polyline } from "../primitives/polyline";

type Curve = { head: number[]; flow: number[]; of: string };

/** Head and flow of a control as a storm runs: over the level where it begins to act or, of a pump, its static lift. */
export function phaseOf(series: StormSeries, id: string, control: Control): { head: number; flow: number }[] {
  const [flow, up, down] = [`flow:${id}`, `level:${control.upstream}`, `level:${control.downstream}`].map((name) =>
    series.column(name),
  );
  if (!flow || !up) return [];
  return Array.from(flow, (q, k) => pointAt(control, q, up[k] ?? Number.NaN, down?.[k] ?? Number.NaN)).filter(
    (p) => Number.isFinite(p.head) && p.head >= 0,
  );
}

function pointAt(control: Control, flow: number, up: number, down: number) {
  return { flow, head: controlKind(control).headOf?.(control, up, down) ?? up - levelOf(control) };
}

/** A control's rating curve with its worst duty on it, and the way that the picked storm takes: off the curve where tail water holds back. */
export function RatingCurve({ id, control }: { id: string; control: Control }) {
  const { id: project, option, revision, answer, series } = useProject();
  const phase = useMemo(() => (series ? phaseOf(series, id, control) : null), [series, id, control]);
  const [curve, setCurve] = useState<Curve | null>(null);
  useEffect(() => {
    if (!project || !revision) return;
    let current = true;
    call(
      api.GET("/api/projects/{project_id}/options/{option}/controls/{control}/rating", {
        params: { path: { project_id: project, option, control: id } },
      }),
    )
      .then((found) => current && setCurve(found))
      .catch(() => current && setCurve(null)); // refused inputs are told by the checks
    return () => {
      current = false;
    };
  }, [project, id, revision, option]);
  if (!curve) return null;
  const [width, height, left, bottom] = [246, 118, 30, 16];
  const top = Math.max(...curve.flow, 1e-6);
  const [low, high] = [Math.min(...curve.head), Math.max(...curve.head)];
  const x = (q: number) => left + (q / top) * (width - left - 8);
  const y = (h: number) => height - bottom - ((h - low) / Math.max(high - low, 1e-9)) * (height - bottom - 8);
  const worst = answer?.links[id];
  const headOf = (q: number) => {
    for (let k = 1; k < curve.flow.length; k++) {
      const [a, b] = [curve.flow[k - 1] ?? 0, curve.flow[k] ?? 0];
      if (Math.min(a, b) <= q && q <= Math.max(a, b) && a !== b)
        return (curve.head[k - 1] ?? 0) + ((q - a) / (b - a)) * ((curve.head[k] ?? 0) - (curve.head[k - 1] ?? 0));
    }
    return null;
  };
  const duty = worst ? headOf(worst.flow) : null;
  return (
    <figure className="mt-2" data-testid="rating">
      <figcaption className="text-[11px] text-ink3">
        {curve.of} {unitOf("length")} over flow {unitOf("flow")}; ring: the most of all storms
        {series ? "; thin: this storm, dot: now" : ""}
      </figcaption>
      <svg width={width} height={height} role="img" aria-label="rating curve with the worst duty point">
        <line x1={left} x2={left} y1={6} y2={height - bottom} stroke="var(--color-ink)" />
        <line x1={left} x2={width - 4} y1={height - bottom} y2={height - bottom} stroke="var(--color-ink)" />
        {[low, high].map((h) => (
          <text key={h} x={left - 4} y={y(h) + 4} fontSize={10.5} textAnchor="end" className="figure">
            {show(h, "length", 1)}
          </text>
        ))}
        <text x={width - 6} y={height - 3} fontSize={10.5} textAnchor="end" className="figure">
          {show(top, "flow")}
        </text>
        <polyline
          points={curve.flow.map((q, k) => `${x(q)},${y(curve.head[k] ?? 0)}`).join(" ")}
          fill="none"
          stroke="var(--color-water5)"
          strokeWidth={1.6}
        />
        {phase && (
          <polyline
            points={polyline(phase, (p) => [x(p.flow), y(Math.min(p.head, high))])}
            fill="none"
            stroke="var(--color-ink)"
            strokeWidth={0.8}
            data-testid="phase"
          />
        )}
        {duty !== null && worst && (
          <circle
            cx={x(worst.flow)}
            cy={y(duty)}
            r={4.5}
            fill="none"
            stroke="var(--color-madder)"
            strokeWidth={1.8}
            data-testid="worst-duty"
          />
        )}
        <Present id={id} control={control} at={(p) => [x(p.flow), y(Math.min(p.head, high))]} />
      </svg>
    </figure>
  );
}

/** Where the control stands at the moment of the clock. */
function Present({
  id,
  control,
  at,
}: {
  id: string;
  control: Control;
  at: (point: { head: number; flow: number }) => [number, number];
}) {
  const { series, moment } = useProject();
  const value = (name: string) => series?.at(name, moment) ?? Number.NaN;
  const now = pointAt(
    control,
    value(`flow:${id}`),
    value(`level:${control.upstream}`),
    value(`level:${control.downstream}`),
  );
  if (!Number.isFinite(now.flow + now.head)) return null;
  const [cx, cy] = at(now);
  return <circle cx={cx} cy={cy} r={2.6} fill="var(--color-ink)" />;
}

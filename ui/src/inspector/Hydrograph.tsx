import { useMemo } from "react";
import { useProject } from "../document/store";
import { clock, type Quantity, show, unitOf } from "../document/units";
import { MomentLine, NowValue } from "../primitives/MomentLine";
import { polyline } from "../primitives/polyline";
import { RainBars } from "../primitives/RainBars";
import { useSpan } from "../primitives/useSpan";

/** One column of the storm's series with the rain above it, and the moment of the clock. */
export function Hydrograph({
  column,
  quantity,
  label,
  limit,
}: {
  column: string;
  quantity: Quantity;
  label: string;
  limit?: number;
}) {
  const { series, look } = useProject();
  const values = series?.column(column);
  const { span } = useSpan(useMemo(() => (series && values ? [{ times: series.time, values }] : []), [series, values]));
  if (!series || !values) return null;
  const width = 246;
  const height = 92;
  const flow = quantity === "flow";
  const low = flow ? Math.min(0, ...values) : Math.min(...values);
  const top = Math.max(...values, flow ? 1e-6 : low + 0.05);
  const high = limit !== undefined && limit < top + (top - low) ? Math.max(limit, top) : top;
  const y = (v: number) => 24 + (1 - (v - low) / (high - low || 1)) * (height - 38);
  const x = (t: number) => 2 + ((t - span[0]) / Math.max(span[1] - span[0], 1)) * (width - 4);
  const points = polyline(values, (v, i) => [x(series.time[i] ?? 0), y(v)]);
  const seconds = span[1] - span[0] < 600;
  return (
    <figure className="mt-2 border-t border-rule pt-1" data-testid="hydrograph">
      <figcaption className="flex justify-between">
        <b className="font-semibold">{label}, rain above</b>
        <button type="button" className="textlink text-[11px]" onClick={() => look("graphs")} data-testid="to-graphs">
          graphs
        </button>
        <span className="figure text-[11px]">
          <NowValue column={column} quantity={quantity} />
        </span>
      </figcaption>
      <svg
        width={width}
        height={height}
        role="img"
        aria-label={`${label} over time, up to ${show(top, quantity)} ${unitOf(quantity)}`}
      >
        <RainBars series={series} x={x} />
        {limit !== undefined && limit <= high && (
          <line
            x1={2}
            x2={width - 2}
            y1={y(limit)}
            y2={y(limit)}
            stroke="var(--color-ink)"
            strokeDasharray="7 2 1.5 2"
          />
        )}
        <polyline points={points} fill="none" stroke="var(--color-water4)" strokeWidth={1.5} />
        <line x1={2} x2={width - 2} y1={height - 13} y2={height - 13} stroke="var(--color-ink)" />
        <MomentLine x={x} foot={height - 13} end={span[1]} />
        <text x={2} y={height - 2} fontSize={10.5} className="figure">
          {clock(span[0], seconds)}
        </text>
        <text x={width - 2} y={height - 2} fontSize={10.5} textAnchor="end" className="figure">
          {clock(span[1], seconds)}
        </text>
        <text x={width - 2} y={y(top) - 3} fontSize={10.5} textAnchor="end" className="figure">
          {show(top, quantity)}
        </text>
      </svg>
    </figure>
  );
}

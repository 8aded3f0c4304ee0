import type { components } from "../api/schema";
import { type Quantity, show, unitOf } from "../document/units";

export type SpreadOf = components["schemas"]["SpreadOut"]["durations"][number];

/** How the peaks of a duration are spread: quartiles, median, mean, whiskers, and what lies beyond them. */
export function SpreadBox({
  of,
  at,
  half,
  y,
  quantity,
  name = "",
  fill = "var(--color-water2)",
}: {
  of: SpreadOf;
  at: number;
  half: number;
  y: (value: number) => number;
  quantity: Quantity;
  name?: string;
  fill?: string;
}) {
  const [low, high] = of.quartiles;
  return (
    <g>
      <title>
        {`${name && `${name}, `}${of.duration} min: mean ${show(of.mean, quantity)}, ` +
          `median ${show(of.median, quantity)}, ` +
          `${show(of.lowest, quantity)} to ${show(of.highest, quantity)} ${unitOf(quantity)}`}
      </title>
      <line x1={at} x2={at} y1={y(of.whiskers[0])} y2={y(of.whiskers[1])} stroke="var(--color-water5)" />
      <rect
        x={at - half}
        y={y(high)}
        width={2 * half}
        height={Math.max(y(low) - y(high), 1)}
        fill={fill}
        stroke="var(--color-water5)"
      />
      <line
        x1={at - half}
        x2={at + half}
        y1={y(of.median)}
        y2={y(of.median)}
        stroke="var(--color-water5)"
        strokeWidth={1.8}
      />
      <path d={`M${at} ${y(of.mean) - 3}l3 3l-3 3l-3 -3z`} fill="var(--color-ink)" />
      {of.outliers.map((v) => (
        <circle key={v} cx={at} cy={y(v)} r={2} fill="none" stroke="var(--color-water5)" />
      ))}
    </g>
  );
}

import { useProject } from "../document/store";
import { clock, type Quantity, show, unitOf } from "../document/units";

/** The moment of the clock on a graph; it alone is drawn again as a replay runs. */
export function MomentLine({
  x,
  top = 0,
  foot,
  end,
}: {
  x: (t: number) => number;
  top?: number;
  foot: number;
  end: number;
}) {
  const at = x(
    Math.min(
      useProject((s) => s.moment),
      end,
    ),
  );
  return <line x1={at} x2={at} y1={top} y2={foot} stroke="var(--color-ink)" pointerEvents="none" />;
}

/** A column's value at the moment of the clock. */
export function NowValue({ column, quantity }: { column: string; quantity: Quantity }) {
  const { series, moment } = useProject();
  return `${show(series?.at(column, moment), quantity)} ${unitOf(quantity)}`;
}

/** The picked storm and the moment of the clock in words. */
export function StormAtMoment() {
  const { answer, cursor, moment } = useProject();
  const storm = answer?.storms.find((s) => s.key === cursor.storm);
  return storm ? `${storm.label} at ${clock(moment)}` : "as drawn";
}

import type { StormSeries } from "../document/series";
import { px } from "./polyline";

/** The rain of a storm as it hangs above a graph, in one path. x : place of a time. */
export function RainBars({
  series,
  x,
  height = 20,
}: {
  series: StormSeries;
  x: (seconds: number) => number;
  height?: number;
}) {
  const { times, intensity } = series.rain;
  const most = Math.max(...intensity, 1e-9);
  let bars = "";
  for (const [i, r] of intensity.entries()) {
    const [from, to] = [x(times[i] ?? 0), x(times[i + 1] ?? 0)];
    if (r > 0) bars += `M${px(from)} 0v${px((r / most) * height)}h${Math.max(to - from, 1).toFixed(2)}V0z`;
  }
  return <path d={bars} fill="var(--color-water3)" />;
}

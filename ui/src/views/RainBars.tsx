import type { StormSeries } from "../document/series";

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
  const most = Math.max(...series.rain, 1e-9);
  const wide = Math.max(x(series.time[1] ?? 1) - x(0), 1.2).toFixed(2);
  let bars = "";
  for (const [i, r] of series.rain.entries())
    if (r > 0) bars += `M${x(series.time[i] ?? 0).toFixed(1)} 0v${((r / most) * height).toFixed(1)}h${wide}V0z`;
  return <path d={bars} fill="var(--color-water3)" />;
}

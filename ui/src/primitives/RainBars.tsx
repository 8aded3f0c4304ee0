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
  const { times, intensity } = series.rain;
  const most = Math.max(...intensity, 1e-9);
  let bars = "";
  for (const [i, r] of intensity.entries()) {
    const [from, to] = [x(times[i] ?? 0), x(times[i + 1] ?? 0)];
    if (r > 0)
      bars += `M${from.toFixed(1)} 0v${((r / most) * height).toFixed(1)}h${Math.max(to - from, 1).toFixed(2)}V0z`;
  }
  return <path d={bars} fill="var(--color-water3)" />;
}

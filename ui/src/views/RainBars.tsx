import type { StormSeries } from "../document/series";

/** The rain of a storm as it hangs above a graph. x : place of a time. */
export function RainBars({ series, x }: { series: StormSeries; x: (seconds: number) => number }) {
  const most = Math.max(...series.rain, 1e-9);
  return (
    <>
      {Array.from(
        series.rain,
        (r, i) =>
          r > 0 && (
            <rect
              key={series.time[i]}
              x={x(series.time[i] ?? 0)}
              y={0}
              width={1.2}
              height={(r / most) * 20}
              fill="var(--color-water3)"
            />
          ),
      )}
    </>
  );
}

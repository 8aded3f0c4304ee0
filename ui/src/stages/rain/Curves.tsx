import { useQuery } from "@tanstack/react-query";
import { api, call } from "../../api/client";
import { useProject } from "../../document/store";
import type { Rainfall } from "../../document/types";
import { ruleOf } from "../../document/units";

/** Depth by duration for each return period, both logarithmic; the allowance's curve is dashed, the governing storm ringed. */
export function Curves({
  width,
  height,
  rainfall,
  block,
}: {
  width: number;
  height: number;
  rainfall: Rainfall;
  /** Name of the block whose storms are marked. */
  block: string;
}) {
  const { answer, cursor } = useProject();
  const { data } = useQuery({
    queryKey: ["curves", JSON.stringify(rainfall)],
    placeholderData: (old) => old,
    queryFn: () => call(api.POST("/api/rain/curves", { body: rainfall as never })),
  });
  if (!data) return null;
  const { durations, return_periods, depths } = data;
  const flat = depths.flat().filter((d) => d !== null);
  const storms = (answer?.storms ?? []).filter((s) => !s.given && s.row.endsWith(block ? `(${block})` : s.row));
  if (flat.length === 0) return <p className="text-ink3">This rainfall holds no depth at common durations.</p>;
  const top = Math.max(...flat, ...storms.map((s) => s.depth)) * 1.15;
  const low = Math.min(...flat) * 0.85;
  const [first, last] = [durations[0] ?? 1, durations[durations.length - 1] ?? 1];
  const span = Math.log(last / first) || 1;
  const x = (d: number) => (durations.length > 1 ? 40 + (Math.log(d / first) / span) * (width - 120) : width / 2 - 20);
  const y = (mm: number) => 8 + (1 - Math.log(mm / low) / Math.log(top / low)) * (height - 30);
  const marks = [0.2, 0.5, 1, 2, 5, 10, 20, 50, 100, 200]
    .map((shown) => ({ shown, mm: shown / ruleOf("rain").factor }))
    .filter(({ mm }) => mm > low && mm < top);
  const season = storms[0]?.season;
  const uplifted = [...new Set(storms.filter((s) => s.allowance > 0).map((s) => s.row))].map((row) =>
    storms.filter((s) => s.row === row && s.season === season),
  );
  const governing = answer?.storms.find((s) => s.key === answer.verdicts[cursor.rule]?.storm);
  const ticks = durations.filter((_, i) => durations.length <= 12 || i % 2 === 0);
  const isUsed = (period: number) => storms.some((s) => s.return_period === period);
  // where curves stand close, those that storms use are named first, and no name lies on another
  const named = new Map<number, number>();
  for (const used of [true, false])
    depths.forEach((row, i) => {
      const [period, mm] = [return_periods[i] ?? 0, row.findLast((one) => one !== null)];
      const free = mm != null && [...named.values()].every((other) => Math.abs(other - y(mm)) >= 10);
      if (isUsed(period) === used && free) named.set(period, y(mm));
    });
  return (
    <svg width={width} height={height} role="img" aria-label="Depth by duration and return period">
      {marks.map(({ shown, mm }) => (
        <g key={shown}>
          <line x1={40} x2={width - 80} y1={y(mm)} y2={y(mm)} stroke="var(--color-rule)" />
          <text x={34} y={y(mm) + 4} fontSize={10.5} textAnchor="end" className="figure">
            {shown}
          </text>
        </g>
      ))}
      {ticks.map((d) => (
        <text key={d} x={x(d)} y={height - 6} fontSize={10.5} textAnchor="middle">
          {d}
        </text>
      ))}
      {depths.map((row, i) => {
        const period = return_periods[i] ?? 0;
        const used = isUsed(period);
        const points = row.flatMap((mm, j) => (mm === null ? [] : [[x(durations[j] ?? 1), y(mm)] as const]));
        const end = points[points.length - 1];
        if (!end) return null;
        return (
          <g key={period}>
            <polyline
              points={points.map((p) => p.join(",")).join(" ")}
              fill="none"
              stroke="var(--color-water4)"
              strokeWidth={used ? 1.8 : 1}
              strokeDasharray={used ? "" : "4 3"}
            />
            {points.length === 1 && <circle cx={end[0]} cy={end[1]} r={2.5} fill="var(--color-water4)" />}
            {named.has(period) && (
              <text x={end[0] + 6} y={end[1] + 4} fontSize={11} fontWeight={used ? 600 : 400}>
                {period} yr
              </text>
            )}
          </g>
        );
      })}
      {uplifted.map((row) => {
        const end = row[row.length - 1];
        if (!end) return null;
        return (
          <g key={end.row}>
            <polyline
              points={row.map((s) => `${x(s.duration)},${y(s.depth)}`).join(" ")}
              fill="none"
              stroke="var(--color-ink)"
              strokeDasharray="6 3"
              strokeWidth={1.6}
            />
            <text x={x(end.duration) + 8} y={y(end.depth) + 4} fontSize={11} fontWeight={600}>
              {end.return_period} +{Math.round(end.allowance * 100)} %
            </text>
          </g>
        );
      })}
      {governing && storms.includes(governing) && (
        <circle
          cx={x(governing.duration)}
          cy={y(governing.depth)}
          r={5}
          fill="none"
          stroke="var(--color-ink)"
          strokeWidth={1.6}
        >
          <title>{`governs ${answer?.verdicts[cursor.rule]?.name}: ${governing.label}`}</title>
        </circle>
      )}
    </svg>
  );
}

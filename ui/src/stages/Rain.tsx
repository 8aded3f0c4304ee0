import { useProject } from "../document/store";
import { useWidth } from "../instrument/useWidth";

/** The region's rain as curves and table, with what the ensemble takes from it. */
export function Rain() {
  const { project, answer } = useProject();
  const [ref, width, height] = useWidth<HTMLDivElement>();
  const rainfall = project?.rain.rainfall;
  return (
    <div className="flex min-w-0 flex-1 flex-col overflow-auto p-3" data-testid="rain">
      <p className="flex gap-3 pb-1">
        <b className="text-[15px] font-semibold">Depth, duration, return period</b>
        <span className="text-ink2">
          {project?.rain.place ?? "no place named"}; {answer?.storms.length ?? 0} storms
        </span>
      </p>
      {!rainfall && <p className="text-ink3">This project holds no rainfall. Import a project file that does.</p>}
      {rainfall?.kind === "table" && (
        <>
          <div ref={ref} className="min-h-[180px] flex-1">
            {width > 0 && <Curves width={width} height={height} table={rainfall} />}
          </div>
          <table className="mt-2 w-full text-right">
            <thead>
              <tr className="border-b border-ink">
                <th className="py-1 text-left font-semibold">yr \ min</th>
                {rainfall.durations.map((d) => (
                  <th key={d} className="font-semibold">
                    {d}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {rainfall.return_periods.map((t, i) => (
                <tr key={t} className="border-b border-rule">
                  <th className="py-1 text-left font-semibold">
                    {answer?.storms.some((s) => s.return_period === t) ? "● " : ""}
                    {t}
                  </th>
                  {rainfall.depths[i]?.map((depth, j) => (
                    <td key={rainfall.durations[j]} className="figure">
                      {depth.toFixed(1)}
                    </td>
                  ))}
                </tr>
              ))}
            </tbody>
          </table>
          <p className="pt-1 text-[11px] text-ink3">
            mm; dot: used by a storm. Source: {rainfall.source || "not stated"}. Between rows: linear in log depth over
            log duration and log return period.
          </p>
        </>
      )}
      {rainfall?.kind === "formula" &&
        rainfall.rows.map((r) => (
          <p key={r.return_period} className="figure py-1">
            {r.return_period} yr: i = {r.a} / (t + {r.b})^{r.c} mm/h, t in minutes
          </p>
        ))}
    </div>
  );
}

function Curves({
  width,
  height,
  table,
}: {
  width: number;
  height: number;
  table: { durations: number[]; return_periods: number[]; depths: number[][] };
}) {
  const { answer } = useProject();
  const flat = table.depths.flat();
  const storms = answer?.storms ?? [];
  const top = Math.max(...flat, ...storms.map((s) => s.depth)) * 1.15;
  const low = Math.min(...flat) * 0.85;
  const [first, last] = [table.durations[0] ?? 1, table.durations[table.durations.length - 1] ?? 1];
  const x = (d: number) => 40 + (Math.log(d / first) / Math.log(last / first)) * (width - 120);
  const y = (mm: number) => 8 + (1 - Math.log(mm / low) / Math.log(top / low)) * (height - 30);
  const marks = [5, 10, 20, 50, 100, 200].filter((m) => m > low && m < top);
  const uplifted = storms.filter((s) => s.allowance > 0 && s.season === storms[0]?.season);
  return (
    <svg width={width} height={height} role="img" aria-label="Depth by duration and return period">
      {marks.map((m) => (
        <g key={m}>
          <line x1={40} x2={width - 80} y1={y(m)} y2={y(m)} stroke="var(--color-rule)" />
          <text x={34} y={y(m) + 4} fontSize={10.5} textAnchor="end" className="figure">
            {m}
          </text>
        </g>
      ))}
      {table.durations.map((d) => (
        <text key={d} x={x(d)} y={height - 6} fontSize={10.5} textAnchor="middle">
          {d}
        </text>
      ))}
      {table.depths.map((row, i) => {
        const used = storms.some((s) => s.return_period === table.return_periods[i]);
        return (
          <g key={table.return_periods[i]}>
            <polyline
              points={row.map((mm, j) => `${x(table.durations[j] ?? 1)},${y(mm)}`).join(" ")}
              fill="none"
              stroke="var(--color-water4)"
              strokeWidth={used ? 1.8 : 1}
              strokeDasharray={used ? "" : "4 3"}
            />
            <text x={width - 74} y={y(row[row.length - 1] ?? 1) + 4} fontSize={11} fontWeight={used ? 600 : 400}>
              {table.return_periods[i]} yr
            </text>
          </g>
        );
      })}
      {uplifted.length > 1 && (
        <>
          <polyline
            points={uplifted.map((s) => `${x(s.duration)},${y(s.depth)}`).join(" ")}
            fill="none"
            stroke="var(--color-ink)"
            strokeDasharray="6 3"
            strokeWidth={1.6}
          />
          <text x={width - 74} y={y(uplifted[uplifted.length - 1]?.depth ?? 1) + 4} fontSize={11} fontWeight={600}>
            {uplifted[0]?.return_period} +{Math.round((uplifted[0]?.allowance ?? 0) * 100)} %
          </text>
        </>
      )}
    </svg>
  );
}

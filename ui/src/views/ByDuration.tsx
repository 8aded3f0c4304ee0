import { useQuery } from "@tanstack/react-query";
import { api, call } from "../api/client";
import { useProject } from "../document/store";
import { show } from "../document/units";
import { layout } from "../instrument/StormMatrix";

/** How the peak varies over the durations, in the row of the picked storm; a dot picks its storm. */
export function ByDuration({ id, limit }: { id: string; limit?: number }) {
  const { id: project, answer, cursor, point } = useProject();
  const { data } = useQuery({
    queryKey: ["element", project, id, answer?.revision, answer?.version],
    enabled: !!project && answer?.state === "settled",
    placeholderData: (old) => old,
    queryFn: () =>
      call(
        api.GET("/api/projects/{project_id}/elements/{element}", {
          params: { path: { project_id: project ?? "", element: id } },
        }),
      ),
  });
  const storm = answer?.storms.find((s) => s.key === cursor.storm);
  if (!data || !answer || !storm || storm.given) return null;
  const isLevel = Object.keys(data.level).length > 0;
  const values = isLevel ? data.level : data.flow;
  const quantity = isLevel ? "level" : "flow";
  const row = answer.storms.filter((s) => s.row === storm.row && values[s.key] !== undefined);
  const { durations } = layout(answer.storms);
  const all = row.map((s) => values[s.key] ?? 0);
  const spread = Math.max(Math.max(...all) - Math.min(...all), isLevel ? 0.05 : 1e-4);
  const low = isLevel ? Math.min(...all) - 0.2 * spread : 0;
  const shownLimit = limit !== undefined && limit < Math.max(...all) + spread ? limit : undefined;
  const high = Math.max(Math.max(...all), shownLimit ?? -1e9) + 0.08 * spread;
  const x = (d: number) => 10 + (durations.indexOf(d) / Math.max(durations.length - 1, 1)) * 226;
  const y = (v: number) => 6 + (1 - (v - low) / (high - low)) * 72;
  return (
    <figure className="mt-2 border-t border-rule pt-1">
      <figcaption className="flex justify-between">
        <b className="font-semibold">{isLevel ? "Level" : "Flow"} by duration</b>
        <span className="text-[11px] text-ink3">● winter ○ summer</span>
      </figcaption>
      <svg width={246} height={98} role="img" aria-label="Peak by duration">
        {shownLimit !== undefined && (
          <line
            x1={0}
            x2={246}
            y1={y(shownLimit)}
            y2={y(shownLimit)}
            stroke="var(--color-ink)"
            strokeDasharray="7 2 1.5 2"
          />
        )}
        <line x1={0} x2={246} y1={80} y2={80} stroke="var(--color-ink)" />
        {row.map((s) => {
          const v = values[s.key] ?? 0;
          return (
            <g key={s.key} className="cursor-pointer" onClick={() => point({ storm: s.key })}>
              <title>{`${s.label}: ${show(v, quantity)}`}</title>
              <line x1={x(s.duration)} x2={x(s.duration)} y1={y(v)} y2={80} stroke="var(--color-water2)" />
              <circle
                cx={x(s.duration)}
                cy={y(v)}
                r={3}
                fill={s.season === "winter" ? "var(--color-water5)" : "var(--color-hi)"}
                stroke="var(--color-water5)"
              />
              {s.key === cursor.storm && (
                <circle cx={x(s.duration)} cy={y(v)} r={6} fill="none" stroke="var(--color-ink)" strokeWidth={1.5} />
              )}
            </g>
          );
        })}
        {durations.map((d) => (
          <text key={d} x={x(d)} y={93} fontSize={10.5} textAnchor="middle" fill="var(--color-ink2)">
            {d}
          </text>
        ))}
      </svg>
    </figure>
  );
}

import { useQuery } from "@tanstack/react-query";
import { api, call } from "../../api/client";
import { useProject } from "../../document/store";
import { show, unitOf } from "../../document/units";
import { px } from "../../primitives/polyline";
import { useWidth } from "../../primitives/useWidth";
import { layout } from "../../views/results/StormMatrix";

const SEASONS = new Set(["summer", "winter", "all year"]);
const [LEFT, LINE] = [96, 30];

/** Every storm drawn small, all to one scale with the low ones stretched; patterns as mass curves over each other. */
export function EveryStorm() {
  const { id, option, revision, answer, cursor, point, project, edit } = useProject();
  const [ref, width] = useWidth<HTMLDivElement>();
  const { data } = useQuery({
    queryKey: ["hyetographs", id, option, revision],
    enabled: !!id && !!answer && answer.storms.length > 0,
    placeholderData: (old) => old,
    queryFn: () =>
      call(
        api.GET("/api/projects/{project_id}/options/{option}/rain", {
          params: { path: { project_id: id ?? "", option } },
        }),
      ) as Promise<Record<string, number[]>>,
  });
  if (!answer || !project) return null;
  const { rows, durations, seasons } = layout(answer.storms);
  const most = Math.max(...answer.storms.map((s) => s.peak), 1e-9);
  const lines = rows.flatMap((row) => {
    const own = seasons.filter((season) => answer.storms.some((s) => s.row === row && s.season === season));
    const shaped = own.filter((season) => SEASONS.has(season));
    const patterns = own.filter((season) => !SEASONS.has(season));
    return [
      ...shaped.map((season) => ({ row, label: season, seasons: [season] })),
      ...(patterns.length ? [{ row, label: `${patterns.length} patterns`, seasons: patterns }] : []),
    ];
  });
  const column = (width - LEFT) / Math.max(durations.length, 1);
  const { excluded } = project.rain;
  return (
    <div ref={ref} className="min-h-0 flex-1 overflow-auto" data-testid="every-storm">
      <p className="text-ink2">
        intensity to one scale (highest {show(most, "rate")} {unitOf("rate")}), low ones stretched; pick one to see it
        in every view
      </p>
      {width > 0 && (
        <svg width={width} height={18 + lines.length * LINE} role="group" aria-label="Every storm">
          {durations.map((d, j) => (
            <text key={d} x={LEFT + (j + 0.5) * column} y={11} fontSize={10.5} textAnchor="middle">
              {d}
            </text>
          ))}
          {lines.map((line, i) => {
            const foot = 18 + (i + 1) * LINE - 3;
            return (
              <g key={`${line.row}/${line.label}`}>
                {lines[i - 1]?.row !== line.row && (
                  <>
                    <line x1={0} x2={width} y1={foot - LINE + 3} y2={foot - LINE + 3} stroke="var(--color-rule)" />
                    <text x={0} y={foot - 13} fontSize={11} fontWeight={600}>
                      {line.row}
                    </text>
                  </>
                )}
                <text x={0} y={foot} fontSize={10.5} fill="var(--color-ink2)">
                  {line.label}
                </text>
                {durations.map((d, j) => {
                  const storms = answer.storms.filter(
                    (s) => s.row === line.row && s.duration === d && line.seasons.includes(s.season),
                  );
                  const one = storms[0];
                  if (!one) return null;
                  const here = storms.find((s) => s.key === cursor.storm);
                  const x = LEFT + j * column;
                  const shown = { x, foot, wide: column - 6, high: LINE - 6 };
                  return (
                    <g
                      key={d}
                      role="button"
                      tabIndex={0}
                      aria-label={storms.length > 1 ? `${line.row}, ${d} min, patterns` : one.label}
                      aria-pressed={here !== undefined}
                      className="cursor-pointer"
                      onClick={() => point({ storm: next(storms, cursor.storm) })}
                      onKeyDown={(event) => event.key === "Enter" && point({ storm: next(storms, cursor.storm) })}
                      data-testid={`drawn-${one.key}`}
                    >
                      <title>{storms.map((s) => s.label).join("\n")}</title>
                      <rect x={x} y={foot - LINE + 5} width={column - 4} height={LINE - 3} fill="transparent" />
                      {data && storms.length === 1 && <Bars values={data[one.key] ?? []} most={most} {...shown} />}
                      {data &&
                        storms.length > 1 &&
                        storms.map((s) => (
                          <Mass key={s.key} values={data[s.key] ?? []} strong={s.key === cursor.storm} {...shown} />
                        ))}
                      {here && (
                        <rect
                          x={x - 2}
                          y={foot - LINE + 5}
                          width={column - 2}
                          height={LINE - 3}
                          fill="none"
                          stroke="var(--color-ink)"
                          strokeWidth={1.6}
                        />
                      )}
                    </g>
                  );
                })}
              </g>
            );
          })}
        </svg>
      )}
      {excluded.length > 0 && (
        <p className="flex flex-wrap items-baseline gap-x-3 pt-1" data-testid="excluded">
          <b className="font-semibold">left out</b>
          {excluded.map((key) => (
            <span key={key}>
              <span className="figure">{key}</span>{" "}
              <button
                type="button"
                className="textlink text-[11px]"
                onClick={() =>
                  void edit([{ op: "replace", path: "/rain/excluded", value: excluded.filter((k) => k !== key) }])
                }
              >
                take it back in
              </button>
            </span>
          ))}
        </p>
      )}
    </div>
  );
}

/** The one after the picked one, so that clicks walk through patterns. */
function next(storms: { key: string }[], picked: string | null): string | null {
  const at = storms.findIndex((s) => s.key === picked);
  return storms[(at + 1) % storms.length]?.key ?? null;
}

type Shown = { values: number[]; x: number; foot: number; wide: number; high: number };

/** Bars whose height goes with the root of the intensity. */
function Bars({ values, most, x, foot, wide, high }: Shown & { most: number }) {
  const step = wide / values.length;
  const path = values.map((i, k) => {
    const h = Math.sqrt(i / most) * high;
    return `M${px(x + k * step)} ${foot}v${px(-h)}h${px(Math.max(step - 0.4, 0.4))}v${px(h)}z`;
  });
  return <path d={path.join("")} fill="var(--color-water3)" />;
}

/** What has fallen, as a share, over the duration. */
function Mass({ values, strong, x, foot, wide, high }: Shown & { strong: boolean }) {
  const total = values.reduce((a, b) => a + b, 0) || 1;
  let fallen = 0;
  const points = values.map((i, k) => {
    fallen += i;
    return `${px(x + ((k + 1) / values.length) * wide)},${px(foot - (fallen / total) * high)}`;
  });
  return (
    <polyline
      points={[`${x},${foot}`, ...points].join(" ")}
      fill="none"
      stroke={strong ? "var(--color-ink)" : "var(--color-water4)"}
      strokeWidth={strong ? 1.8 : 0.8}
    />
  );
}

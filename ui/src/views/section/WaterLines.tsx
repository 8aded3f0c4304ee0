import type { Station } from "../../document/along";
import { criteriaOf } from "../../document/criteria";
import { useProject } from "../../document/store";
import { isConduit, isStore, spillOf } from "../../document/types";
import { show, unitOf } from "../../document/units";
import type { Frame } from "./frame";
import { WATER_LINE } from "./SectionMarks";
import type { Shown } from "./shown";
import { pathOf, surfaceOf } from "./surface";
import type { Along } from "./useAlong";

/** Keeps words legible over lines. */
const HALO = { paintOrder: "stroke", stroke: "var(--color-paper)", strokeWidth: 3 } as const;

/** Surfaces over the run: now, at its highest in the storm and in all, by probability; energy; and the limits of the brief. */
export function WaterLines({
  frame,
  shown,
  along,
  steady,
}: {
  frame: Frame;
  shown: Shown;
  along: Along;
  steady: boolean;
}) {
  const { network, series, answer, moment } = useProject();
  const { links, ids, chainage, x, y } = frame;
  const { storm, highest } = along;
  const line = (of: (id: string) => readonly Station[], level: (id: string) => number) =>
    pathOf(frame, surfaceOf(frame, of, level));
  const rows = shown.probabilities && highest ? Object.entries(highest.rows) : [];
  const leveled = rows.map(([row, of]) => ({ row, of, level: levelsOf(frame, of) }));
  const spreadAt = (id: string) => {
    const levels = leveled.map(({ level }) => level(id)).filter(Number.isFinite);
    return levels.length ? Math.max(...levels) - Math.min(...levels) : -1;
  };
  // named where they lie furthest apart, the higher line first, never one over another
  const widest = ids.reduce((best, id, i) => (spreadAt(id) > spreadAt(ids[best] ?? "") ? i : best), 0);
  let lowest = Number.NEGATIVE_INFINITY;
  const named = leveled
    .map((one) => ({ ...one, z: one.level(ids[widest] ?? "") }))
    .sort((a, b) => b.z - a.z)
    .map((one) => {
      lowest = Math.max(lowest + 12, y(one.z));
      return { ...one, at: lowest };
    });
  const now = (id: string) =>
    Math.max(series?.at(`level:${id}`, moment) ?? Number.NaN, network?.nodes[id]?.invert ?? 0);
  return (
    <g pointerEvents="none">
      {shown.all && highest && (
        <path
          d={line(highest.all, (id) => answer?.nodes[id]?.level ?? Number.NaN)}
          {...WATER_LINE}
          strokeDasharray="1.5 3"
          data-testid="hgl-all"
        />
      )}
      {named.map(({ row, of, level, at }, k) => (
        <g key={row} data-testid="hgl-probability">
          <path
            d={line(of, level)}
            {...WATER_LINE}
            strokeWidth={1}
            strokeDasharray={["7 2", "4 2", "2 2", "9 2 2 2", "5 1 1 1"][k % 5]}
          />
          <text x={x(chainage[widest] ?? 0) + 9} y={at + 3} fontSize={10.5} fill="var(--color-water5)" {...HALO}>
            {row.replace(" yr +", " +")}
          </text>
        </g>
      ))}
      {!steady && shown.highest && storm && (
        <path
          d={line(
            (id) => storm.highest(id),
            (id) => series?.highest(`level:${id}`) ?? Number.NaN,
          )}
          {...WATER_LINE}
          strokeDasharray="5 3"
          data-testid="hgl-highest"
        />
      )}
      {!steady && storm && (
        <path d={line((id) => storm.at("water", id, moment), now)} {...WATER_LINE} data-testid="hgl" />
      )}
      {!steady &&
        shown.energy &&
        storm &&
        links.map(({ id, link }, i) => {
          const points = isConduit(link) ? storm.at("energy", id, moment) : [];
          return points.length === 0 ? null : (
            <polyline
              key={id}
              points={points.map(([c, z]) => `${x((chainage[i] ?? 0) + c)},${y(z)}`).join(" ")}
              fill="none"
              stroke="var(--color-ochre-ink)"
              strokeWidth={1.2}
              strokeDasharray="6 2 1 2"
              data-testid="egl"
            />
          );
        })}
      <Limits frame={frame} />
    </g>
  );
}

/** Levels at the nodes of the run, where conduits of it meet them: the higher of both ends. */
function levelsOf(frame: Frame, of: (id: string) => readonly Station[]): (id: string) => number {
  const found = new Map<string, number>();
  for (const { id, link } of frame.links) {
    const stations = of(id);
    for (const [node, z] of [
      [link.upstream, stations[0]?.[1]],
      [link.downstream, stations.at(-1)?.[1]],
    ] as const)
      if (z !== undefined) found.set(node, Math.max(found.get(node) ?? z, z));
  }
  return (id) => found.get(id) ?? Number.NaN;
}

/** Where the brief keeps water below the cover: a line along the run; below the bank of a store: a tick and what is left. */
function Limits({ frame }: { frame: Frame }) {
  const { project, answer } = useProject();
  const { nodes, ids, chainage, x, y } = frame;
  const most = (kind: "cover" | "freeboard") =>
    Math.max(
      0,
      ...criteriaOf(project).flatMap(({ rule, limit }) =>
        rule.asked && rule.kind === kind && limit ? [limit.value] : [],
      ),
    );
  const [below, freeboard] = [most("cover"), most("freeboard")];
  const points = nodes.flatMap((node, i) => (node.kind === "outfall" ? [] : [[chainage[i] ?? 0, node.cover - below]]));
  return (
    <>
      {below > 0 && (
        <polyline
          points={points.map(([c = 0, z = 0]) => `${x(c)},${y(z)}`).join(" ")}
          fill="none"
          stroke="var(--color-madder)"
          strokeWidth={0.9}
          strokeDasharray="7 2 1.5 2"
          data-testid="flood-risk-line"
        />
      )}
      {freeboard > 0 &&
        nodes.map((node, i) => {
          if (!isStore(node)) return null;
          const c = x(chainage[i] ?? 0);
          const z = spillOf(node) - freeboard;
          const left = spillOf(node) - (answer?.nodes[ids[i] ?? ""]?.level ?? Number.NaN);
          return (
            <g key={ids[i]} data-testid={`freeboard-${node.name}`}>
              <line x1={c - 22} x2={c + 22} y1={y(z)} y2={y(z)} stroke="var(--color-ink)" strokeDasharray="7 2 1.5 2" />
              <path d={`M${c - 26} ${y(z) - 5}h7l-3.5 5z`} />
              {Number.isFinite(left) && (
                <text
                  x={c - 28}
                  y={y(z) + 3}
                  fontSize={10.5}
                  textAnchor="end"
                  {...HALO}
                  fill={left < freeboard ? "var(--color-madder)" : "var(--color-ink)"}
                >
                  freeboard {show(left, "length")} {unitOf("length")}
                </text>
              )}
            </g>
          );
        })}
    </>
  );
}

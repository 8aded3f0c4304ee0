import { criteriaOf } from "../../document/criteria";
import { useProject } from "../../document/store";
import { isConduit, isStore } from "../../document/types";
import { show, unitOf } from "../../document/units";
import type { Frame } from "./frame";
import { WATER_LINE } from "./SectionMarks";
import type { Shown } from "./shown";

const GRAVITY = 9.81;
/** Keeps words legible over lines. */
const HALO = { paintOrder: "stroke", stroke: "var(--color-paper)", strokeWidth: 3 } as const;

/** Levels of nodes as points of a line along the run; outfalls have none of their own. */
function lineOf(frame: Frame, levelOf: (id: string) => number): string {
  return frame.nodes
    .map((node, i) => [frame.chainage[i] ?? 0, levelOf(frame.ids[i] ?? ""), node.kind] as const)
    .filter(([, z, kind]) => Number.isFinite(z) && kind !== "outfall")
    .map(([c, z]) => `${frame.x(c)},${frame.y(z)}`)
    .join(" ");
}

/** Surfaces over the run: now, at its highest in the storm and in all, by probability; energy; and the limits of the brief. */
export function WaterLines({
  frame,
  shown,
  envelopes,
  steady,
}: {
  frame: Frame;
  shown: Shown;
  /** Highest levels of nodes by probability. */
  envelopes: Record<string, Record<string, number>>;
  steady: boolean;
}) {
  const { network, series, answer, moment } = useProject();
  const { links, ids, chainage, x, y } = frame;
  const drawn = Object.entries(envelopes);
  const spreadAt = (id: string) => {
    const levels = drawn.flatMap(([, levels]) => levels[id] ?? []);
    return levels.length ? Math.max(...levels) - Math.min(...levels) : -1;
  };
  // named where they lie furthest apart, the higher line first, never one over another
  const widest = ids.reduce((best, id, i) => (spreadAt(id) > spreadAt(ids[best] ?? "") ? i : best), 0);
  let lowest = Number.NEGATIVE_INFINITY;
  const named = drawn
    .map(([row, levels]) => ({ row, levels, z: levels[ids[widest] ?? ""] ?? Number.NaN }))
    .sort((a, b) => b.z - a.z)
    .map((line) => {
      lowest = Math.max(lowest + 12, y(line.z));
      return { ...line, at: lowest };
    });
  return (
    <g pointerEvents="none">
      {shown.all && (
        <polyline
          points={lineOf(frame, (id) => answer?.nodes[id]?.level ?? Number.NaN)}
          {...WATER_LINE}
          strokeDasharray="1.5 3"
          data-testid="hgl-all"
        />
      )}
      {shown.probabilities &&
        named.map(({ row, levels, at }, k) => (
          <g key={row} data-testid="hgl-probability">
            <polyline
              points={lineOf(frame, (id) => levels[id] ?? Number.NaN)}
              {...WATER_LINE}
              strokeWidth={1}
              strokeDasharray={["7 2", "4 2", "2 2", "9 2 2 2", "5 1 1 1"][k % 5]}
            />
            <text x={x(chainage[widest] ?? 0) + 9} y={at + 3} fontSize={10.5} fill="var(--color-water5)" {...HALO}>
              {row.replace(" yr +", " +")}
            </text>
          </g>
        ))}
      {!steady && shown.highest && series && (
        <polyline
          points={lineOf(frame, (id) => series.highest(`level:${id}`))}
          {...WATER_LINE}
          strokeDasharray="5 3"
          data-testid="hgl-highest"
        />
      )}
      {!steady && (
        <polyline
          points={lineOf(frame, (id) =>
            Math.max(series?.at(`level:${id}`, moment) ?? Number.NaN, network?.nodes[id]?.invert ?? 0),
          )}
          {...WATER_LINE}
          data-testid="hgl"
        />
      )}
      {!steady &&
        shown.energy &&
        series &&
        links.map(({ id, link }, i) => {
          if (!isConduit(link)) return null;
          const head = series.at(`speed:${id}`, moment) ** 2 / (2 * GRAVITY);
          const [up, down] = [series.at(`head:${id}`, moment), series.at(`foot:${id}`, moment)];
          if (!Number.isFinite(head + up + down)) return null;
          return (
            <line
              key={id}
              x1={x(chainage[i] ?? 0)}
              x2={x(chainage[i + 1] ?? 0)}
              y1={y(up + head)}
              y2={y(down + head)}
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
          const z = node.cover - freeboard;
          const left = node.cover - (answer?.nodes[ids[i] ?? ""]?.level ?? Number.NaN);
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

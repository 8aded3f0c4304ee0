import type { AlongSeries } from "../../document/along";
import { useProject } from "../../document/store";
import { depthOf, isConduit, topOf } from "../../document/types";
import { px } from "../../primitives/polyline";
import type { Frame } from "./frame";
import { halfOf } from "./nodeWidth";
import { SteadyWater, StoneBed } from "./SectionMarks";
import type { Profile } from "./SteadyFlow";

type Shown = { frame: Frame; steady: boolean; profile: Profile | null };

/** Levels of nodes now: of the storm at the moment of the clock, or what the steady profile says. */
export function useLevels(steady: boolean, profile: Profile | null): (id: string) => number {
  const { series, moment } = useProject();
  if (steady) return (id) => profile?.level[id] ?? Number.NaN;
  return (id) => series?.at(`level:${id}`, moment) ?? Number.NaN;
}

/** Water in the conduits of the run: one path for each look, for a replay draws it many times a second. */
export function ConduitWater({ frame, steady, profile, along }: Shown & { along: AlongSeries | null }) {
  const { moment } = useProject();
  const { links, chainage, x, y } = frame;
  const at = (c: number) => px(x(c));
  const up = (z: number) => px(y(z));
  const paths = { free: "", full: "", stones: "", core: "" };
  for (const [i, { id, link }] of links.entries()) {
    if (steady || !along || !isConduit(link)) continue;
    const water = along.at("water", id, moment);
    if (water.length === 0) continue;
    const d = depthOf(link);
    const bed = (c: number) =>
      link.upstream_invert + ((link.downstream_invert - link.upstream_invert) * c) / link.length;
    const start = chainage[i] ?? 0;
    const top = water.map(([c, z]) => [c, Math.min(Math.max(z, bed(c)), bed(c) + d)] as const);
    const full = water.every(([c, z]) => z >= bed(c) + d - 1e-3);
    const surface = top.map(([c, z]) => `${at(start + c)} ${up(z)}`).reverse();
    const [z0, z1] = [link.upstream_invert, link.downstream_invert];
    const [a, b] = [at(start), at(start + link.length)];
    paths[link.kind === "trench" ? "stones" : full ? "full" : "free"] +=
      `M${a} ${up(z0)}L${b} ${up(z1)} ${surface.join(" ")}Z`;
    if (full) paths.core += `M${a} ${up(z0 + d / 2)}L${b} ${up(z1 + d / 2)}`;
  }
  return (
    <g pointerEvents="none">
      <path d={paths.free} fill="var(--color-water3)" />
      <path d={paths.stones} fill="var(--color-water3)" opacity={0.6} />
      <path d={paths.full} fill="var(--color-water5)" />
      <path d={paths.core} fill="none" stroke="white" strokeDasharray="6 4" />
      {steady &&
        links.map(({ id, link }, i) =>
          isConduit(link) ? (
            <SteadyWater
              key={id}
              reach={profile?.reaches[id]}
              ends={{
                length: (chainage[i + 1] ?? 0) - (chainage[i] ?? 0),
                upstream: link.upstream_invert,
                downstream: link.downstream_invert,
                height: depthOf(link),
              }}
              at={(along) => x((chainage[i] ?? 0) + along)}
              y={y}
            />
          ) : null,
        )}
    </g>
  );
}

/** Water in the nodes of the run, and drops where it stands above a cover. */
export function NodeWater({ frame, steady, profile }: Shown) {
  const level = useLevels(steady, profile);
  const { nodes, ids, chainage, x, y } = frame;
  let [held, drops] = ["", ""];
  for (const [i, node] of nodes.entries()) {
    const h = level(ids[i] ?? "");
    if (node.kind === "outfall" || !Number.isFinite(h)) continue;
    const [c, half, top] = [x(chainage[i] ?? 0), halfOf(node) - 0.5, topOf(node)];
    const surface = y(Math.min(Math.max(h, node.invert), top));
    if (node.kind !== "stone")
      held += `M${px(c - half)} ${px(surface)}h${2 * half}V${px(y(node.invert))}h${-2 * half}Z`;
    if (h > top) drops += `M${px(c)} ${px(y(top) - 14)}q5 7 0 10q-5 -3 0 -10z`;
  }
  return (
    <g pointerEvents="none">
      <path d={held} fill="var(--color-water3)" />
      {nodes.map((node, i) => {
        if (node.kind !== "stone") return null;
        const h = level(ids[i] ?? "");
        const wet = Number.isFinite(h) ? Math.max(h, node.invert) : null;
        return <StoneBed key={ids[i]} stone={node} wet={wet} c={x(chainage[i] ?? 0)} half={halfOf(node)} y={y} />;
      })}
      {drops && <path d={drops} fill="var(--color-madder)" data-testid="flood-drop" />}
    </g>
  );
}

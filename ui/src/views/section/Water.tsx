import { useProject } from "../../document/store";
import { depthOf, isConduit, isStore, type NetNode, topOf } from "../../document/types";
import type { Frame } from "./frame";
import { SteadyWater, StoneBed } from "./SectionMarks";
import type { Profile } from "./SteadyFlow";

type Shown = { frame: Frame; steady: boolean; profile: Profile | null };

/** Half the width that a node is drawn with, px. */
export const halfOf = (node: NetNode) => (isStore(node) ? 16 : 3.5);

/** Levels of nodes now: of the storm at the moment of the clock, or what the steady profile says. */
export function useLevels(steady: boolean, profile: Profile | null): (id: string) => number {
  const { series, moment } = useProject();
  if (steady) return (id) => profile?.level[id] ?? Number.NaN;
  return (id) => series?.at(`level:${id}`, moment) ?? Number.NaN;
}

/** Water in the conduits of the run: one path for each look, for a replay draws it many times a second. */
export function ConduitWater({ frame, steady, profile }: Shown) {
  const { series, moment } = useProject();
  const { links, chainage, x, y } = frame;
  const at = (c: number) => x(c).toFixed(1);
  const up = (z: number) => y(z).toFixed(1);
  const paths = { free: "", full: "", stones: "", core: "" };
  for (const [i, { id, link }] of links.entries()) {
    if (steady || !series || !isConduit(link)) continue;
    const [head, foot] = [series.at(`head:${id}`, moment), series.at(`foot:${id}`, moment)];
    if (!Number.isFinite(head + foot)) continue;
    const [a, b] = [chainage[i] ?? 0, chainage[i + 1] ?? 0];
    const d = depthOf(link);
    const [z0, z1] = [link.upstream_invert, link.downstream_invert];
    // the cells lie a quarter of the length from the ends when there are two
    const rise = head - foot;
    const clampTo = (z: number, bed: number) => Math.min(Math.max(z, bed), bed + d);
    const w0 = clampTo(head + rise / 2, z0);
    const w1 = clampTo(foot - rise / 2, z1);
    const full = w0 >= z0 + d - 1e-3 && w1 >= z1 + d - 1e-3;
    const shape = `M${at(a)} ${up(z0)}L${at(b)} ${up(z1)} ${at(b)} ${up(w1)} ${at(a)} ${up(w0)}Z`;
    paths[link.kind === "trench" ? "stones" : full ? "full" : "free"] += shape;
    if (full) paths.core += `M${at(a)} ${up(z0 + d / 2)}L${at(b)} ${up(z1 + d / 2)}`;
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
      held += `M${(c - half).toFixed(1)} ${surface.toFixed(1)}h${2 * half}V${y(node.invert).toFixed(1)}h${-2 * half}Z`;
    if (h > top) drops += `M${c.toFixed(1)} ${(y(top) - 14).toFixed(1)}q5 7 0 10q-5 -3 0 -10z`;
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

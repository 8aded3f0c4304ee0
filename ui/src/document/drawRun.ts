import { ringFor } from "./catalogue";
import { freeName, freshName, groundAt } from "./elements";
import type { Change } from "./store";
import { type Catalogue, type Defaults, depthOf, isConduit, type Network, topOf } from "./types";

type Place = { node: string } | { x: number; y: number };

const round = (value: number, digits: number) => Number(value.toFixed(digits));

/** The name that follows on a run. */
export const nextName = (network: Network, name: string) =>
  freeName(new Set(Object.values(network.nodes).map((node) => node.name)), name);

/**
 * One click on along a run of pipes: a manhole where there is none, and a pipe to it from the node before.
 * The invert falls by the wanted gradient, or further where the ground over the pipe would be too little; a pipe is
 * no smaller than those that arrive at its head; where a pipe already leads there, the run just goes on. known : level of the ground there, where a
 * terrain tells it. Returns the node where the run now ends.
 */
export function drawRun(
  network: Network,
  path: string,
  defaults: Defaults,
  parts: Catalogue,
  from: string | null,
  to: Place,
  known: number | null = null,
  makeId: () => string = () => crypto.randomUUID(),
): { changes: Change[]; at: string } {
  const changes: Change[] = [];
  const above = from ? network.nodes[from] : undefined;
  const existing = "node" in to ? network.nodes[to.node] : undefined;
  const { x, y } = existing ?? (to as { x: number; y: number });
  const arriving = Object.values(network.links).filter((link) => isConduit(link) && link.downstream === from);
  const diameter = Math.max(defaults.diameter, ...arriving.map((link) => (isConduit(link) ? depthOf(link) : 0)));
  const ground = existing ? topOf(existing) : (known ?? groundAt(network, x, y));
  const deepest = round(ground - defaults.cover - diameter, 3);
  const length = above ? Math.max(round(Math.hypot(above.x - x, above.y - y), 2), 0.1) : 0;
  const fallen = above ? round(above.invert - defaults.gradient * length, 3) : deepest;
  const at = "node" in to ? to.node : makeId();
  const end = existing ? Math.max(existing.invert, fallen) : Math.min(fallen, deepest);
  const name = existing?.name ?? (above ? nextName(network, above.name) : freshName(network, "manhole"));
  if (!existing)
    changes.push({
      op: "add",
      path: `${path}/nodes/${at}`,
      value: {
        kind: "manhole",
        name,
        x: round(x, 2),
        y: round(y, 2),
        cover: round(ground, 3),
        invert: end,
        diameter: ringFor(parts, diameter, ground - end),
      },
    });
  const joined = Object.values(network.links).some(
    (link) => isConduit(link) && link.upstream === from && link.downstream === at,
  );
  if (above && from && from !== at && !joined)
    changes.push({
      op: "add",
      path: `${path}/links/${makeId()}`,
      value: {
        kind: "pipe",
        name: `${above.name}–${name}`,
        upstream: from,
        downstream: at,
        length,
        upstream_invert: above.invert,
        downstream_invert: end,
        section: { shape: "circular", diameter },
        material: defaults.material,
        roughness: defaults.roughness,
      },
    });
  return { changes, at };
}

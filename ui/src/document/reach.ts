import type { Network } from "./types";

/** Everything whose water reaches an element ("above"), or that its water reaches ("below"), the element included. */
export function reach(network: Network, element: string, way: "above" | "below"): Set<string> {
  const links = Object.entries(network.links);
  const start = network.links[element];
  const ground = network.catchments[element];
  const found = new Set([element]);
  const open = start ? [way === "above" ? start.upstream : start.downstream] : [ground ? ground.node : element];
  if (ground && way === "above") return found;
  const next = new Map<string, [string, string][]>();
  for (const [id, link] of links) {
    const [from, to] = way === "above" ? [link.downstream, link.upstream] : [link.upstream, link.downstream];
    next.set(from, [...(next.get(from) ?? []), [id, to]]);
  }
  for (let node = open.pop(); node; node = open.pop()) {
    if (node !== element && found.has(node)) continue;
    found.add(node);
    for (const [id, to] of next.get(node) ?? []) {
      found.add(id);
      if (!found.has(to)) open.push(to);
    }
  }
  if (way === "above")
    for (const [id, { node }] of Object.entries(network.catchments)) if (node && found.has(node)) found.add(id);
  return found;
}

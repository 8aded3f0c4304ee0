import type { Network } from "../../document/types";

/** Ids of nodes so that every node comes after all that drain to it, runs kept together. */
export function flowOrder(network: Network): string[] {
  const above = new Map<string, string[]>();
  const drains = new Set<string>();
  for (const link of Object.values(network.links)) {
    above.set(link.downstream, [...(above.get(link.downstream) ?? []), link.upstream]);
    drains.add(link.upstream);
  }
  const byName = (a: string, b: string) => ((network.nodes[a]?.name ?? "") < (network.nodes[b]?.name ?? "") ? -1 : 1);
  const all = Object.keys(network.nodes).sort(byName);
  const order: string[] = [];
  const seen = new Set<string>();
  for (const root of [...all.filter((id) => !drains.has(id)), ...all]) {
    const stack: [string, boolean][] = [[root, false]];
    for (let top = stack.pop(); top; top = stack.pop()) {
      const [node, ready] = top;
      if (ready) {
        order.push(node);
        continue;
      }
      if (seen.has(node)) continue;
      seen.add(node);
      stack.push([node, true]);
      const feeders = [...new Set(above.get(node) ?? [])].sort((a, b) => byName(b, a));
      for (const feeder of feeders) stack.push([feeder, false]);
    }
  }
  return order;
}

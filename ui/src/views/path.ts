import { isConduit, levelOf, type Network } from "../document/types";

/** Links from the head of the run that an element lies on, down to the outfall. */
export function runThrough(network: Network, element: string | null): string[] {
  const links = Object.entries(network.links);
  const preferPipe = (a: string, b: string) => {
    const [p, q] = [network.links[a], network.links[b]];
    return Number(isConduit(q)) - Number(isConduit(p)) || (level(q) ?? 0) - (level(p) ?? 0);
  };
  const level = (link: Network["links"][string] | undefined) =>
    isConduit(link) ? -link.upstream_invert : link ? -levelOf(link) : 0;
  const below = (node: string, passed: Set<string>) =>
    links
      .filter(([, l]) => l.upstream === node && !passed.has(l.downstream))
      .map(([id]) => id)
      .sort(preferPipe)[0];
  const above = (node: string) => links.filter(([, l]) => l.downstream === node).map(([id]) => id);

  const lengthAbove = new Map<string, [number, string | null]>();
  const visit = (node: string, seen: Set<string>): [number, string | null] => {
    const known = lengthAbove.get(node);
    if (known) return known;
    let best: [number, string | null] = [0, null];
    for (const id of above(node)) {
      const link = network.links[id];
      if (!link || seen.has(link.upstream)) continue;
      const [more] = visit(link.upstream, new Set([...seen, node]));
      const total = more + (isConduit(link) ? link.length : 1);
      if (total > best[0]) best = [total, id];
    }
    lengthAbove.set(node, best);
    return best;
  };

  let start: string | undefined;
  const path: string[] = [];
  if (element && network.links[element]) {
    path.push(element);
    start = network.links[element]?.upstream;
  } else start = element && network.nodes[element] ? element : undefined;
  if (!start) {
    const outfall = Object.keys(network.nodes).find((id) => network.nodes[id]?.kind === "outfall");
    if (!outfall) return [];
    start = outfall;
  }
  const up: string[] = [];
  const seen = new Set<string>();
  for (let node: string | undefined = start; node && !seen.has(node); ) {
    seen.add(node);
    const link: string | null = visit(node, new Set())[1];
    if (!link) break;
    up.unshift(link);
    node = network.links[link]?.upstream;
  }
  let node = path.length ? network.links[path[0] ?? ""]?.downstream : start;
  while (node) {
    seen.add(node); // in a loop no node comes twice
    const next = below(node, seen);
    if (!next) break;
    path.push(next);
    node = network.links[next]?.downstream;
  }
  return [...up, ...path];
}

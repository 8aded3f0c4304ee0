import { jointsOf } from "../document/joints";
import { isConduit, isStore, type Network } from "../document/types";
import { levelOf } from ".";

/** Links from the head of the run that an element lies on, down to the outfall. */
export function runThrough(network: Network, element: string | null): string[] {
  const joints = jointsOf(network);
  const preferPipe = (a: string, b: string) => {
    const [p, q] = [network.links[a], network.links[b]];
    return Number(isConduit(q)) - Number(isConduit(p)) || (level(q) ?? 0) - (level(p) ?? 0);
  };
  const level = (link: Network["links"][string] | undefined) =>
    isConduit(link) ? -link.upstream_invert : link ? -levelOf(link) : 0;
  const below = (node: string, passed: Set<string>) =>
    (joints.out.get(node) ?? []).filter((id) => !passed.has(network.links[id]?.downstream ?? "")).sort(preferPipe)[0];
  const above = (node: string) => joints.into.get(node) ?? [];

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

/** Links of the shortest way with the water from one node to another; null where there is none. */
function wayDown(network: Network, from: string, to: string): string[] | null {
  const { out } = jointsOf(network);
  const far = new Map<string, { length: number; by: string | null }>([[from, { length: 0, by: null }]]);
  const open = [from];
  while (open.length) {
    open.sort((a, b) => (far.get(b)?.length ?? 0) - (far.get(a)?.length ?? 0));
    const node = open.pop() ?? "";
    if (node === to) break;
    for (const id of out.get(node) ?? []) {
      const link = network.links[id];
      if (!link) continue;
      const length = (far.get(node)?.length ?? 0) + (isConduit(link) ? link.length : 1);
      if (length >= (far.get(link.downstream)?.length ?? Number.POSITIVE_INFINITY)) continue;
      far.set(link.downstream, { length, by: id });
      open.push(link.downstream);
    }
  }
  if (!far.has(to)) return null;
  const path: string[] = [];
  for (let by = far.get(to)?.by; by; by = far.get(network.links[by]?.upstream ?? "")?.by) path.unshift(by);
  return path;
}

/** Links of the way through several nodes, in the order of the water; null where they do not lie on one way. */
export function wayThrough(network: Network, nodes: string[]): string[] | null {
  const order: string[] = [];
  for (const node of nodes) {
    // each goes before the first of those ahead that its water reaches
    const at = order.findIndex((other) => wayDown(network, node, other) !== null);
    order.splice(at < 0 ? order.length : at, 0, node);
  }
  const path: string[] = [];
  for (const [k, node] of order.slice(1).entries()) {
    const way = wayDown(network, order[k] ?? "", node);
    if (!way) return null;
    path.push(...way);
  }
  return path.length ? path : null;
}

/** Why there is no section between two picked nodes, in words; empty where there is one, or where others are picked. */
export function partedBy(network: Network, picked: ReadonlySet<string>): string {
  const [a = "", b = ""] = [...picked];
  const [one, two] = [network.nodes[a], network.nodes[b]];
  if (picked.size !== 2 || !one || !two || wayThrough(network, [a, b])) return "";
  return `No way leads with the water from ${one.name} to ${two.name}, nor back: pick two nodes of one run.`;
}

/** Those of some elements that are round pipes, and the ones that leave the nodes among them: what may be sized. */
export function roundPipes(network: Network, elements: Iterable<string>): string[] {
  const { out } = jointsOf(network);
  const links = [...elements].flatMap((id) => (network.nodes[id] ? (out.get(id) ?? []) : [id]));
  return [...new Set(links)].filter((id) => {
    const link = network.links[id];
    return link?.kind === "pipe" && link.section.shape === "circular";
  });
}

/** The stores that hold what some elements break: they themselves, or the nearest above an outfall or a control. */
export function storesNear(network: Network, elements: Iterable<string>): string[] {
  const found = new Set<string>();
  const seen = new Set<string>();
  const look = (node: string) => {
    if (seen.has(node)) return;
    seen.add(node);
    if (isStore(network.nodes[node])) {
      found.add(node);
      return;
    }
    for (const link of Object.values(network.links)) if (link.downstream === node) look(link.upstream);
  };
  for (const id of elements) {
    const [node, link] = [network.nodes[id], network.links[id]];
    if (isStore(node)) found.add(id);
    else if (node?.kind === "outfall") look(id);
    else if (link && !isConduit(link)) look(link.upstream);
  }
  return [...found];
}

import { courseOf, follows, lengthOf } from "./course";
import { freeName } from "./elements";
import type { Change } from "./store";
import { type Catchment, isConduit, type NetLink, type NetNode, type Network, type Point } from "./types";

type Ids = ReadonlySet<string>;
const round = (value: number, digits = 2) => Number(value.toFixed(digits));
const rounded = ([x, y]: Point): Point => [round(x), round(y)];

/** A network as it looks with some of its elements moved: bends go with both of their pipe's nodes or with the pipe. */
export function moved(network: Network, ids: Ids, dx: number, dy: number): Network {
  const by = ([x, y]: Point): Point => rounded([x + dx, y + dy]);
  const map = <T>(elements: Record<string, T>, change: (id: string, element: T) => T) =>
    Object.fromEntries(Object.entries(elements).map(([id, element]) => [id, change(id, element)]));
  return {
    nodes: map(network.nodes, (id, node) => {
      if (!ids.has(id)) return node;
      const [x, y] = by([node.x, node.y]);
      return { ...node, x, y, ...(node.kind === "basin" ? { base: node.base.map(by) } : {}) } as NetNode;
    }),
    links: map(network.links, (id, link) =>
      isConduit(link) && link.bends.length && (ids.has(id) || (ids.has(link.upstream) && ids.has(link.downstream)))
        ? { ...link, bends: link.bends.map(by) }
        : link,
    ),
    catchments: map(network.catchments, (id, ground) =>
      ids.has(id) ? { ...ground, polygon: ground.polygon.map(by) } : ground,
    ),
  };
}

/** Elements by their ids with some links, and the nodes that these links need. */
function part(network: Network, ids: Ids, wanted: (id: string, link: NetLink) => boolean): Network {
  const links = Object.fromEntries(Object.entries(network.links).filter(([id, link]) => wanted(id, link)));
  const needed = new Set([...ids, ...Object.values(links).flatMap((link) => [link.upstream, link.downstream])]);
  return {
    nodes: Object.fromEntries(Object.entries(network.nodes).filter(([id]) => needed.has(id))),
    links,
    catchments: Object.fromEntries(Object.entries(network.catchments).filter(([id]) => ids.has(id))),
  };
}

/** The part of a network that a move touches: the elements, and the links of nodes with the nodes at their other ends. */
export const touched = (network: Network, ids: Ids) =>
  part(network, ids, (id, link) => ids.has(id) || ids.has(link.upstream) || ids.has(link.downstream));

/** Elements moved on the plan, with the pipes that hang on them; lengths that follow the drawing go on to do so. */
export function move(network: Network, path: string, ids: Ids, dx: number, dy: number): Change[] {
  const after = moved(network, ids, dx, dy);
  const changes: Change[] = [];
  const set = (at: string, value: unknown) => changes.push({ op: "replace", path: `${path}/${at}`, value });
  for (const [id, node] of Object.entries(after.nodes)) {
    const before = network.nodes[id];
    if (node === before) continue;
    set(`nodes/${id}/x`, node.x);
    set(`nodes/${id}/y`, node.y);
    if (node.kind === "basin") set(`nodes/${id}/base`, node.base);
  }
  for (const [id, link] of Object.entries(after.links)) {
    const before = network.links[id];
    if (!isConduit(link) || !before) continue;
    if (link !== before) set(`links/${id}/bends`, link.bends);
    const [drawn, now] = [lengthOf(courseOf(network, before)), lengthOf(courseOf(after, link))];
    if (Math.abs(now - drawn) > 0.005 && follows(link.length, drawn))
      set(`links/${id}/length`, Math.max(round(now), 0.1));
  }
  for (const [id, ground] of Object.entries(after.catchments))
    if (ground !== network.catchments[id] && ground.polygon.length) set(`catchments/${id}/polygon`, ground.polygon);
  return changes;
}

/** All that goes when elements go: themselves, and the links of a node. What names them elsewhere is let go. */
export function removal(network: Network, path: string, ids: Iterable<string>): { changes: Change[]; also: string[] } {
  const gone = new Set(ids);
  const changes: Change[] = [];
  const also: string[] = [];
  for (const [key, link] of Object.entries(network.links)) {
    if (!gone.has(key) && !gone.has(link.upstream) && !gone.has(link.downstream)) continue;
    changes.push({ op: "remove", path: `${path}/links/${key}` });
    if (!gone.has(key)) also.push(link.name);
  }
  for (const [key, ground] of Object.entries(network.catchments)) {
    if (gone.has(key)) changes.push({ op: "remove", path: `${path}/catchments/${key}` });
    else if (ground.node && gone.has(ground.node))
      changes.push({ op: "replace", path: `${path}/catchments/${key}/node`, value: null });
    if (!gone.has(key) && ground.over && gone.has(ground.over))
      changes.push({ op: "replace", path: `${path}/catchments/${key}/over`, value: null });
  }
  for (const [key, node] of Object.entries(network.nodes))
    if (!gone.has(key) && node.kind === "inlet" && node.bypass && gone.has(node.bypass))
      changes.push({ op: "replace", path: `${path}/nodes/${key}/bypass`, value: null });
  for (const key of Object.keys(network.nodes))
    if (gone.has(key)) changes.push({ op: "remove", path: `${path}/nodes/${key}` });
  return { changes, also };
}

/** What is copied: elements by their ids, whole; a copied link brings its nodes. */
export const copied = (network: Network, ids: Ids) => part(network, ids, (id) => ids.has(id));

/** Every place of a network, given by `change` from where it was. */
function mapped(network: Network, change: (at: Point) => Point): Network {
  const each = <T>(elements: Record<string, T>, of: (element: T) => T) =>
    Object.fromEntries(Object.entries(elements).map(([id, element]) => [id, of(element)]));
  return {
    nodes: each(network.nodes, (node) => {
      const [x, y] = change([node.x, node.y]);
      return { ...node, x, y, ...(node.kind === "basin" ? { base: node.base.map(change) } : {}) } as NetNode;
    }),
    links: each(network.links, (link) => (isConduit(link) ? { ...link, bends: link.bends.map(change) } : link)),
    catchments: each(network.catchments, (ground) => ({ ...ground, polygon: ground.polygon.map(change) })),
  };
}

/** The middle of a network's extent. */
export function middleOf(network: Network): Point {
  const points = [
    ...Object.values(network.nodes).map((node): Point => [node.x, node.y]),
    ...Object.values(network.catchments).flatMap((ground) => ground.polygon),
  ];
  const mid = (values: number[]) => (Math.min(...values) + Math.max(...values)) / 2;
  return points.length ? [mid(points.map(([x]) => x)), mid(points.map(([, y]) => y))] : [0, 0];
}

/** Mirrored from east to west about its middle. */
export function mirrored(network: Network): Network {
  const [cx] = middleOf(network);
  return mapped(network, ([x, y]) => [2 * cx - x, y]);
}

/** Turned about its middle, degrees against the clock. */
export function turned(network: Network, degrees: number): Network {
  const [cx, cy] = middleOf(network);
  const [cos, sin] = [Math.cos((degrees * Math.PI) / 180), Math.sin((degrees * Math.PI) / 180)];
  return mapped(network, ([x, y]) => [cx + cos * (x - cx) - sin * (y - cy), cy + sin * (x - cx) + cos * (y - cy)]);
}

/** A network with its middle at a place. */
export function centred(network: Network, x: number, y: number): Network {
  const [cx, cy] = middleOf(network);
  return mapped(network, ([px, py]) => rounded([px + x - cx, py + y - cy]));
}

/** What was copied, pasted where it stands, under ids and names of its own. What it names outside itself is let go. */
export function pasted(
  network: Network,
  path: string,
  clip: Network,
  makeId: () => string = () => crypto.randomUUID(),
): { changes: Change[]; ids: string[] } {
  const idOf = new Map(
    [...Object.keys(clip.nodes), ...Object.keys(clip.links), ...Object.keys(clip.catchments)].map((id) => [
      id,
      makeId(),
    ]),
  );
  const changes: Change[] = [];
  const taken = {
    nodes: new Set(Object.values(network.nodes).map((n) => n.name)),
    links: new Set(Object.values(network.links).map((l) => l.name)),
    catchments: new Set(Object.values(network.catchments).map((c) => c.name)),
  };
  const nameOf = new Map<string, string>();
  const put = (group: keyof Network, id: string, value: NetNode | NetLink | Catchment, wanted = value.name) => {
    const name = taken[group].has(wanted) ? freeName(taken[group], wanted) : wanted;
    taken[group].add(name);
    nameOf.set(id, name);
    changes.push({ op: "add", path: `${path}/${group}/${idOf.get(id)}`, value: { ...value, name } });
  };
  const { compare } = new Intl.Collator("en", { numeric: true });
  const inOrder = Object.entries(clip.nodes).sort(([, a], [, b]) => compare(a.name, b.name));
  for (const [id, node] of inOrder)
    put("nodes", id, node.kind === "inlet" ? { ...node, bypass: idOf.get(node.bypass ?? "") ?? null } : node);
  for (const [id, link] of Object.entries(clip.links)) {
    const named = `${clip.nodes[link.upstream]?.name}–${clip.nodes[link.downstream]?.name}`;
    const ends = { upstream: idOf.get(link.upstream) ?? "", downstream: idOf.get(link.downstream) ?? "" };
    put(
      "links",
      id,
      { ...link, ...ends },
      link.name === named ? `${nameOf.get(link.upstream)}–${nameOf.get(link.downstream)}` : link.name,
    );
  }
  for (const [id, ground] of Object.entries(clip.catchments))
    put("catchments", id, {
      ...ground,
      node: idOf.get(ground.node ?? "") ?? null,
      over: idOf.get(ground.over ?? "") ?? null,
    });
  return { changes, ids: [...idOf.values()] };
}

import { courseOf, follows, lengthOf, nearestOn } from "./course";
import { freshName } from "./elements";
import type { Change } from "./store";
import { type Conduit, isConduit, type NetLink, type NetNode, type Network, type Point } from "./types";

const round = (value: number, digits: number) => Number(value.toFixed(digits));
const between = (network: Network, up: string, down: string) =>
  `${network.nodes[up]?.name}–${network.nodes[down]?.name}`;

/** Where on a link a place falls: the link's id, the share of its length, and the distance; none beyond `within` m. */
export function linkNear(network: Network, x: number, y: number, within: number): { id: string; share: number } | null {
  let found: { id: string; share: number } | null = null;
  let least = within;
  for (const [id, link] of Object.entries(network.links)) {
    if (!isConduit(link)) continue;
    const { share, distance } = nearestOn(courseOf(network, link), x, y);
    if (share <= 0.01 || share >= 0.99 || distance >= least) continue;
    least = distance;
    found = { id, share };
  }
  return found;
}

/** Level of a conduit's bed at a share of its length. */
function bedAt(link: Conduit, share: number): number {
  const at = share * link.length;
  const inner = link.kind === "channel" ? link.bed : [];
  const points = [
    { chainage: 0, level: link.upstream_invert },
    ...inner,
    { chainage: link.length, level: link.downstream_invert },
  ];
  const next = Math.max(
    1,
    points.findIndex((p) => p.chainage >= at),
  );
  const [p, q] = [points[next - 1], points[next]];
  if (!p || !q) return link.upstream_invert;
  return p.level + ((q.level - p.level) * (at - p.chainage)) / (q.chainage - p.chainage);
}

/** The place at a share of a course's length, and the segment that it lies on. */
function alongCourse(points: Point[], share: number): { segment: number; at: Point } {
  let left = share * lengthOf(points);
  for (const [segment, [bx, by]] of points.slice(1).entries()) {
    const [ax, ay] = points[segment] ?? [bx, by];
    const length = Math.hypot(bx - ax, by - ay);
    if (left <= length || segment === points.length - 2) {
      const t = length > 0 ? Math.min(left / length, 1) : 0;
      return { segment, at: [ax + t * (bx - ax), ay + t * (by - ay)] };
    }
    left -= length;
  }
  return { segment: 0, at: points[0] ?? [0, 0] };
}

/** A node set on a conduit: the conduit ends there and a second one goes on, alike in all but length and levels. */
export function split(
  network: Network,
  path: string,
  on: { id: string; share: number },
  node: Partial<NetNode>,
  makeId: () => string = () => crypto.randomUUID(),
): { changes: Change[]; at: string } {
  const link = network.links[on.id] as Conduit;
  const [a, b] = [network.nodes[link.upstream], network.nodes[link.downstream]] as [NetNode, NetNode];
  const { segment, at: place } = alongCourse(courseOf(network, link), on.share);
  const at = makeId();
  const level = round(bedAt(link, on.share), 3);
  const first = round(on.share * link.length, 2);
  const named = link.name === between(network, link.upstream, link.downstream);
  const kept = {
    ...node,
    x: round(place[0], 2),
    y: round(place[1], 2),
    invert: level,
  };
  const rest: Conduit = {
    ...link,
    name: named ? `${node.name}–${b.name}` : freshName(network, link.kind),
    upstream: at,
    length: round(link.length - first, 2),
    bends: link.bends.slice(segment),
    upstream_invert: level,
    entry_loss: 0,
    bend_loss: 0,
  };
  const head: Partial<Conduit> = {
    name: named ? `${a.name}–${node.name}` : link.name,
    downstream: at,
    length: first,
    bends: link.bends.slice(0, segment),
    downstream_invert: level,
    exit_loss: null,
    flap: false,
  };
  if (link.kind === "channel" && rest.kind === "channel") {
    rest.bed = link.bed.flatMap((p) => (p.chainage > first ? [{ ...p, chainage: round(p.chainage - first, 2) }] : []));
    Object.assign(head, { bed: link.bed.filter((p) => p.chainage < first) });
  }
  return {
    changes: [
      { op: "add", path: `${path}/nodes/${at}`, value: kept },
      ...Object.entries(head).map(
        ([field, value]): Change => ({ op: "replace", path: `${path}/links/${on.id}/${field}`, value }),
      ),
      { op: "add", path: `${path}/links/${makeId()}`, value: rest },
    ],
    at,
  };
}

/** A link turned round: its ends change places with all that belongs to them. */
export function turnRound(network: Network, path: string, id: string): Change[] {
  const link = network.links[id] as NetLink;
  const turned: Record<string, unknown> = { upstream: link.downstream, downstream: link.upstream };
  if (link.name === between(network, link.upstream, link.downstream))
    turned.name = between(network, link.downstream, link.upstream);
  if (isConduit(link)) {
    turned.upstream_invert = link.downstream_invert;
    turned.downstream_invert = link.upstream_invert;
    turned.bends = [...link.bends].reverse();
    // no exit loss of its own: the start value of the other end
    turned.entry_loss = link.exit_loss ?? 0;
    turned.exit_loss = link.entry_loss || null;
    if (link.kind === "channel")
      turned.bed = link.bed.map((p) => ({ ...p, chainage: round(link.length - p.chainage, 3) })).reverse();
  }
  return Object.entries(turned).map(([field, value]) => ({
    op: "replace",
    path: `${path}/links/${id}/${field}`,
    value,
  }));
}

/** One end of a link moved to another node; an invert at the bottom of the old node goes to the bottom of the new one. */
export function reroute(network: Network, path: string, id: string, end: "upstream" | "downstream", to: string) {
  const link = network.links[id] as NetLink;
  const [before, after] = [network.nodes[link[end]], network.nodes[to]] as [NetNode, NetNode];
  const changed: Record<string, unknown> = { [end]: to };
  const ends = { upstream: link.upstream, downstream: link.downstream, [end]: to };
  if (link.name === between(network, link.upstream, link.downstream))
    changed.name = between(network, ends.upstream, ends.downstream);
  if (isConduit(link)) {
    if (follows(link.length, lengthOf(courseOf(network, link))))
      changed.length = Math.max(round(lengthOf(courseOf(network, { ...link, ...ends })), 2), 0.1);
    const invert = `${end}_invert` as const;
    if (Math.abs(link[invert] - before.invert) < 1e-6) changed[invert] = after.invert;
  }
  return Object.entries(changed).map(
    ([field, value]): Change => ({ op: "replace", path: `${path}/links/${id}/${field}`, value }),
  );
}

/** A conduit's course through other corners; a length that follows the drawing goes on to do so. */
export function redraw(network: Network, path: string, id: string, bends: Point[]): Change[] {
  const link = network.links[id] as Conduit;
  const kept = bends.map(([x, y]): Point => [round(x, 2), round(y, 2)]);
  const drawn = lengthOf(courseOf(network, { ...link, bends: kept }));
  return [
    { op: "replace", path: `${path}/links/${id}/bends`, value: kept },
    ...(follows(link.length, lengthOf(courseOf(network, link)))
      ? [{ op: "replace", path: `${path}/links/${id}/length`, value: Math.max(round(drawn, 2), 0.1) } as Change]
      : []),
  ];
}

/**
 * A node taken out of a run: the conduit that arrives goes on to where the next one led. Only where one arrives and one
 * leaves, both of the same section, and nothing else hangs on the node but catchments, which then drain to the node below
 * (above an outfall: to the node above).
 */
export function join(network: Network, path: string, id: string): Change[] | null {
  const node = network.nodes[id];
  const links = Object.entries(network.links);
  const into = links.filter(([, link]) => link.downstream === id);
  const out = links.filter(([, link]) => link.upstream === id);
  const [above, below] = [into[0]?.[1], out[0]?.[1]];
  if (!node || into.length !== 1 || out.length !== 1 || above?.kind !== "pipe" || below?.kind !== "pipe") return null;
  const alike = (pipe: typeof above) => JSON.stringify([pipe.section, pipe.roughness, pipe.barrels, pipe.silt]);
  if (alike(above) !== alike(below) || ("inflows" in node && node.inflows?.length)) return null;
  if (above.upstream === below.downstream) return null;
  const kept = into[0]?.[0];
  // the course keeps the corner where the node stood, unless it lies on the way
  const straight = [...courseOf(network, above).slice(0, -1), ...courseOf(network, below).slice(1)];
  const around: Point[] = [...above.bends, [node.x, node.y], ...below.bends];
  const receiver = network.nodes[below.downstream]?.kind === "outfall" ? above.upstream : below.downstream;
  const named = above.name === between(network, above.upstream, id);
  const joined = {
    name: named ? between(network, above.upstream, below.downstream) : above.name,
    downstream: below.downstream,
    length: round(above.length + below.length, 2),
    bends: follows(above.length + below.length, lengthOf(straight)) ? straight.slice(1, -1) : around,
    downstream_invert: below.downstream_invert,
    exit_loss: below.exit_loss,
    bend_loss: above.bend_loss + below.bend_loss,
    flap: below.flap,
  };
  return [
    ...Object.entries(joined).map(
      ([field, value]): Change => ({ op: "replace", path: `${path}/links/${kept}/${field}`, value }),
    ),
    { op: "remove", path: `${path}/links/${out[0]?.[0]}` },
    ...Object.entries(network.catchments).flatMap(([key, ground]): Change[] =>
      ground.node === id ? [{ op: "replace", path: `${path}/catchments/${key}/node`, value: receiver }] : [],
    ),
    ...Object.entries(network.nodes).flatMap(([key, other]): Change[] =>
      other.kind === "inlet" && other.bypass === id
        ? [{ op: "replace", path: `${path}/nodes/${key}/bypass`, value: null }]
        : [],
    ),
    { op: "remove", path: `${path}/nodes/${id}` },
  ];
}

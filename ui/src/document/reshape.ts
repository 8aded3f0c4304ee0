import { freshName } from "./elements";
import type { Change } from "./store";
import { type Conduit, isConduit, type NetLink, type NetNode, type Network } from "./types";

const round = (value: number, digits: number) => Number(value.toFixed(digits));
const between = (network: Network, up: string, down: string) =>
  `${network.nodes[up]?.name}–${network.nodes[down]?.name}`;

/** Where on a link a place falls: the link's id, the share of its length, and the distance; none beyond `within` m. */
export function linkNear(network: Network, x: number, y: number, within: number): { id: string; share: number } | null {
  let found: { id: string; share: number } | null = null;
  let least = within;
  for (const [id, link] of Object.entries(network.links)) {
    const [a, b] = [network.nodes[link.upstream], network.nodes[link.downstream]];
    if (!isConduit(link) || !a || !b) continue;
    const [dx, dy] = [b.x - a.x, b.y - a.y];
    const share = ((x - a.x) * dx + (y - a.y) * dy) / (dx * dx + dy * dy || 1);
    const distance = Math.hypot(x - a.x - share * dx, y - a.y - share * dy);
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
  const at = makeId();
  const level = round(bedAt(link, on.share), 3);
  const first = round(on.share * link.length, 2);
  const named = link.name === between(network, link.upstream, link.downstream);
  const laid = {
    ...node,
    x: round(a.x + on.share * (b.x - a.x), 2),
    y: round(a.y + on.share * (b.y - a.y), 2),
    invert: level,
  };
  const rest: Conduit = {
    ...link,
    name: named ? `${node.name}–${b.name}` : freshName(network, link.kind),
    upstream: at,
    length: round(link.length - first, 2),
    upstream_invert: level,
    entry_loss: 0,
    bend_loss: 0,
  };
  const head: Partial<Conduit> = {
    name: named ? `${a.name}–${node.name}` : link.name,
    downstream: at,
    length: first,
    downstream_invert: level,
    exit_loss: 0,
    flap: false,
  };
  if (link.kind === "channel" && rest.kind === "channel") {
    rest.bed = link.bed.flatMap((p) => (p.chainage > first ? [{ ...p, chainage: round(p.chainage - first, 2) }] : []));
    Object.assign(head, { bed: link.bed.filter((p) => p.chainage < first) });
  }
  return {
    changes: [
      { op: "add", path: `${path}/nodes/${at}`, value: laid },
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
    turned.entry_loss = link.exit_loss;
    turned.exit_loss = link.entry_loss;
    if (link.kind === "channel")
      turned.bed = link.bed.map((p) => ({ ...p, chainage: round(link.length - p.chainage, 3) })).reverse();
  }
  return Object.entries(turned).map(([field, value]) => ({
    op: "replace",
    path: `${path}/links/${id}/${field}`,
    value,
  }));
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
  const receiver = network.nodes[below.downstream]?.kind === "outfall" ? above.upstream : below.downstream;
  const named = above.name === between(network, above.upstream, id);
  const joined = {
    name: named ? between(network, above.upstream, below.downstream) : above.name,
    downstream: below.downstream,
    length: round(above.length + below.length, 2),
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

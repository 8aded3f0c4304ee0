import { CONTROL_KINDS, controlKind } from "../kinds";
import type { NetLink, NetNode, Network } from "./types";

/** What can be drawn on the plan: nodes with one click, links with a click on each of their nodes. */
export const NODE_KINDS = {
  manhole: "Manhole",
  junction: "Junction",
  inlet: "Inlet",
  pond: "Pond, by areas",
  basin: "Pond, by side slope",
  tank: "Tank",
  stone: "Stone-filled store",
  outfall: "Outfall",
} as const;
export const CONDUIT_KINDS = {
  pipe: "Pipe",
  channel: "Channel",
  trench: "Filter trench",
} as const;
/** Every kind of link with its label. */
export const LINK_KINDS = {
  ...CONDUIT_KINDS,
  ...Object.fromEntries(Object.values(CONTROL_KINDS).map(({ kind, label }) => [kind, label])),
} as Record<LinkKind, string>;
export type NodeKind = keyof typeof NODE_KINDS;
export type LinkKind = NetLink["kind"];
/** What the plan can be told to draw. */
export type Drawable = NodeKind | LinkKind | "run" | "ground";
export const isNodeKind = (kind: string): kind is NodeKind => kind in NODE_KINDS;
export const isLinkKind = (kind: string): kind is LinkKind => kind in LINK_KINDS;
/** What is drawn corner by corner. */
export const isOutlined = (kind: Drawable): kind is "ground" | "basin" => kind === "ground" || kind === "basin";

const LETTER: Record<string, string> = {
  manhole: "M",
  junction: "J",
  inlet: "G",
  pond: "P",
  basin: "P",
  tank: "T",
  stone: "S",
  outfall: "O",
  pipe: "L",
  channel: "C",
  trench: "F",
};

/** The first free name of a kind: M1, M2, …  */
export function freshName(network: Network, kind: NodeKind | LinkKind): string {
  const taken = new Set([...Object.values(network.nodes), ...Object.values(network.links)].map((e) => e.name));
  return freeName(taken, `${CONTROL_KINDS[kind]?.names ?? LETTER[kind]}0`);
}

/** The next free name of a row: A3 after A2, or the first free one behind it. */
export function freeName(taken: ReadonlySet<string>, name: string): string {
  const [, stem = "", digits = ""] = /^(.*?)(\d*)$/.exec(name) ?? [];
  for (let k = Number(digits || 1) + 1; ; k++) if (!taken.has(`${stem}${k}`)) return `${stem}${k}`;
}

function nearest(network: Network, x: number, y: number): { ground: number; invert: number } {
  let best = { ground: 10, invert: 8.5 };
  let least = Number.POSITIVE_INFINITY;
  for (const node of Object.values(network.nodes)) {
    const distance = Math.hypot(node.x - x, node.y - y);
    if (distance >= least) continue;
    least = distance;
    best = { ground: node.kind === "outfall" ? (node.ground ?? node.invert + 1) : node.cover, invert: node.invert };
  }
  return best.ground > best.invert ? best : { ground: best.invert + 1.5, invert: best.invert };
}

/** Ground level at a place: that of the nearest node there is. */
export const groundAt = (network: Network, x: number, y: number) => nearest(network, x, y).ground;

/** A new node at a place; levels as at the nearest node there is, or as deep below the ground where that is known. */
export function makeNode(
  network: Network,
  kind: NodeKind,
  x: number,
  y: number,
  known: number | null = null,
): Partial<NetNode> {
  const near = nearest(network, x, y);
  const ground = known ?? near.ground;
  const invert = near.invert + ground - near.ground;
  const at = { name: freshName(network, kind), x: round(x, 2), y: round(y, 2), invert: round(invert, 3) };
  const cover = round(ground, 3);
  const deep = round(cover - invert, 3);
  switch (kind) {
    case "outfall":
      return { ...at, kind, ground: cover };
    case "inlet":
      return { ...at, kind, cover, capacity: 0.02 };
    case "pond":
    case "tank":
      return {
        ...at,
        kind: "storage",
        form: kind,
        cover,
        table: [
          { depth: 0, area: kind === "pond" ? 100 : 50 },
          { depth: deep, area: kind === "pond" ? 200 : 50 },
        ],
      };
    case "basin":
      return {
        ...at,
        kind,
        cover,
        side_slope: 3,
        base: [
          [-8, -5],
          [8, -5],
          [8, 5],
          [-8, 5],
        ].map(([dx = 0, dy = 0]) => [round(x + dx, 2), round(y + dy, 2)]) as [number, number][],
      };
    case "stone":
      return {
        ...at,
        kind,
        cover,
        length: 10,
        width: 5,
        stone_depth: Math.min(deep, 0.5),
        base_slope: 0.01,
        porosity: 0.35,
      };
    default:
      return { ...at, kind, cover };
  }
}

/** A new link between two nodes; its length is the drawn one, its inverts those of the nodes. */
export function makeLink(network: Network, kind: LinkKind, upstream: string, downstream: string): Partial<NetLink> {
  const [a, b] = [network.nodes[upstream], network.nodes[downstream]];
  const ends = { name: freshName(network, kind), upstream, downstream };
  const low = a?.invert ?? 0;
  const high = a && a.kind !== "outfall" ? a.cover : low + 1.5;
  const conduit = {
    ...ends,
    length: Math.max(round(Math.hypot((a?.x ?? 0) - (b?.x ?? 0), (a?.y ?? 0) - (b?.y ?? 0)), 2), 1),
    upstream_invert: low,
    downstream_invert: b?.invert ?? 0,
  };
  const crest = round(low + 0.7 * (high - low), 3);
  switch (kind) {
    case "pipe":
      return { ...conduit, kind, section: { shape: "circular", diameter: 0.3 } };
    case "channel":
      return {
        ...conduit,
        kind,
        section: { shape: "trapezoidal", base_width: 0.5, left_slope: 2, right_slope: 2, height: 0.5 },
      };
    case "trench":
      return { ...conduit, kind, width: 0.6, height: 1, porosity: 0.35, pipe: { shape: "circular", diameter: 0.15 } };
    default:
      return { ...ends, kind, ...controlKind({ kind }).begin(low, high, crest) } as Partial<NetLink>;
  }
}

const round = (value: number, digits: number) => Number(value.toFixed(digits));

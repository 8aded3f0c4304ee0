import { isConduit, type NetLink, type NetNode, type Network, topOf } from "../../document/types";
import type { Sight } from "./sight";

/** A run drawn out on a sheet: its links that are in sight and their nodes with their chainage, and the scales of both axes. */
export type Frame = {
  links: { id: string; link: NetLink }[];
  ids: string[];
  nodes: NetNode[];
  /** Of the nodes, m from the head of the run. */
  chainage: number[];
  low: number;
  high: number;
  left: number;
  bottom: number;
  x: (chainage: number) => number;
  y: (level: number) => number;
  /** Chainage and level at a place of the drawing, px. */
  alongAt: (px: number) => number;
  levelAt: (py: number) => number;
  /** What of the run is drawn. */
  seen: Sight;
  /** m that a pixel is high. */
  perPixel: number;
  /** How many times higher than long a metre is drawn. */
  exaggeration: number;
};

/** Width in m that a control takes on the section. */
const CONTROL = 6;
const TOP = 34;
const RIGHT = 28;

/** Levels of a run from below its beds to above its grounds, and its length, m; null where an element has gone. */
export function wholeOf(network: Network, path: string[]): Sight | null {
  const links = path.flatMap((id) => network.links[id] ?? []);
  const nodes = [links[0]?.upstream ?? "", ...links.map((link) => link.downstream)].map((id) => network.nodes[id]);
  if (links.length === 0 || links.length !== path.length || nodes.some((node) => !node)) return null;
  const there = nodes.flatMap((node) => node ?? []);
  const beds = links.flatMap((link) => (isConduit(link) ? [link.upstream_invert, link.downstream_invert] : []));
  return {
    from: 0,
    to: links.reduce((sum, link) => sum + longOf(link), 0) || 1,
    low: Math.min(...there.map((n) => n.invert), ...beds) - 0.25,
    high: Math.max(...there.map(topOf)) + 0.45,
  };
}

const longOf = (link: NetLink) => (isConduit(link) ? link.length : CONTROL);

/**
 * The frame of a run; null where an element of it has gone meanwhile. `rows` of figures stand below the drawing.
 * Without a chosen exaggeration the levels in sight fill the height; with one they do so about their middle, and the
 * drawing of the whole is as high as it must be.
 */
export function frameOf(
  network: Network,
  path: string[],
  width: number,
  height: number,
  rows: number,
  chosen: number | null = null,
  sight: Sight | null = null,
): Frame | null {
  const whole = wholeOf(network, path);
  if (!whole) return null;
  const seen = sight ?? whole;
  const left = 62;
  const along = (seen.to - seen.from) / Math.max(width - left - RIGHT, 1);
  const room = Math.max(height - 16 - 16 * rows - TOP, 1);
  const perPixel = chosen ? along / chosen : (seen.high - seen.low) / room;
  const middle = (seen.low + seen.high) / 2;
  const [low, high] =
    chosen && sight ? [middle - (room / 2) * perPixel, middle + (room / 2) * perPixel] : [seen.low, seen.high];
  // links that reach into what is seen, with the nodes between them
  const [links, chainage]: [Frame["links"], number[]] = [[], []];
  let at = 0;
  for (const id of path) {
    const link = network.links[id] as NetLink;
    const end = at + longOf(link);
    if (end >= seen.from - 1e-9 && at <= seen.to + 1e-9) {
      if (links.length === 0) chainage.push(at);
      links.push({ id, link });
      chainage.push(end);
    }
    at = end;
  }
  const ids = [links[0]?.link.upstream ?? "", ...links.map(({ link }) => link.downstream)];
  return {
    links,
    ids,
    nodes: ids.flatMap((id) => network.nodes[id] ?? []),
    chainage,
    low,
    high,
    left,
    bottom: TOP + (high - low) / perPixel,
    x: (c) => left + (c - seen.from) / along,
    y: (z) => TOP + (high - z) / perPixel,
    alongAt: (px) => seen.from + (px - left) * along,
    levelAt: (py) => high - (py - TOP) * perPixel,
    seen: { ...seen, low, high },
    perPixel,
    exaggeration: along / perPixel,
  };
}

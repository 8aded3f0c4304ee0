import { isConduit, type NetLink, type NetNode, type Network, topOf } from "../../document/types";
import type { Stretch } from "./stretch";

/** A run drawn out on a sheet: its links and nodes with their chainage, and the scales of both axes. */
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
  /** m that a pixel is high. */
  perPixel: number;
  /** How many times higher than long a metre is drawn. */
  exaggeration: number;
};

/** Width in m that a control takes on the section. */
const CONTROL = 6;
const TOP = 34;
const RIGHT = 28;

/**
 * The frame of a run; null where an element of it has gone meanwhile. `rows` of figures stand below the drawing.
 * Without a chosen exaggeration the levels fill the height. Of a stretch of the run only that is drawn.
 */
export function frameOf(
  network: Network,
  path: string[],
  width: number,
  height: number,
  rows: number,
  chosen: number | null = null,
  stretch: Stretch | null = null,
): Frame | null {
  const all = path.flatMap((id) => {
    const link = network.links[id];
    return link ? [{ id, link }] : [];
  });
  const { first, count } = stretch ?? { first: 0, count: all.length };
  const links = all.slice(first, first + count);
  const ids = [links[0]?.link.upstream ?? "", ...links.map(({ link }) => link.downstream)];
  const nodes = ids.flatMap((id) => network.nodes[id] ?? []);
  if (links.length === 0 || nodes.length !== ids.length) return null;
  const long = (link: NetLink) => (isConduit(link) ? link.length : CONTROL);
  const before = all.slice(0, first).reduce((sum, { link }) => sum + long(link), 0);
  const chainage = [before];
  for (const { link } of links) chainage.push((chainage.at(-1) ?? 0) + long(link));
  const total = (chainage.at(-1) ?? 0) - before || 1;
  const beds = links.flatMap(({ link }) => (isConduit(link) ? [link.upstream_invert, link.downstream_invert] : []));
  const low = Math.min(...nodes.map((n) => n.invert), ...beds) - 0.25;
  const high = Math.max(...nodes.map(topOf)) + 0.45;
  const left = 62;
  const along = total / Math.max(width - left - RIGHT, 1);
  const perPixel = chosen ? along / chosen : (high - low) / Math.max(height - 16 - 16 * rows - TOP, 1);
  const bottom = TOP + (high - low) / perPixel;
  return {
    links,
    ids,
    nodes,
    chainage,
    low,
    high,
    left,
    bottom,
    x: (c) => left + (c - before) / along,
    y: (z) => TOP + (high - z) / perPixel,
    perPixel,
    exaggeration: along / perPixel,
  };
}

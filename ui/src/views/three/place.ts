import type { components } from "../../api/schema";
import { areaOf, courseOf, lengthOf } from "../../document/course";
import {
  depthOf,
  drawnAs,
  isConduit,
  isStore,
  type NetNode,
  type Network,
  outlineOf,
  type Store,
  topOf,
} from "../../document/types";

export type Surface = components["schemas"]["Surface"];
export type Spot = [number, number, number];

/** Where a network stands in the scene: metres from its middle, heights from its lowest bed, drawn higher on request. */
export type Scene = {
  middle: [number, number];
  base: number;
  top: number;
  /** Metres of the longer side on the plan. */
  span: number;
  upward: number;
  at: (x: number, y: number, level: number) => Spot;
};

export function sceneOf(network: Network, upward: number): Scene {
  const nodes = Object.values(network.nodes);
  const xs = nodes.map((n) => n.x);
  const ys = nodes.map((n) => n.y);
  const beds = Object.values(network.links).flatMap((l) =>
    isConduit(l) ? [l.upstream_invert, l.downstream_invert] : [],
  );
  const [west, east] = [Math.min(...xs), Math.max(...xs)];
  const [south, north] = [Math.min(...ys), Math.max(...ys)];
  const middle: [number, number] = [(west + east) / 2, (south + north) / 2];
  const base = Math.min(...nodes.map((n) => n.invert), ...beds);
  const top = Math.max(...nodes.map(topOf));
  return {
    middle,
    base,
    top,
    span: Math.max(east - west, north - south, 20),
    upward,
    at: (x, y, level) => [x - middle[0], y - middle[1], (level - base) * upward],
  };
}

/** A straight piece of a conduit: bed levels and places of both ends, and how far along the conduit they lie (0 to 1). */
export type Piece = {
  id: string;
  from: [number, number];
  to: [number, number];
  beds: [number, number];
  along: [number, number];
  height: number;
};

export function piecesOf(network: Network): Piece[] {
  return Object.entries(network.links).flatMap(([id, link]) => {
    if (!isConduit(link)) return [];
    const course = courseOf(network, link);
    const whole = lengthOf(course) || 1;
    const bed = (share: number) => link.upstream_invert + share * (link.downstream_invert - link.upstream_invert);
    let passed = 0;
    return course.slice(1).map((to, k): Piece => {
      const from = course[k] ?? to;
      const a = passed / whole;
      passed += Math.hypot(to[0] - from[0], to[1] - from[1]);
      const b = passed / whole;
      return { id, from, to, beds: [bed(a), bed(b)], along: [a, b], height: depthOf(link) };
    });
  });
}

/** A control as a straight line between its nodes at the level where it acts. */
export function controlsOf(network: Network): { id: string; from: NetNode; to: NetNode }[] {
  return Object.entries(network.links).flatMap(([id, link]) => {
    const [from, to] = [network.nodes[link.upstream], network.nodes[link.downstream]];
    return !isConduit(link) && from && to ? [{ id, from, to }] : [];
  });
}

/** Rings of a store from its floor to its bank: level, and the radius of a circle of the area there, m. */
export function ringsOf(store: Store): { level: number; radius: number }[] {
  const ring = (depth: number, area: number) => ({
    level: store.invert + depth,
    radius: Math.sqrt(Math.max(area, 0.5) / Math.PI),
  });
  const depth = store.cover - store.invert;
  if (store.kind === "storage") {
    const rows = store.table.map((row) => ring(row.depth, row.area));
    // a single area goes up to the cover
    return rows.length > 1 ? rows : [ring(0, store.table[0]?.area ?? 1), ring(depth, store.table[0]?.area ?? 1)];
  }
  if (store.kind === "stone") return [ring(0, store.length * store.width), ring(depth, store.length * store.width)];
  const drawn = ring(0, areaOf(outlineOf(store))).radius;
  const wide = depth * store.side_slope + (store.shelf?.width ?? 0);
  return drawnAs(store) === "base"
    ? [ring(0, areaOf(outlineOf(store))), { level: store.cover, radius: drawn + wide }]
    : [
        { level: store.invert, radius: Math.max(drawn - wide, 0.5) },
        { level: store.cover, radius: drawn },
      ];
}

/** Radius at a level between rings, m. */
export function radiusAt(rings: { level: number; radius: number }[], level: number): number {
  const above = rings.findIndex((r) => r.level >= level);
  const [a, b] = [rings[above - 1], rings[above]];
  if (!b) return rings.at(-1)?.radius ?? 0;
  if (!a) return b.radius;
  return a.radius + ((level - a.level) / (b.level - a.level || 1)) * (b.radius - a.radius);
}

/** Radius of the circle that a flood of a node is drawn as, m. */
export function floodRadius(node: NetNode): number {
  if (node.kind === "outfall") return 0;
  const area = isStore(node) ? Math.PI * (ringsOf(node).at(-1)?.radius ?? 1) ** 2 : node.ponded_area;
  return Math.sqrt(Math.max(area, 12) / Math.PI);
}

/** Level of the ground at a place by its meshes, m; not a number beyond them. */
export function groundAt(surface: Surface, x: number, y: number): number {
  const column = (x - surface.west) / surface.cell;
  const row = (y - surface.south) / surface.cell;
  const [j, i] = [Math.floor(column), Math.floor(row)];
  const corner = (di: number, dj: number) => surface.levels[i + di]?.[j + dj] ?? Number.NaN;
  const [u, v] = [column - j, row - i];
  return (
    corner(0, 0) * (1 - u) * (1 - v) + corner(0, 1) * u * (1 - v) + corner(1, 0) * (1 - u) * v + corner(1, 1) * u * v
  );
}

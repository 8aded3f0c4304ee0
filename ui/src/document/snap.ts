/** Places that a corner of an outline is drawn to: corners, crossings and edges of what lies there already. */
import { type Network, outlineOf, type Point, type Project } from "./types";

type Segment = [Point, Point];

/** Edges of the drawing under the network, of catchments and of ponds; `but` leaves one element out. */
function edgesOf(project: Project | null, network: Network, but: string | null): Segment[] {
  const lines: Point[][] = [];
  const ring = (points: Point[]) => lines.push([...points, points[0] as Point]);
  for (const item of project?.backdrop ?? [])
    if (item.kind === "building" || item.kind === "paving") ring(item.points as Point[]);
    else lines.push(item.points as Point[]);
  for (const [id, ground] of Object.entries(network.catchments))
    if (id !== but && ground.polygon.length > 2) ring(ground.polygon as Point[]);
  for (const [id, node] of Object.entries(network.nodes))
    if (id !== but && node.kind === "basin") ring(outlineOf(node));
  return lines.flatMap((line) => line.slice(1).map((to, k): Segment => [line[k] as Point, to]));
}

const apart = (a: Point, b: Point) => Math.hypot(a[0] - b[0], a[1] - b[1]);

/** The place on a segment that is nearest to a point. */
function foot([a, b]: Segment, at: Point): Point {
  const [dx, dy] = [b[0] - a[0], b[1] - a[1]];
  const share = ((at[0] - a[0]) * dx + (at[1] - a[1]) * dy) / Math.max(dx * dx + dy * dy, 1e-12);
  const t = Math.min(Math.max(share, 0), 1);
  return [a[0] + t * dx, a[1] + t * dy];
}

/** Where two segments cross; null where they do not. */
function crossing([a, b]: Segment, [c, d]: Segment): Point | null {
  const [px, py, qx, qy] = [b[0] - a[0], b[1] - a[1], d[0] - c[0], d[1] - c[1]];
  const turn = px * qy - py * qx;
  if (Math.abs(turn) < 1e-12) return null;
  const t = ((c[0] - a[0]) * qy - (c[1] - a[1]) * qx) / turn;
  const u = ((c[0] - a[0]) * py - (c[1] - a[1]) * px) / turn;
  return t < 0 || t > 1 || u < 0 || u > 1 ? null : [a[0] + t * px, a[1] + t * py];
}

/**
 * A place drawn to what lies within reach: to a node or a corner first, then to a crossing of edges, then to an edge.
 * The place itself where nothing does. within, in m.
 */
export function snapped(
  project: Project | null,
  network: Network,
  at: Point,
  within: number,
  but: string | null = null,
): Point {
  const near = edgesOf(project, network, but).filter((edge) => apart(foot(edge, at), at) <= within);
  const nodes = Object.entries(network.nodes).flatMap(([id, node]): Point[] => (id === but ? [] : [[node.x, node.y]]));
  const nearest = (places: Point[]): Point | null => {
    const reached = places.filter((place) => apart(place, at) <= within);
    reached.sort((a, b) => apart(a, at) - apart(b, at));
    return reached[0] ?? null;
  };
  const crossings = near.flatMap((one, k) =>
    near.slice(k + 1).flatMap((other): Point[] => {
      const found = crossing(one, other);
      return found ? [found] : [];
    }),
  );
  return nearest([...nodes, ...near.flat()]) ?? nearest(crossings) ?? nearest(near.map((edge) => foot(edge, at))) ?? at;
}

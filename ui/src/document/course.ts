import { isConduit, type NetLink, type Network, type Point } from "./types";

/** Corners of a link on the plan, from its upstream node to its downstream one; none where an end is missing. */
export function courseOf(network: Network, link: NetLink): Point[] {
  const [a, b] = [network.nodes[link.upstream], network.nodes[link.downstream]];
  return a && b ? [[a.x, a.y], ...(isConduit(link) ? link.bends : []), [b.x, b.y]] : [];
}

export const lengthOf = (points: Point[]) =>
  points.slice(1).reduce((sum, [x, y], i) => {
    const [x0, y0] = points[i] ?? [x, y];
    return sum + Math.hypot(x - x0, y - y0);
  }, 0);

/** Area of a ring whose last corner is joined to its first. */
export const areaOf = (ring: Point[]) =>
  Math.abs(
    ring.reduce((sum, [x, y], i) => {
      const [x1, y1] = ring[(i + 1) % ring.length] ?? [0, 0];
      return sum + x * y1 - x1 * y;
    }, 0) / 2,
  );

/** Where a place falls on a course: the segment, the share of the whole length, the place on it and the distance. */
export function nearestOn(points: Point[], x: number, y: number) {
  let found = { segment: 0, share: 0, at: points[0] ?? ([0, 0] as Point), distance: Number.POSITIVE_INFINITY };
  const whole = lengthOf(points) || 1;
  let passed = 0;
  for (const [segment, [bx, by]] of points.slice(1).entries()) {
    const [ax, ay] = points[segment] ?? [bx, by];
    const [dx, dy] = [bx - ax, by - ay];
    const along = Math.min(Math.max(((x - ax) * dx + (y - ay) * dy) / (dx * dx + dy * dy || 1), 0), 1);
    const at: Point = [ax + along * dx, ay + along * dy];
    const distance = Math.hypot(x - at[0], y - at[1]);
    const length = Math.hypot(dx, dy);
    if (distance < found.distance) found = { segment, share: (passed + along * length) / whole, at, distance };
    passed += length;
  }
  return found;
}

/** A kept length or area that follows its drawing goes on to follow it; a typed one that differs overrules. */
export const follows = (kept: number, drawn: number) => Math.abs(kept - drawn) <= Math.max(0.005 * drawn, 0.06);

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

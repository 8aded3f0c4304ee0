import { courseOf, lengthOf } from "./course";
import { type Conduit, depthOf, isConduit, type Network, type Point } from "./types";

/** A conduit seen end on beside a run: where, at what level its bed is, and how high it is. */
export type Beside = { id: string; name: string; chainage: number; bed: number; height: number };

/** Conduits that join the nodes of a run from elsewhere, or leave them. chainage : of the nodes, path : links of the run. */
export function joining(network: Network, path: string[], nodes: string[], chainage: number[]): Beside[] {
  const own = new Set(path);
  const at = new Map(nodes.map((node, i) => [node, chainage[i] ?? 0]));
  return Object.entries(network.links).flatMap(([id, link]) => {
    if (own.has(id) || !isConduit(link)) return [];
    const found = ([end, bed]: [string, number]): Beside[] => {
      const c = at.get(end);
      return c === undefined ? [] : [{ id, name: link.name, chainage: c, bed, height: depthOf(link) }];
    };
    return [...found([link.downstream, link.downstream_invert]), ...found([link.upstream, link.upstream_invert])];
  });
}

/** Where two segments cross, as shares of either; null where they do not. */
function crossing([a, b]: [Point, Point], [c, d]: [Point, Point]): [number, number] | null {
  const [ux, uy, vx, vy] = [b[0] - a[0], b[1] - a[1], d[0] - c[0], d[1] - c[1]];
  const cross = ux * vy - uy * vx;
  if (Math.abs(cross) < 1e-12) return null;
  const s = ((c[0] - a[0]) * vy - (c[1] - a[1]) * vx) / cross;
  const t = ((c[0] - a[0]) * uy - (c[1] - a[1]) * ux) / cross;
  return s > 0 && s < 1 && t > 0 && t < 1 ? [s, t] : null;
}

/** Each segment of a course with what has been passed before it. */
function segments(course: Point[]): { ends: [Point, Point]; passed: number; length: number }[] {
  let passed = 0;
  return course.slice(1).map((end, i) => {
    const ends: [Point, Point] = [course[i] ?? end, end];
    const length = lengthOf(ends);
    passed += length;
    return { ends, passed: passed - length, length };
  });
}

function extentOf(points: Point[]): [number, number, number, number] {
  let [west, south, east, north] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const [x, y] of points) {
    west = Math.min(west, x);
    east = Math.max(east, x);
    south = Math.min(south, y);
    north = Math.max(north, y);
  }
  return [west, south, east, north];
}

const bedAt = (link: Conduit, share: number) =>
  link.upstream_invert + share * (link.downstream_invert - link.upstream_invert);

/** Conduits that pass over or under a run without joining it. */
export function passing(network: Network, path: string[], chainage: number[]): Beside[] {
  const found: Beside[] = [];
  const own = new Set(path);
  // most pipes of a town lie nowhere near the run
  const [west, south, east, north] = extentOf(
    path.flatMap((id) => (network.links[id] ? courseOf(network, network.links[id]) : [])),
  );
  const near = (course: Point[]) => {
    const [w, s, e, n] = extentOf(course);
    return w <= east && e >= west && s <= north && n >= south;
  };
  const others = Object.entries(network.links).flatMap(([id, link]) => {
    const course = isConduit(link) && !own.has(id) ? courseOf(network, link) : [];
    return isConduit(link) && course.length > 1 && near(course)
      ? [{ id, link, parts: segments(course), whole: lengthOf(course), extent: extentOf(course) }]
      : [];
  });
  for (const [k, id] of path.entries()) {
    const link = network.links[id];
    if (!isConduit(link)) continue;
    const course = courseOf(network, link);
    const whole = lengthOf(course);
    if (!(whole > 0)) continue;
    const ends = new Set([link.upstream, link.downstream]);
    const [left, below, right, above] = extentOf(course);
    for (const mine of segments(course))
      for (const other of others) {
        const [w, s, e, n] = other.extent;
        if (w > right || e < left || s > above || n < below) continue;
        if (ends.has(other.link.upstream) || ends.has(other.link.downstream)) continue;
        for (const theirs of other.parts) {
          const at = crossing(mine.ends, theirs.ends);
          if (!at) continue;
          const share = (mine.passed + at[0] * mine.length) / whole;
          found.push({
            id: other.id,
            name: other.link.name,
            chainage: (chainage[k] ?? 0) + share * link.length,
            bed: bedAt(other.link, (theirs.passed + at[1] * theirs.length) / other.whole),
            height: depthOf(other.link),
          });
        }
      }
  }
  return found;
}

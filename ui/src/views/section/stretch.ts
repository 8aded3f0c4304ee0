/** Which links of a long run are in sight, and which of its figures have room. */

/** Links in sight: the first one and how many. */
export type Stretch = { first: number; count: number };

const FEWEST = 3;

const within = (first: number, count: number, all: number): Stretch => {
  const most = Math.min(Math.max(Math.round(count), Math.min(FEWEST, all)), all);
  return { first: Math.min(Math.max(Math.round(first), 0), all - most), count: most };
};

/** Nearer (factor below 1) or farther, about a link that stays where it is seen; null is the whole run. */
export function zoomed(stretch: Stretch | null, all: number, at: number, factor: number): Stretch | null {
  const { first, count } = stretch ?? { first: 0, count: all };
  const next = factor < 1 ? Math.floor(count * factor) : Math.ceil(count * factor);
  const share = count > 0 ? (at - first) / count : 0.5;
  const found = within(at - share * next, next, all);
  return found.count >= all ? null : found;
}

/** Moved along the run by so many links. */
export const moved = (stretch: Stretch, all: number, by: number): Stretch =>
  within(stretch.first + by, stretch.count, all);

/** What wants room along the run: its place and width, px; the least rank goes first. */
export type Wanting = { at: number; width: number; rank: number };

const APART = 5; // px

/** Which of them have room: the first by rank keep theirs, and nothing lies over another. */
export function fitting(wanted: Wanting[]): boolean[] {
  const taken: [number, number][] = [];
  const fits = wanted.map(() => false);
  const order = wanted.map((_, k) => k).sort((a, b) => (wanted[a]?.rank ?? 0) - (wanted[b]?.rank ?? 0) || a - b);
  for (const k of order) {
    const one = wanted[k];
    if (!one) continue;
    const [from, to] = [one.at - one.width / 2 - APART / 2, one.at + one.width / 2 + APART / 2];
    if (taken.some(([a, b]) => from < b && a < to)) continue;
    taken.push([from, to]);
    fits[k] = true;
  }
  return fits;
}

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

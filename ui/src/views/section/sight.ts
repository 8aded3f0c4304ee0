/** What of a run is in sight: chainages and levels. */

export type Sight = { from: number; to: number; low: number; high: number };

const LEAST = { along: 2, up: 0.2 }; // m: one manhole fills the drawing

/** A span of `whole` of the same share about a place, which stays where it is seen; no less than `least`. */
function about(from: number, to: number, at: number, factor: number, whole: [number, number], least: number) {
  const wide = Math.min(Math.max((to - from) * factor, least), whole[1] - whole[0]);
  const share = (at - from) / Math.max(to - from, 1e-9);
  return held(at - share * wide, wide, whole);
}

/** A span that does not leave the whole. */
function held(from: number, wide: number, whole: [number, number]): [number, number] {
  const first = Math.min(Math.max(from, whole[0]), whole[1] - wide);
  return [first, first + wide];
}

/** Nearer (factor below 1) or farther, about a chainage and a level; null is the whole run. */
export function zoomed(sight: Sight | null, whole: Sight, at: number, level: number, factor: number): Sight | null {
  const now = sight ?? whole;
  const [from, to] = about(now.from, now.to, at, factor, [whole.from, whole.to], LEAST.along);
  const [low, high] = about(now.low, now.high, level, factor, [whole.low, whole.high], LEAST.up);
  const all = to - from >= whole.to - whole.from - 1e-6 && high - low >= whole.high - whole.low - 1e-6;
  return all ? null : { from, to, low, high };
}

/** Moved along the run and upward, m. */
export function moved(sight: Sight, whole: Sight, along: number, up: number): Sight {
  const [from, to] = held(sight.from + along, sight.to - sight.from, [whole.from, whole.to]);
  const [low, high] = held(sight.low + up, Math.min(sight.high - sight.low, whole.high - whole.low), [
    whole.low,
    whole.high,
  ]);
  return { from, to, low, high };
}

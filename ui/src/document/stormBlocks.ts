import type { Rain, Rainfall, StormBlock } from "./types";

/** A block of storms as the Rain stage edits it: where it is kept, and the rainfall that it is made of. */
export type BlockAt = {
  name: string;
  path: string;
  block: StormBlock;
  rainfall: Rainfall | null;
  rainfallPath: string;
  /** It has no rainfall of its own and takes the project's. */
  inherits: boolean;
};

/** The main block of storms, then the further ones. */
export function blocksOf(rain: Rain): BlockAt[] {
  const main = { name: "", path: "/rain/ensemble", block: rain.ensemble, rainfall: rain.rainfall };
  return [
    { ...main, rainfallPath: "/rain/rainfall", inherits: false },
    ...rain.further.map((further, i) => ({
      name: further.name,
      path: `/rain/further/${i}`,
      block: further,
      rainfall: further.rainfall ?? rain.rainfall,
      rainfallPath: further.rainfall ? `/rain/further/${i}/rainfall` : "/rain/rainfall",
      inherits: further.rainfall === null,
    })),
  ];
}

/** How many storms a block makes, before any is left out. */
export function countOf(block: StormBlock): number {
  const patterned = block.durations.reduce((n, d) => n + block.patterns.filter((p) => p.duration === d).length, 0);
  return block.probabilities.length * (block.durations.length * block.seasons.length + patterned);
}

/** “further 1”, “further 2” …: a name that is not taken. */
export function freshName(stem: string, taken: string[]): string {
  for (let n = 1; ; n++) if (!taken.includes(`${stem} ${n}`)) return `${stem} ${n}`;
}

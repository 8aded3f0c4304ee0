import type { Catalogue, Pipe } from "./types";

/** Diameters in which a pipe of a material is made; of every material where it is not in the list. */
export function ladderOf(parts: Catalogue, material: string | null): number[] {
  // files of others write a material in their own letters
  const plain = (name: string | null) => (name ?? "").trim().toLowerCase();
  const own = parts.pipes.find((p) => plain(p.name) === plain(material));
  return own ? own.diameters : [...new Set(parts.pipes.flatMap((p) => p.diameters))].sort((a, b) => a - b);
}

/** The next size up or down in the list; none beyond its ends, nor for a pipe that is not round. */
export function nextSize(parts: Catalogue, pipe: Pipe, way: 1 | -1): number | null {
  if (pipe.section.shape !== "circular") return null;
  const { diameter } = pipe.section;
  const sizes = ladderOf(parts, pipe.material);
  const found =
    way > 0 ? sizes.find((d) => d > diameter + 1e-6) : [...sizes].reverse().find((d) => d < diameter - 1e-6);
  return found ?? null;
}

/** The ring for a manhole of this depth with pipes up to this size; none where the list has no such. */
export const ringFor = (parts: Catalogue, pipe: number, depth: number): number | null =>
  parts.manholes.find((m) => pipe <= m.largest_pipe + 1e-6 && depth <= m.deepest + 1e-6)?.diameter ?? null;

/** Diameters in which pipes are usually to be had where inches are used, m. */
export const WHOLE_INCHES = [6, 8, 10, 12, 15, 18, 21, 24, 27, 30, 36, 42, 48, 54, 60].map((inches) => inches * 0.0254);

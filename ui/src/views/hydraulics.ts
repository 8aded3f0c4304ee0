import { heightOf, type Pipe, type Section } from "../document/types";

/** Full-bore capacity by Manning's formula, m³/s: what the ladder of sizes shows while one chooses. */
export function fullBore(section: Section, roughness: number, gradient: number): number {
  if (gradient <= 0) return 0;
  const d = heightOf(section);
  const area = section.shape === "circular" ? (Math.PI * d * d) / 4 : section.width * d;
  const radius = section.shape === "circular" ? d / 4 : area / (2 * (section.width + d));
  return (area * radius ** (2 / 3) * Math.sqrt(gradient)) / roughness;
}

export const gradientOf = (pipe: Pipe) => (pipe.upstream_invert - pipe.downstream_invert) / pipe.length;

/** Standard diameters, m. */
export const LADDER = [0.15, 0.225, 0.3, 0.375, 0.45, 0.525, 0.6, 0.75, 0.9, 1.05, 1.2];

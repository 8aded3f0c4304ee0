import { type Conduit, heightOf, type Section } from "../document/types";

/** Full-bore capacity by Manning's formula, m³/s: what the ladder of sizes shows while one chooses;
 * null for shapes whose capacity the server works out. */
export function fullBore(section: Section, roughness: number, gradient: number): number | null {
  if (gradient <= 0) return 0;
  if (section.shape !== "circular" && section.shape !== "rectangular") return null;
  const d = heightOf(section);
  const area = section.shape === "circular" ? (Math.PI * d * d) / 4 : section.width * d;
  const radius = section.shape === "circular" ? d / 4 : area / (2 * (section.width + d));
  return (area * radius ** (2 / 3) * Math.sqrt(gradient)) / roughness;
}

export const gradientOf = (run: Conduit) => (run.upstream_invert - run.downstream_invert) / run.length;

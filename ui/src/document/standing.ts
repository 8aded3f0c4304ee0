import type { Network } from "./types";

const NEAR = 1e-6; // m

/** Whether more than the field itself is set with it: the server's edit sees to that. */
export const movesOthers = (group: string, field: string) => group === "nodes" && field === "invert";

/** Names of the links that stand on the invert of a node, as the server moves them with it. */
export function standingOn(network: Network, node: string): string[] {
  const invert = network.nodes[node]?.invert;
  if (invert === undefined) return [];
  const on = (level: unknown) => typeof level === "number" && Math.abs(level - invert) < NEAR;
  return Object.values(network.links)
    .filter((link) => {
      const { upstream_invert, downstream_invert, invert: bottom, sill } = link as unknown as Record<string, unknown>;
      return (
        (link.upstream === node && (on(upstream_invert) || on(bottom) || on(sill))) ||
        (link.downstream === node && on(downstream_invert))
      );
    })
    .map(({ name }) => name);
}

/** What a project needs before it can be judged, in the order in which people put it there. */
import type { Answer } from "../api/client";
import type { Edit, Network, Project } from "./types";
import { isStore } from "./types";
import { FOOT } from "./units";

export type Step = "run" | "outfall" | "area" | "rain" | "rule" | "verdict";

/** Which steps are done. */
export function doneOf(project: Project, network: Network, answer: Answer | null): Record<Step, boolean> {
  const links = Object.values(network.links);
  const outfalls = new Set(Object.keys(network.nodes).filter((id) => network.nodes[id]?.kind === "outfall"));
  const judged = answer?.verdicts.filter((v) => v.asked) ?? [];
  const storms = [project.rain.ensemble, ...project.rain.further].some(
    (block) => block.durations.length > 0 && block.probabilities.length > 0,
  );
  return {
    run: links.length > 0,
    outfall: links.some((link) => outfalls.has(link.downstream)),
    area: Object.values(network.catchments).some((c) => c.node !== null || c.over !== null),
    rain: (project.rain.rainfall !== null && storms) || project.rain.given.length > 0,
    rule: project.brief.rules.some((rule) => rule.asked),
    verdict: judged.length > 0 && judged.every((v) => v.state !== "not judged"),
  };
}

/** The node that the longest way down ends at and that could be an outfall: nothing leaves it. */
export function lastOf(network: Network): string | null {
  const links = Object.values(network.links);
  const leaving = new Set(links.map((link) => link.upstream));
  const ends = links.map((link) => link.downstream).filter((id) => !leaving.has(id));
  const found = ends.find((id) => network.nodes[id] && network.nodes[id]?.kind !== "outfall");
  return found ?? null;
}

/** m², with the paved share of houses and a street; round in the units that the project is read in. */
const AREA = { metric: 500, us: 5000 * FOOT ** 2 };
const PAVED = 0.6;

/** The edits that end the network at an outfall: what drains there is led to the node above first. */
export function outfallAt(network: Network, node: string): Edit[] {
  const above = Object.values(network.links).find((link) => link.downstream === node)?.upstream;
  const led = Object.entries(network.catchments).flatMap(([id, c]): Edit[] =>
    c.node === node && above ? [{ edit: "set", element: id, field: "node", value: above }] : [],
  );
  return [...led, { edit: "change kind", element: node, drawn: "outfall" }];
}

/** The area to begin with. */
export const firstArea = (units: Project["units"]) => AREA[units];

/** An area to begin with at every shaft that nothing drains to, m². */
export function areasAt(network: Network, area: number): Edit[] {
  const drained = new Set(Object.values(network.catchments).map((c) => c.node));
  return Object.entries(network.nodes).flatMap(([id, node]): Edit[] =>
    node.kind === "outfall" || isStore(node) || drained.has(id)
      ? []
      : [{ edit: "draw catchment", area, fields: { node: id, impervious: PAVED } }],
  );
}

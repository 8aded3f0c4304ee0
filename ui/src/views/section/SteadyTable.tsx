import { useMemo } from "react";
import { useProject } from "../../document/store";
import { depthOf, isConduit, type Network, spillOf } from "../../document/types";
import { show, unitOf } from "../../document/units";
import { type Line, ResultTable } from "../results/ResultTable";
import type { Profile } from "./SteadyFlow";

/** Levels and depths of nodes; flows, depths, velocities, Froude numbers and capacities of links, in steady flow. */
export function SteadyTable({ profile }: { profile: Profile }) {
  const network = useProject((s) => s.network);
  const results = useMemo(() => (network ? linesOf(network, profile) : null), [network, profile]);
  if (!results) return null;
  const columns = {
    nodes: [
      { key: "level", label: `level ${unitOf("level")}`, downFirst: true },
      { key: "depth", label: `depth ${unitOf("length")}`, downFirst: true },
      { key: "spare", label: `to cover ${unitOf("length")}` },
      { key: "flood", label: `floods ${unitOf("flow")}`, downFirst: true },
    ],
    links: [
      { key: "flow", label: `flow ${unitOf("flow")}`, downFirst: true },
      { key: "full", label: `full bore ${unitOf("flow")}`, downFirst: true },
      { key: "most", label: "free at most", downFirst: true },
      { key: "depth", label: `depth ${unitOf("length")}`, downFirst: true },
      { key: "speed", label: unitOf("speed"), downFirst: true },
      { key: "froude", label: "Froude", downFirst: true },
      { key: "state", label: "state", left: true },
    ],
  };
  return <ResultTable title="steady flow" columns={columns} results={results} />;
}

/** Range of a figure along a conduit, in one cell. */
function along(values: number[], digits: (value: number) => string): string {
  const [least, most] = [Math.min(...values), Math.max(...values)];
  const [a, b] = [digits(least), digits(most)];
  return a === b ? a : `${a}–${b}`;
}

function linesOf(network: Network, profile: Profile): Record<"nodes" | "links", Line[]> {
  const nodes: Line[] = Object.entries(profile.level).flatMap(([id, level]) => {
    const node = network.nodes[id];
    if (!node || node.kind === "outfall") return [];
    const flood = profile.floods[id] ?? 0;
    return {
      id,
      name: node.name,
      storm: null,
      cells: {
        level: { text: show(level, "level"), sort: level },
        depth: { text: show(level - node.invert, "length"), sort: level - node.invert },
        spare: { text: show(spillOf(node) - level, "length"), sort: spillOf(node) - level, bad: level > spillOf(node) },
        ...(flood > 0 ? { flood: { text: show(flood, "flow"), sort: flood, bad: true } } : {}),
      },
    };
  });
  const links: Line[] = Object.entries(profile.flow).flatMap(([id, flow]) => {
    const link = network.links[id];
    if (!link) return [];
    const reach = profile.reaches[id];
    const cells: Line["cells"] = { flow: { text: show(flow, "flow"), sort: flow } };
    if (reach && isConduit(link)) {
      const depths = reach.level.map((z, k) => z - (reach.bed[k] ?? 0));
      const top = Math.max(...depths);
      const over = profile.over_bank[id];
      Object.assign(cells, {
        depth: { text: along(depths, (v) => show(v, "length")), sort: top },
        speed: { text: along(reach.speed, (v) => show(v, "speed")), sort: Math.max(...reach.speed) },
        froude: { text: along(reach.froude, (v) => v.toFixed(2)), sort: Math.max(...reach.froude) },
        ...(reach.full > 0 ? { full: { text: show(reach.full, "flow"), sort: reach.full } } : {}),
        ...(reach.most > 0
          ? {
              most: {
                text: show(reach.most, "flow"),
                sort: reach.most,
                note: "the greatest uniform flow below the top",
              },
            }
          : {}),
        state:
          over !== undefined
            ? { text: `over its bank by ${show(over, "length")}`, sort: 2, bad: true }
            : top > depthOf(link)
              ? { text: "under pressure", sort: 1, bad: true }
              : { text: "free", sort: 0 },
      });
    }
    return { id, name: link.name, storm: null, cells };
  });
  return { nodes, links };
}

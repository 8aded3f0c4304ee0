import { useMemo } from "react";
import type { Answer } from "../../api/client";
import { useProject } from "../../document/store";
import type { Network } from "../../document/types";
import { clock, show, unitOf } from "../../document/units";
import { byTheGrid } from "../ByTheGrid";
import { type Cell, type Line, ResultTable } from "./ResultTable";

/** Every node and link in the storm that governs it: peak, when, state, and what is left. */
export function WorstTable() {
  const { network, answer } = useProject();
  const table = useMemo(
    () =>
      network && answer
        ? { columns: columns(answer.storms.some((s) => s.pattern)), results: worstOf(network, answer) }
        : null,
    [network, answer],
  );
  return table && <ResultTable title="worst of all storms" {...table} />;
}

/** Columns in the units that are read. */
function columns(patterned: boolean) {
  const governing = patterned ? "highest single storm" : "governing storm";
  return {
    nodes: [
      { key: "storm", label: governing, left: true },
      { key: "peak", label: `peak ${unitOf("level")}`, downFirst: true },
      { key: "time", label: "at" },
      { key: "state", label: "state", left: true },
      { key: "spare", label: `to cover ${unitOf("length")}` },
      { key: "flood", label: `flood ${unitOf("volume")}`, downFirst: true },
    ],
    links: [
      { key: "storm", label: governing, left: true },
      { key: "peak", label: `peak ${unitOf("flow")}`, downFirst: true },
      { key: "time", label: "at" },
      { key: "state", label: "state", left: true },
      { key: "speed", label: unitOf("speed"), downFirst: true },
      { key: "spare", label: `to soffit ${unitOf("length")}` },
    ],
  };
}

function worstOf(network: Network, answer: Answer): Record<"nodes" | "links", Line[]> {
  const storms = new Map(answer.storms.map((s) => [s.key, s]));
  const storm = (key: string | null | undefined): Cell => {
    const found = storms.get(key ?? "");
    const short = found?.given || `${found?.row.replace(" yr", "")}, ${found?.duration}, ${found?.season}`;
    const mark = found?.beyond.length ? " ?" : "";
    return {
      text: found ? short + mark : "–",
      note: (found?.label ?? "") + (mark && ", to be checked"),
      sort: found ? `${found.row} ${found.duration} ${found.season}` : "",
    };
  };
  const time = (seconds: number | null | undefined): Cell => ({
    text: seconds == null ? "–" : clock(seconds),
    sort: seconds ?? -1,
  });
  const nodes = (): Line[] =>
    Object.entries(network.nodes).flatMap(([id, node]) => {
      const worst = answer.nodes[id];
      if (!worst) return [];
      const outfall = node.kind === "outfall";
      const spare = outfall || worst.level === null ? null : node.cover - worst.level;
      const at = outfall ? worst.outflow_time : worst.level_time;
      return {
        id,
        name: node.name,
        storm: worst.outflow_storm ?? worst.level_storm,
        moment: at ?? null,
        cells: {
          storm: storm(worst.outflow_storm ?? worst.level_storm),
          peak: outfall
            ? { text: `${show(worst.outflow, "flow")} ${unitOf("flow")}`, sort: worst.outflow ?? -1 }
            : {
                text: show(worst.level, "level", 2),
                sort: worst.level ?? -1e9,
                note: byTheGrid(answer.worth.level[id], "m"),
              },
          time: time(at),
          state: { text: outfall ? "" : worst.state, sort: worst.state, bad: worst.state === "flooded" },
          ...(spare === null ? {} : { spare: { text: show(spare, "length"), sort: spare, bad: spare < 0 } }),
          ...(worst.flooded > 0 ? { flood: { text: show(worst.flooded, "volume"), sort: worst.flooded } } : {}),
        },
      };
    });
  const links = (): Line[] =>
    Object.entries(network.links).flatMap(([id, link]) => {
      const worst = answer.links[id];
      if (!worst) return [];
      return {
        id,
        name: link.name,
        storm: worst.flow_storm,
        moment: worst.flow_time,
        cells: {
          storm: storm(worst.flow_storm),
          peak: {
            text: show(worst.flow, "flow"),
            sort: worst.flow,
            note: [
              `upper end ${show(worst.flow_up, "flow")}, lower end ${show(worst.flow_down, "flow")} ${unitOf("flow")}`,
              byTheGrid(answer.worth.flow[id], "m3/s"),
            ]
              .filter(Boolean)
              .join("; "),
          },
          time: time(worst.flow_time),
          state: {
            text: worst.clearance == null ? "" : worst.state,
            sort: worst.state,
            bad: worst.state === "surcharged",
          },
          ...(worst.speed == null ? {} : { speed: { text: show(worst.speed, "speed"), sort: worst.speed } }),
          ...(worst.clearance == null
            ? {}
            : {
                spare: {
                  text: show(worst.clearance, "length"),
                  sort: worst.clearance,
                  bad: worst.clearance < 0,
                  note: `in ${storm(worst.clearance_storm).text}`,
                },
              }),
        },
      };
    });
  return { nodes: nodes(), links: links() };
}

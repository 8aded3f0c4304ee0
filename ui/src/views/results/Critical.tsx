import { useQuery } from "@tanstack/react-query";
import { useMemo } from "react";
import { type Answer, api, call } from "../../api/client";
import type { components } from "../../api/schema";
import { useResults } from "../../document/results";
import { useProject } from "../../document/store";
import { type Network, spillOf } from "../../document/types";
import { show, unitOf } from "../../document/units";
import { type Statistic, StatisticChoice } from "../../fields/StatisticChoice";
import { type Column, type Line, ResultTable } from "./ResultTable";
import { layout } from "./StormMatrix";

export type Asked = { row: string; by: Statistic };
type Critical = Record<string, components["schemas"]["Critical"]>;
/** The critical duration of every node and link among the storms of one probability; null until it is known. */
export function useCritical({ row, by }: Asked): Critical | null {
  const { id, option, answer } = useProject();
  const { of, still } = useResults();
  const { data } = useQuery({
    queryKey: ["critical", id, option, row, by, ...of],
    enabled: !!id && !!row && still && answer?.state === "settled",
    placeholderData: (old) => old,
    queryFn: () =>
      call(
        api.GET("/api/projects/{project_id}/options/{option}/critical", {
          params: { path: { project_id: id ?? "", option }, query: { row, by } },
        }),
      ),
  });
  return data ?? null;
}

/** Which probability is read, and by which statistic durations are compared. */
export function AskedFields({ asked, ask }: { asked: Asked; ask: (asked: Asked) => void }) {
  const { answer } = useProject();
  const rows = layout(answer?.storms ?? []).rows;
  return (
    <span className="flex items-baseline gap-2">
      <select
        className="border-b border-ink3 bg-transparent"
        aria-label="return period"
        value={asked.row}
        onChange={(event) => ask({ ...asked, row: event.target.value })}
        data-testid="critical-row"
      >
        {rows.map((row) => (
          <option key={row}>{row}</option>
        ))}
      </select>
      <StatisticChoice by={asked.by} choose={(by) => ask({ ...asked, by })} testId="critical-by" />
    </span>
  );
}

/** Every node and link with its own critical duration. */
export function CriticalTable({ asked, found }: { asked: Asked; found: Critical }) {
  const { network, answer } = useProject();
  const table = useMemo(
    () => (network && answer ? { columns: columns(), results: criticalOf(network, answer, found) } : null),
    [network, answer, found],
  );
  return table && <ResultTable title={`critical durations, ${asked.row}`} {...table} />;
}

/** Columns in the units that are read. */
function columns(): Record<"nodes" | "links", Column[]> {
  const shared: Column[] = [
    { key: "duration", label: "critical min" },
    { key: "value", label: "peak", downFirst: true },
    { key: "season", label: "stands for it", left: true },
  ];
  return { nodes: [...shared, { key: "spare", label: `to cover ${unitOf("length")}` }], links: shared };
}

function criticalOf(network: Network, answer: Answer, found: Critical): Record<"nodes" | "links", Line[]> {
  const storms = new Map(answer.storms.map((s) => [s.key, s]));
  const lines = (kind: "nodes" | "links"): Line[] =>
    Object.entries(network[kind]).flatMap(([id, element]) => {
      const critical = found[id];
      if (!critical) return [];
      const node = network.nodes[id];
      const flows = !node || node.kind === "outfall";
      const spare = flows ? null : spillOf(node) - critical.value;
      return {
        id,
        name: element.name,
        storm: critical.storm,
        cells: {
          duration: {
            text: `${critical.duration}${critical.at_end ? " ↦" : ""}`,
            sort: critical.duration,
            ...(critical.at_end ? { note: `the ${critical.at_end} duration run: a further one may be worse` } : {}),
          },
          value: flows
            ? { text: `${show(critical.value, "flow")} ${unitOf("flow")}`, sort: critical.value }
            : { text: `${show(critical.value, "level", 2)} ${unitOf("level")}`, sort: critical.value },
          season: { text: storms.get(critical.storm)?.season ?? "", sort: critical.storm },
          ...(spare === null
            ? {}
            : { spare: { text: spare < 0 ? "floods" : show(spare, "length"), sort: spare, bad: spare < 0 } }),
        },
      };
    });
  return { nodes: lines("nodes"), links: lines("links") };
}

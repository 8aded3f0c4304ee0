import { useQuery } from "@tanstack/react-query";
import { type ReactNode, useState } from "react";
import { api, call } from "../api/client";
import type { components } from "../api/schema";
import { useProject } from "../document/store";
import { show, unitOf } from "../document/units";
import { layout } from "../instrument/StormMatrix";
import { flowOrder } from "./flowOrder";
import { type Statistic, StatisticChoice } from "./StatisticChoice";

export type Asked = { row: string; by: Statistic };
type Critical = Record<string, components["schemas"]["Critical"]>;
type Column = "name" | "duration" | "value" | "spare";
type Line = { id: string; name: string; order: number; duration: number; value: number; spare: number | null };

/** The critical duration of every node and link among the storms of one rarity; null until it is known. */
export function useCritical({ row, by }: Asked): Critical | null {
  const { id, answer } = useProject();
  const { data } = useQuery({
    queryKey: ["critical", id, row, by, answer?.revision, answer?.version],
    enabled: !!id && !!row && answer?.state === "settled",
    placeholderData: (old) => old,
    queryFn: () =>
      call(
        api.GET("/api/projects/{project_id}/critical", {
          params: { path: { project_id: id ?? "" }, query: { row, by } },
        }),
      ),
  });
  return data ?? null;
}

/** Which rarity is read, and by which statistic durations are compared. */
export function AskedFields({ asked, ask }: { asked: Asked; ask: (asked: Asked) => void }) {
  const { answer } = useProject();
  const rows = layout(answer?.storms ?? []).rows;
  return (
    <span className="flex items-baseline gap-2">
      <select
        className="border-b border-ink3 bg-transparent"
        aria-label="rarity"
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

/** Nodes or links in flow order, each with its own critical duration; sorted by a column, filtered by name, copied. */
export function CriticalTable({ asked, found }: { asked: Asked; found: Critical }) {
  const { network, answer, cursor, point } = useProject();
  const [kind, setKind] = useState<"nodes" | "links">("nodes");
  const [sort, setSort] = useState<{ column: Column | null; down: boolean }>({ column: null, down: false });
  const [wanted, setWanted] = useState("");
  if (!network || !answer) return null;
  const place = new Map(flowOrder(network).map((id, k) => [id, k]));
  const lines: Line[] = Object.entries(network[kind]).flatMap(([id, element]) => {
    const critical = found[id];
    if (!critical || !element.name.toLowerCase().includes(wanted.toLowerCase())) return [];
    const node = network.nodes[id];
    const link = network.links[id];
    return {
      id,
      name: element.name,
      order: place.get(link ? link.upstream : id) ?? 0,
      duration: critical.duration,
      value: critical.value,
      spare: node && node.kind !== "outfall" ? node.cover - critical.value : null,
    };
  });
  lines.sort((a, b) => a.order - b.order || a.name.localeCompare(b.name, undefined, { numeric: true }));
  const { column, down } = sort;
  if (column)
    lines.sort((a, b) => {
      const [x, y] = [a[column] ?? 1e9, b[column] ?? 1e9];
      const order = typeof x === "string" ? x.localeCompare(String(y), undefined, { numeric: true }) : x - Number(y);
      return down ? -order : order;
    });
  const value = (line: Line) =>
    kind === "links" || network.nodes[line.id]?.kind === "outfall"
      ? `${show(line.value, "flow")} ${unitOf("flow")}`
      : `${show(line.value, "level", 2)} ${unitOf("level")}`;
  const copy = () => {
    const head = ["name", `critical min, ${asked.row}`, asked.by, "storm", "to cover"];
    const rows = lines.map((line) => [
      line.name,
      line.duration,
      value(line),
      answer.storms.find((s) => s.key === found[line.id]?.storm)?.label ?? "",
      line.spare === null ? "" : show(line.spare, "length"),
    ]);
    void navigator.clipboard.writeText([head, ...rows].map((cells) => cells.join("\t")).join("\n"));
  };
  const heading = (key: Column, text: ReactNode, align = "text-right") => (
    <th className={`font-normal ${align}`} aria-sort={column === key ? (down ? "descending" : "ascending") : "none"}>
      <button
        type="button"
        onClick={() => setSort({ column: key, down: column === key ? !down : key === "value" })}
        className={column === key ? "font-semibold text-ink" : ""}
      >
        {text} {column === key ? (down ? "▾" : "▴") : ""}
      </button>
    </th>
  );
  return (
    <>
      <div className="flex items-baseline gap-3 border-b border-rule2 px-3 py-1">
        {(["nodes", "links"] as const).map((each) => (
          <button
            key={each}
            type="button"
            aria-pressed={kind === each}
            className={kind === each ? "font-semibold" : "text-ink3 underline"}
            onClick={() => setKind(each)}
            data-testid={`critical-${each}`}
          >
            {each === "nodes" ? "Nodes" : "Links"}
          </button>
        ))}
        <input
          className="field !w-24 !text-left !font-sans"
          placeholder="name"
          aria-label="filter by name"
          value={wanted}
          onChange={(event) => setWanted(event.target.value)}
          data-testid="critical-filter"
        />
        <button
          type="button"
          className="textlink"
          onClick={() => setSort({ column: null, down: false })}
          disabled={column === null}
        >
          flow order
        </button>
        <button type="button" className="textlink ml-auto" onClick={copy}>
          copy
        </button>
      </div>
      <table className="w-full" data-testid="critical-table">
        <thead className="sticky top-0 bg-paper">
          <tr className="border-b border-ink text-[11px] text-ink3">
            {heading("name", kind === "nodes" ? "Node" : "Link", "px-3 text-left")}
            {heading("duration", "critical min")}
            {heading("value", "peak")}
            <th className="pl-3 text-left font-normal">stands for it</th>
            {kind === "nodes" && heading("spare", `to cover ${unitOf("length")}`, "pr-3 text-right")}
          </tr>
        </thead>
        <tbody>
          {lines.map((line) => {
            const critical = found[line.id];
            return (
              <tr
                key={line.id}
                className={`cursor-pointer border-b border-rule ${cursor.element === line.id ? "bg-hi outline outline-1 outline-ink" : ""}`}
                onClick={() => point({ element: line.id, storm: critical?.storm ?? null })}
              >
                <td className="px-3 py-[3px]">
                  <button type="button" className="font-semibold">
                    {line.name}
                  </button>
                </td>
                <td className="figure text-right">
                  {line.duration}
                  {critical?.at_end && (
                    <span
                      className="text-ochre-ink"
                      title={`the ${critical.at_end} duration run: a further one may be worse`}
                    >
                      {" "}
                      ↦
                    </span>
                  )}
                </td>
                <td className="figure text-right">{value(line)}</td>
                <td className="pl-3 text-ink2">{answer.storms.find((s) => s.key === critical?.storm)?.season}</td>
                {kind === "nodes" && (
                  <td
                    className={`figure pr-3 text-right ${line.spare !== null && line.spare < 0 ? "font-semibold text-madder" : ""}`}
                  >
                    {line.spare === null ? "–" : line.spare < 0 ? "floods" : show(line.spare, "length")}
                  </td>
                )}
              </tr>
            );
          })}
        </tbody>
      </table>
    </>
  );
}

import { useState } from "react";
import { useProject } from "../document/store";
import { show, unitOf } from "../document/units";
import { layout, orderOf, StormMatrix } from "../instrument/StormMatrix";
import { useWidth } from "../instrument/useWidth";
import { type Asked, AskedFields, CriticalTable, useCritical } from "../views/CriticalTable";
import { DurationMap } from "../views/DurationMap";
import { flowOrder } from "../views/flowOrder";
import { Plan } from "../views/plan/Plan";

/** The chosen rule in every storm, where it happens, and the worst storm of every node in flow order. */
export function VerdictStage() {
  const { answer, cursor, point, network, project } = useProject();
  const [ref, width] = useWidth<HTMLDivElement>();
  const [map, setMap] = useState<"plan" | "durations">("plan");
  const [over, setOver] = useState<"all" | "row">("all");
  const { rows, seasons } = layout(answer?.storms ?? []);
  const [chosen, setAsked] = useState<Asked | null>(null);
  const picked = answer?.storms.find((s) => s.key === cursor.storm && !s.given)?.row;
  const asked: Asked =
    chosen && rows.includes(chosen.row)
      ? chosen
      : { row: picked ?? rows[0] ?? "", by: seasons.length > 3 ? "mean" : "highest" };
  const found = useCritical(asked);
  const rule = answer?.verdicts[cursor.rule];
  const label = (key: string | null | undefined) => answer?.storms.find((s) => s.key === key)?.label ?? "";
  return (
    <>
      <div className="flex min-w-0 flex-1 flex-col overflow-y-auto">
        <div className="p-3">
          <p className="flex flex-wrap items-baseline gap-2 pb-2">
            <b className="text-[15px] font-semibold">{rule?.name ?? "Verdict"}</b>
            <span className="text-ink2">margin in every storm{orderOf(answer?.storms ?? [], "above", "below")}</span>
            <span className="ml-auto flex flex-wrap gap-2" role="tablist" aria-label="Rule">
              {project?.brief.criteria.map((c, i) => (
                <button
                  key={c.name}
                  type="button"
                  role="tab"
                  aria-selected={cursor.rule === i}
                  onClick={() => point({ rule: i })}
                  className={`px-2 ${cursor.rule === i ? "bg-ink text-hi" : "border-b border-rule2"}`}
                >
                  {c.name}
                </button>
              ))}
            </span>
          </p>
          <div ref={ref}>{width > 0 && <StormMatrix width={width} cell={24} numbers />}</div>
          <p className="flex flex-wrap gap-4 pt-1 text-[11px] text-ink2">
            {[
              ["var(--color-water1)", "over 65 % left"],
              ["var(--color-water2)", "35 to 65"],
              ["var(--color-water3)", "10 to 35"],
              ["url(#tight)", "under 10, tight"],
              ["url(#just-over)", "over"],
              ["url(#over)", "over by more than 1 %"],
            ].map(([fill, text]) => (
              <span key={text} className="flex items-center gap-1">
                <svg width={16} height={10} aria-hidden="true">
                  <rect width={16} height={10} fill={fill} />
                </svg>
                {text}
              </span>
            ))}
            <span>● governs</span>
          </p>
        </div>
        <div className="flex min-h-[220px] flex-1 flex-col border-t border-rule2">
          <p className="flex items-baseline gap-3 px-3 py-1">
            {(["plan", "durations"] as const).map((each) => (
              <button
                key={each}
                type="button"
                aria-pressed={map === each}
                className={map === each ? "font-semibold" : "text-ink3 underline"}
                onClick={() => setMap(each)}
                data-testid={`map-${each}`}
              >
                {each === "plan" ? "Where" : "Critical durations"}
              </button>
            ))}
          </p>
          {map === "plan" || !found ? <Plan still /> : <DurationMap found={found} />}
        </div>
      </div>
      <aside className="w-[440px] shrink-0 overflow-auto border-l border-rule2">
        <p className="flex items-baseline gap-3 px-3 py-1">
          {(["all", "row"] as const).map((each) => (
            <button
              key={each}
              type="button"
              aria-pressed={over === each}
              className={over === each ? "font-semibold" : "text-ink3 underline"}
              onClick={() => setOver(each)}
              data-testid={`over-${each}`}
            >
              {each === "all" ? "Worst of all storms" : "Critical duration of"}
            </button>
          ))}
          <AskedFields asked={asked} ask={setAsked} />
        </p>
        {over === "row" && found && <CriticalTable asked={asked} found={found} />}
        {over === "all" && (
          <table className="w-full" data-testid="node-table">
            <thead className="sticky top-0 bg-paper">
              <tr className="border-b border-ink text-left text-ink3">
                <th className="px-3 py-1 font-normal">Node, in flow order</th>
                <th className="font-normal">Governing storm</th>
                <th className="text-right font-normal">Peak m</th>
                <th className="text-right font-normal">To cover m</th>
                <th className="pr-3 text-right font-normal">Flood {unitOf("volume")}</th>
              </tr>
            </thead>
            <tbody>
              {network &&
                flowOrder(network).map((id) => {
                  const node = network.nodes[id];
                  const worst = answer?.nodes[id];
                  if (!node) return null;
                  const spare = node.kind === "outfall" || !worst ? null : node.cover - worst.level;
                  return (
                    <tr
                      key={id}
                      onClick={() =>
                        point({ element: id, storm: worst?.outflow_storm ?? worst?.level_storm ?? cursor.storm })
                      }
                      className={`cursor-pointer border-b border-rule ${cursor.element === id ? "bg-hi outline outline-1 outline-ink" : ""}`}
                    >
                      <td className="px-3 py-[3px]">
                        <button type="button" className="font-semibold">
                          {node.name}
                        </button>
                      </td>
                      <td className="text-ink2">{label(worst?.outflow_storm ?? worst?.level_storm)}</td>
                      <td className="figure text-right">
                        {node.kind === "outfall"
                          ? `${show(worst?.outflow, "flow")} ${unitOf("flow")}`
                          : show(worst?.level, "level", 2)}
                      </td>
                      <td
                        className={`figure text-right ${spare !== null && spare < 0 ? "font-semibold text-madder" : ""}`}
                      >
                        {spare === null ? "–" : spare < 0 ? "floods" : show(spare, "length")}
                      </td>
                      <td className="figure pr-3 text-right">
                        {worst && worst.flooded > 0 ? show(worst.flooded, "volume") : "–"}
                      </td>
                    </tr>
                  );
                })}
            </tbody>
          </table>
        )}
      </aside>
    </>
  );
}

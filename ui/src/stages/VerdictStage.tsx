import { useState } from "react";
import { useProject } from "../document/store";
import { useWidth } from "../primitives/useWidth";
import { RepairPipes } from "../search/RepairPipes";
import { SingleChanges } from "../search/SingleChanges";
import { Plan } from "../views/plan/Plan";
import { type Asked, AskedFields, CriticalTable, useCritical } from "../views/results/Critical";
import { DurationMap } from "../views/results/DurationMap";
import { Governing, MEASURES, MeasureChoice, type Asked as Measured, useMeasure } from "../views/results/Measures";
import { Results } from "../views/results/Results";
import { RuleElements } from "../views/results/RuleElements";
import { layout, orderOf, StormMatrix } from "../views/results/StormMatrix";

type Page = "results" | "storms" | "critical";
const PAGES: Record<Page, string> = { results: "Elements", storms: "Storms", critical: "Critical durations" };

/** What breaks the chosen rule beside all results by return period, or beside the rule in every storm. */
export function VerdictStage() {
  const [page, setPage] = useState<Page>("results");
  const cursor = useProject((s) => s.cursor);
  return (
    <>
      <div className="flex min-w-0 flex-1 flex-col">
        <p className="flex gap-3 border-b border-rule px-3 py-1" role="tablist" aria-label="Verdict">
          {(Object.keys(PAGES) as Page[]).map((each) => (
            <button
              key={each}
              type="button"
              role="tab"
              aria-selected={page === each}
              className={page === each ? "font-semibold" : "text-ink3 underline"}
              onClick={() => setPage(each)}
              data-testid={`verdict-${each}`}
            >
              {PAGES[each]}
            </button>
          ))}
        </p>
        <div className="flex min-h-0 flex-1">
          {page === "results" ? <Results /> : page === "storms" ? <InEveryStorm /> : <CriticalDurations />}
        </div>
      </div>
      <aside className="w-[304px] shrink-0 overflow-auto border-l border-rule2">
        <RuleElements />
        <RepairPipes key={`repair ${cursor.rule}`} />
        <SingleChanges key={`changes ${cursor.rule}`} />
      </aside>
    </>
  );
}

/** Every element with its own critical duration, on the plan and in a table. */
function CriticalDurations() {
  const { answer, cursor } = useProject();
  const { rows, seasons } = layout(answer?.storms ?? []);
  const [chosen, setAsked] = useState<Asked | null>(null);
  const picked = answer?.storms.find((s) => s.key === cursor.storm && !s.given)?.row;
  const asked: Asked =
    chosen && rows.includes(chosen.row)
      ? chosen
      : { row: picked ?? rows[0] ?? "", by: seasons.length > 3 ? "mean" : "highest" };
  const found = useCritical(asked);
  return (
    <div className="flex min-w-0 flex-1 flex-col">
      <p className="px-3 py-1">
        <AskedFields asked={asked} ask={setAsked} />
      </p>
      <div className="flex min-h-0 flex-1">
        <div className="flex min-w-0 flex-1 flex-col">{found && <DurationMap found={found} />}</div>
        <div className="w-[400px] shrink-0 overflow-auto border-l border-rule2">
          {found ? (
            <CriticalTable asked={asked} found={found} />
          ) : (
            <p className="p-3 text-ink3">Known once all storms are in.</p>
          )}
        </div>
      </div>
    </div>
  );
}

/** The chosen rule in every storm, and where it happens. */
function InEveryStorm() {
  const { answer, cursor, point } = useProject();
  const [ref, width] = useWidth<HTMLDivElement>();
  const rule = answer?.verdicts[cursor.rule];
  const [measure, setMeasure] = useState<Measured>(null);
  const measured = useMeasure(measure);
  const limited = measure === null || measure.measure === "level";
  return (
    <div className="flex min-w-0 flex-1 flex-col overflow-y-auto">
      <div className="p-3">
        <p className="flex flex-wrap items-baseline gap-2 pb-2">
          <MeasureChoice asked={measure} ask={setMeasure} />
          <span className="text-ink2">
            {measure === null ? rule?.name : ""} in every storm{orderOf(answer?.storms ?? [], "above", "below")}
          </span>
          {measured && <Governing found={measured} />}
          {measure?.own && !measured && (
            <span className="text-ochre-ink">
              pick {MEASURES[measure.measure].of === "nodes" ? "a node" : "a link"}
            </span>
          )}
          <span className="ml-auto flex flex-wrap gap-2" role="tablist" aria-label="Rule">
            {measure === null &&
              answer?.verdicts.map((c, i) => (
                <button
                  key={`${c.rule} ${c.row}`}
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
        <div ref={ref}>{width > 0 && <StormMatrix width={width} cell={24} numbers read={measured?.readings} />}</div>
        <p className="flex flex-wrap gap-4 pt-1 text-[11px] text-ink2">
          {(limited
            ? [
                ["var(--color-water1)", "over 65 % left"],
                ["var(--color-water2)", "35 to 65"],
                ["var(--color-water3)", "10 to 35"],
                ["url(#tight)", "under 10, tight"],
                ["url(#just-over)", "over"],
                ["url(#over)", "over by more than 1 %"],
              ]
            : [
                ["var(--color-water1)", "under 65 % of the greatest"],
                ["var(--color-water2)", "65 to 90"],
                ["var(--color-water3)", "over 90"],
              ]
          ).map(([fill, text]) => (
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
        <Plan still />
      </div>
    </div>
  );
}

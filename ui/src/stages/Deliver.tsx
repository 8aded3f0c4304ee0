import { useState } from "react";
import { Files } from "../deliver/Files";
import { Issued } from "../deliver/Issued";
import { Layouts } from "../deliver/Layouts";
import { Pages } from "../deliver/Pages";
import { PartSettings } from "../deliver/PartSettings";
import { Parts } from "../deliver/Parts";
import { PAPERS } from "../deliver/parts";
import { SheetComposer } from "../deliver/SheetComposer";
import { TitleFields } from "../deliver/TitleFields";
import { useReport } from "../deliver/useReport";
import { useProject } from "../document/store";
import { Choice } from "../primitives/Choice";

/** What is handed over: the report as a document of parts, its pages as they are printed, files, and issues. */
export function Deliver() {
  const { project, id, option, answer, edit } = useProject();
  const [at, setAt] = useState(0);
  const [chosen, setChosen] = useState(0);
  const [page, setPage] = useState(0);
  const [large, setLarge] = useState(false);
  const [composing, setComposing] = useState(false);
  const [anyway, setAnyway] = useState(false);
  const place = Math.min(at, (project?.layouts.length ?? 1) - 1);
  const layout = project?.layouts[place];
  const missing = answer?.overall.missing ?? "";
  const report = useReport(composing ? null : (layout?.name ?? null), anyway && missing !== "");
  if (!project || !layout) return null;
  const part = layout.parts[chosen];
  const { state = "not judged", said = "" } = answer?.overall ?? {};
  const own = report.shown?.parts.filter((one) => one.first <= page).at(-1);
  const drawn = own && ["plan", "section", "sheets"].includes(layout.parts[own.part]?.kind ?? "");
  const svg = drawn
    ? `/api/projects/${id}/options/${option}/sheets/${own.part}/${page - own.first}.svg?layout=${encodeURIComponent(layout.name)}&incomplete=true`
    : null;
  const choose = (k: number) => {
    setChosen(k);
    const first = report.shown?.parts.find((one) => one.part === k)?.first;
    if (first !== undefined) setPage(first);
  };
  const look = (to: number) => {
    setPage(to);
    const own = report.shown?.parts.filter((one) => one.first <= to).at(-1);
    if (own) setChosen(own.part);
  };
  const put = (field: string) => (value: string) =>
    void edit([{ op: "replace", path: `/layouts/${place}/${field}`, value }]);
  return (
    <>
      <aside className="w-[246px] shrink-0 overflow-y-auto border-r border-rule2 p-3" data-testid="deliver">
        <p className="flex items-baseline justify-between pb-1">
          <b className="text-[15px] font-semibold">Report</b>
          <span className="figure text-ink2" data-testid="page-count">
            {report.shown ? `${report.shown.sizes.length} pages` : "…"}
          </span>
        </p>
        <Layouts
          place={place}
          show={(to) => {
            setAt(to);
            setChosen(0);
            setPage(0);
          }}
        />
        <Parts layout={layout} place={place} report={report.shown} chosen={chosen} choose={choose} />
        <div className="pt-2">
          <Choice
            label="Paper"
            value={layout.paper}
            options={Object.fromEntries(PAPERS.map((paper) => [paper, paper]))}
            commit={put("paper")}
            testId="layout-paper"
          />
          <Choice
            label="Order"
            value={layout.order}
            options={{ flow: "flow", name: "name" }}
            commit={put("order")}
            testId="layout-order"
          />
          <Choice
            label="Results of"
            value={layout.selection}
            options={{
              "": "every element",
              ...Object.fromEntries(project.selections.map(({ name }) => [name, name])),
            }}
            commit={put("selection")}
            testId="report-selection"
          />
          <TitleFields />
        </div>
      </aside>
      <div className="flex min-w-0 flex-1 flex-col bg-lo">
        <p className="flex items-baseline gap-4 border-b border-rule2 px-3 py-2">
          <b className="text-[15px] font-semibold">{composing ? "Sheets" : "Pages"}</b>
          <span className="text-ink2" role="status" data-testid="report-state">
            {composing
              ? "drag what stands on them"
              : report.running
                ? report.making?.doing
                  ? `making it: ${report.making.doing} …`
                  : "making it …"
                : report.stopped
                  ? "stopped"
                  : report.shown
                    ? "as printed"
                    : ""}
          </span>
          {report.running && !composing && (
            <button type="button" className="textlink" onClick={() => void report.stop()} data-testid="report-stop">
              stop
            </button>
          )}
          {report.stopped && !report.running && (
            <button type="button" className="textlink" onClick={report.makeAgain}>
              make it
            </button>
          )}
          <span className="ml-auto flex gap-3">
            <button
              type="button"
              className={`textlink ${large || composing ? "" : "font-semibold"}`}
              onClick={() => {
                setLarge(false);
                setComposing(false);
              }}
              data-testid="pages-small"
            >
              all small
            </button>
            <button
              type="button"
              className={`textlink ${large && !composing ? "font-semibold" : ""}`}
              onClick={() => {
                setLarge(true);
                setComposing(false);
              }}
              data-testid="pages-large"
            >
              one large
            </button>
            <button
              type="button"
              className={`textlink ${composing ? "font-semibold" : ""}`}
              onClick={() => setComposing(true)}
              data-testid="compose"
            >
              compose sheets
            </button>
          </span>
        </p>
        {report.problem && (
          <p className="px-3 pt-2 text-madder" role="alert" data-testid="report-problem">
            {report.problem}
          </p>
        )}
        {answer?.state === "refused" && answer.problem && (
          <p className="px-3 pt-2 text-madder" role="alert" data-testid="report-refused">
            There is no report of a model that cannot run. {answer.problem.element}, {answer.problem.field}:{" "}
            {answer.problem.problem}; {answer.problem.remedy}.
          </p>
        )}
        {answer?.state === "running" && !report.shown && (
          <p className="px-3 pt-2 text-ink2">The report is made when the storms are in.</p>
        )}
        {missing && answer?.state !== "refused" && !anyway && !composing && (
          <p className="px-3 pt-2">
            <button type="button" className="textlink" onClick={() => setAnyway(true)} data-testid="preview-incomplete">
              show it as it is, marked as incomplete on every page
            </button>
          </p>
        )}
        {composing ? (
          <SheetComposer />
        ) : (
          report.shown && (
            <Pages
              report={report.shown}
              url={report.pageUrl}
              page={page}
              look={look}
              large={large}
              setLarge={setLarge}
              svg={svg}
            />
          )
        )}
      </div>
      <aside className="w-[286px] shrink-0 overflow-y-auto border-l border-rule2 p-3">
        {part && !composing && (
          <div className="border-b border-rule2 pb-2">
            <PartSettings key={`${place}-${chosen}`} part={part} path={`/layouts/${place}/parts/${chosen}`} />
          </div>
        )}
        <p className={`py-2 font-semibold ${state === "fails" ? "text-madder" : ""}`} data-testid="will-say">
          The report will say: {said}.
        </p>
        <Files layout={layout.name} selection={layout.selection} />
        <div className="pt-3">
          <Issued layout={layout.name} />
        </div>
      </aside>
    </>
  );
}

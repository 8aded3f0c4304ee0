import type { Answer } from "../api/client";
import { useProject } from "../document/store";
import type { Part, PlanDrawing, SectionDrawing } from "../document/types";
import { Choice, Tick } from "../primitives/Choice";
import { TextLine } from "../primitives/TextLine";
import { NAMES, PAPERS, SCALES } from "./parts";

type Put = (field: string, value: unknown) => void;
const papers = Object.fromEntries(PAPERS.map((paper) => [paper, paper]));
const scales = (fit: string) => ({ "": fit, ...Object.fromEntries(SCALES.map((n) => [String(n), `1 : ${n}`])) });
const UPS = {
  "": "a tenth",
  ...Object.fromEntries([10, 20, 25, 50, 100, 125, 200, 250, 500].map((n) => [n, `1 : ${n}`])),
};

/** Several of a few named things, ticked; the order is that of the list. */
function Ticks({
  all,
  chosen,
  commit,
  testId,
}: {
  all: Record<string, string>;
  chosen: string[];
  commit: (chosen: string[]) => void;
  testId: string;
}) {
  return (
    <fieldset data-testid={testId}>
      {Object.entries(all).map(([key, label]) => (
        <Tick
          key={key}
          label={label}
          value={chosen.includes(key)}
          commit={(on) => commit(Object.keys(all).filter((one) => (one === key ? on : chosen.includes(one))))}
        />
      ))}
    </fieldset>
  );
}

function rowsOf(answer: Answer | null): Record<string, string> {
  return Object.fromEntries([...new Set((answer?.storms ?? []).map((storm) => storm.row))].map((row) => [row, row]));
}

/** What a plan shows, wherever it stands. */
export function PlanSettings({ drawing, put }: { drawing: PlanDrawing; put: Put }) {
  const { answer, project, extent } = useProject();
  const views = (project?.saved_views ?? []).filter((view) => view.view === "plan" && view.extent);
  return (
    <>
      <Choice
        label="Scale"
        value={String(drawing.scale ?? "")}
        options={scales("fits one sheet")}
        commit={(value) => put("scale", value ? Number(value) : null)}
        testId="plan-scale"
      />
      <Choice
        label="Shows"
        value={drawing.theme}
        options={{ plain: "network", state: "states", level: "highest levels" }}
        commit={(value) => put("theme", value)}
        testId="plan-theme"
      />
      <Choice
        label="Of"
        value={drawing.row}
        options={{ "": "all storms", ...rowsOf(answer) }}
        commit={(value) => put("row", value)}
      />
      <Choice
        label="Extent"
        value={drawing.extent ? "screen" : drawing.view ? `view ${drawing.view}` : ""}
        options={{
          "": "whole network",
          ...(extent || drawing.extent ? { screen: "as on the screen" } : {}),
          ...Object.fromEntries(views.map((view) => [`view ${view.name}`, view.name])),
        }}
        commit={(value) => {
          put("", {
            ...drawing,
            extent: value === "screen" ? extent : null,
            view: value.replace(/^view |^screen$/, ""),
          });
        }}
        testId="plan-extent"
      />
      <Tick label="Background" value={drawing.background} commit={(value) => put("background", value)} />
      <Tick label="Grid" value={drawing.grid} commit={(value) => put("grid", value)} />
    </>
  );
}

const SECTION_ROWS = {
  cover: "cover or bank",
  invert: "invert",
  depth: "depth",
  chainage: "chainage",
  size: "size, material",
  gradient: "length, gradient",
  peak: "highest level",
  freeboard: "below cover",
};

/** What a long section shows, wherever it stands. */
export function SectionSettings({ drawing, put }: { drawing: SectionDrawing; put: Put }) {
  const { answer, network } = useProject();
  const nodes = Object.fromEntries(
    Object.entries(network?.nodes ?? {})
      .sort(([, a], [, b]) => a.name.localeCompare(b.name, undefined, { numeric: true }))
      .map(([id, node]) => [id, node.name]),
  );
  return (
    <>
      <Choice
        label="From"
        value={drawing.start ?? ""}
        options={{ "": "longest way", ...nodes }}
        commit={(value) => put("start", value || null)}
        testId="section-start"
      />
      <Choice
        label="To"
        value={drawing.end ?? ""}
        options={{ "": "its outfall", ...nodes }}
        commit={(value) => put("end", value || null)}
        testId="section-end"
      />
      <Choice
        label="Along"
        value={String(drawing.along ?? "")}
        options={scales("fits one sheet")}
        commit={(value) => put("along", value ? Number(value) : null)}
        testId="section-along"
      />
      <Choice
        label="Up"
        value={String(drawing.up ?? "")}
        options={UPS}
        commit={(value) => put("up", value ? Number(value) : null)}
      />
      <Choice
        label="Highest levels of"
        value={drawing.row}
        options={{ "": "all storms", ...rowsOf(answer) }}
        commit={(value) => put("row", value)}
      />
      <Ticks all={SECTION_ROWS} chosen={drawing.rows} commit={(value) => put("rows", value)} testId="section-rows" />
    </>
  );
}

const SCHEDULES = {
  manholes: "manholes",
  conduits: "conduits",
  storage: "storage",
  controls: "controls",
  outfalls: "outfalls",
  catchments: "catchments",
  catalogue: "catalogue",
};
const RESULTS = {
  states: "states side by side",
  nodes: "nodes",
  links: "links",
  storage: "storage",
  outfalls: "outfalls",
  pumps: "pumps",
};

/** Settings of one part, by what it is. */
export function PartSettings({ part, path }: { part: Part; path: string }) {
  const { edit, answer, project } = useProject();
  const put: Put = (field, value) => void edit([{ op: "replace", path: `${path}/${field}`, value }]);
  const drawn: Put = (field, value) => put(field ? `drawing/${field}` : "drawing", value);
  const kept = (of: { name: string }[]) => Object.fromEntries(of.map(({ name }) => [name, name]));
  return (
    <div data-testid="part-settings">
      <b className="font-semibold">{NAMES[part.kind]}</b>
      <TextLine
        label="Heading"
        value={part.heading}
        placeholder="its own"
        commit={(value) => put("heading", value)}
        testId="part-heading"
      />
      {part.kind === "cover" && (
        <TextLine
          label="Note"
          value={part.note}
          rows={4}
          longest={10_000}
          commit={(value) => put("note", value)}
          testId="cover-note"
        />
      )}
      {part.kind === "rainfall" && (
        <Tick label="Pictures of shapes" value={part.shapes} commit={(value) => put("shapes", value)} />
      )}
      {part.kind === "schedules" && (
        <>
          <Ticks all={SCHEDULES} chosen={part.of} commit={(value) => put("of", value)} testId="schedules-of" />
          <Tick label="Pictures of curves" value={part.curves} commit={(value) => put("curves", value)} />
        </>
      )}
      {part.kind === "results" && (
        <>
          <p className="pt-1 text-ink2">Return periods; none ticked: every one</p>
          <Ticks all={rowsOf(answer)} chosen={part.rows} commit={(value) => put("rows", value)} testId="results-rows" />
          <p className="pt-1 text-ink2">Tables</p>
          <Ticks all={RESULTS} chosen={part.of} commit={(value) => put("of", value)} testId="results-of" />
        </>
      )}
      {(part.kind === "graphs" || part.kind === "views" || part.kind === "sheets") && (
        <p className="pt-1 text-ink2">None ticked: every one</p>
      )}
      {part.kind === "graphs" && project && (
        <Ticks all={kept(project.graphs)} chosen={part.names} commit={(value) => put("names", value)} testId="names" />
      )}
      {part.kind === "views" && project && (
        <Ticks
          all={kept(
            project.saved_views.filter((one) => one.stage === "network" && (one.view === "plan" || one.picture)),
          )}
          chosen={part.names}
          commit={(value) => put("names", value)}
          testId="names"
        />
      )}
      {part.kind === "sheets" && project && (
        <Ticks all={kept(project.sheets)} chosen={part.names} commit={(value) => put("names", value)} testId="names" />
      )}
      {(part.kind === "plan" || part.kind === "section") && (
        <>
          <Choice
            label="Paper"
            value={part.paper}
            options={papers}
            commit={(value) => put("paper", value)}
            testId="part-paper"
          />
          <Tick label="Lying" value={part.wide} commit={(value) => put("wide", value)} />
        </>
      )}
      {part.kind === "plan" && <PlanSettings drawing={part.drawing} put={drawn} />}
      {part.kind === "section" && <SectionSettings drawing={part.drawing} put={drawn} />}
    </div>
  );
}

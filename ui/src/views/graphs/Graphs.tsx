import { useMemo, useRef, useState } from "react";
import { useProject } from "../../document/store";
import type { Drawn, Graph } from "../../document/types";
import { clock, show, unitOf } from "../../document/units";
import { useWidth } from "../../primitives/useWidth";
import { Against, paired } from "./Against";
import { KeptGraphs } from "./KeptGraphs";
import { csvOf, pngOf, save, spreadCsv, svgOf } from "./out";
import { inkOf, MOST, Panels } from "./Panels";
import { Spreads, useSpreads } from "./Spreads";
import { DRAWN, interval, stormsOf, type Trace, useBeside, useTraces, valueAt } from "./traces";

const WHICH: Record<Graph["storms"], string> = {
  picked: "the picked storm",
  duration: "its duration",
  row: "its return period",
  all: "all storms",
};

/** The picked elements as graphs: over time or one quantity against another, in one storm or in many. */
export function Graphs() {
  const { network, project, option, picked, answer, cursor, graph, drawGraph } = useProject();
  const [other, setOther] = useState("");
  const [ref, width, height] = useWidth<HTMLDivElement>();
  const sheet = useRef<HTMLDivElement>(null);
  const elements = useMemo(
    () => [...picked].filter((id) => network?.nodes[id] || network?.links[id]).slice(0, 100),
    [picked, network],
  );
  const storms = stormsOf(answer?.storms ?? [], cursor.storm, graph.storms);
  const spread = graph.against === "duration";
  const across = graph.against === "duration" ? null : graph.against;
  const asked: Drawn[] = across ? [...new Set([...graph.quantities, across])] : graph.quantities;
  const { data, error } = useTraces(elements, spread ? [] : asked, storms);
  const spreads = useSpreads(elements, graph.quantities, spread);
  const beside = useBeside(elements, spread ? [] : asked, storms, other === option ? "" : other);
  const others = (project?.order ?? []).filter((id) => id !== option && !project?.options[id]?.retired);
  const traces = spread ? [] : [...(data ?? []).filter((t) => elements.includes(t.element)), ...beside.traces];
  // what none of them has takes no room from the rest
  const present = graph.quantities.filter((q) => traces.some((t) => t.quantity === q));
  const upward = graph.quantities.find((q) => q !== across) ?? "level";
  const drawn = across ? paired(traces, upward, across).map(({ up }) => up) : traces;
  const there = new Set(spread ? spreads.map((s) => s.element) : drawn.map((t) => t.element));
  const shown = elements.filter((id) => there.has(id)).slice(0, MOST);
  const places = new Map(shown.map((id, k) => [id, k]));
  const name = (id: string) => network?.nodes[id]?.name ?? network?.links[id]?.name ?? "";
  const stormName = (key: string) => answer?.storms.find((s) => s.key === key)?.label ?? key;
  const label = (t: Trace) =>
    [name(t.element), storms.length > 1 ? stormName(t.storm) : "", t.beside ?? ""].filter(Boolean).join(", ");
  const tall = height - (graph.title ? 24 : 0);
  const drawing = () => sheet.current?.querySelector("svg") ?? null;
  const title = (graph.title || shown.map(name).join(" ")).slice(0, 60) || "graph";
  const toggle = (quantity: Drawn) => {
    const next = graph.quantities.includes(quantity)
      ? graph.quantities.filter((q) => q !== quantity)
      : [...graph.quantities, quantity];
    if (next.length) drawGraph({ quantities: next });
  };
  return (
    <section className="flex min-h-0 min-w-0 flex-1 flex-col" aria-label="Graphs" data-testid="graphs">
      <div className="flex flex-wrap items-baseline gap-x-4 gap-y-1 px-2 py-1">
        <span className="flex gap-1" role="group" aria-label="quantities">
          {(Object.keys(DRAWN) as Drawn[]).map((quantity) => (
            <button
              key={quantity}
              type="button"
              aria-pressed={graph.quantities.includes(quantity)}
              className={`px-2 ${graph.quantities.includes(quantity) ? "bg-ink text-hi" : "border-b border-rule2"}`}
              onClick={() => toggle(quantity)}
              data-testid={`quantity-${quantity}`}
            >
              {DRAWN[quantity].word}
            </button>
          ))}
        </span>
        <label>
          against{" "}
          <select
            className="border-b border-ink3 bg-transparent"
            value={graph.against ?? ""}
            onChange={(event) => drawGraph({ against: (event.target.value || null) as Graph["against"] })}
            data-testid="graph-against-choice"
          >
            <option value="">time</option>
            <option value="duration">duration, peaks of each</option>
            {(Object.keys(DRAWN) as Drawn[]).map((quantity) => (
              <option key={quantity} value={quantity}>
                {DRAWN[quantity].word}
              </option>
            ))}
          </select>
        </label>
        {!spread && (
          <label>
            in{" "}
            <select
              className="border-b border-ink3 bg-transparent"
              value={graph.storms}
              onChange={(event) => drawGraph({ storms: event.target.value as Graph["storms"] })}
              data-testid="graph-storms"
            >
              {Object.entries(WHICH).map(([key, text]) => (
                <option key={key} value={key}>
                  {text}
                </option>
              ))}
            </select>{" "}
            {storms.length > 1 && <span className="text-ink3">{storms.length}</span>}
          </label>
        )}
        {!spread && others.length > 0 && (
          <label>
            beside{" "}
            <select
              className="border-b border-ink3 bg-transparent"
              value={others.includes(other) ? other : ""}
              onChange={(event) => setOther(event.target.value)}
              data-testid="graph-beside"
            >
              <option value="">no other option</option>
              {others.map((id) => (
                <option key={id} value={id}>
                  {project?.options[id]?.name}
                </option>
              ))}
            </select>
          </label>
        )}
        <label className="flex items-baseline gap-1">
          title
          <input
            className="w-[150px] border-b border-ink3 bg-transparent"
            value={graph.title}
            maxLength={200}
            placeholder="none"
            onChange={(event) => drawGraph({ title: event.target.value })}
            data-testid="graph-title"
          />
        </label>
        <span className="ml-auto flex gap-3">
          <KeptGraphs elements={elements} suggested={title} />
          {(traces.length > 0 || spreads.length > 0) && (
            <>
              <button
                type="button"
                className="textlink"
                onClick={() => {
                  const svg = drawing();
                  if (svg) void pngOf(svg, graph.title).then((blob) => save(blob, `${title}.png`));
                }}
                data-testid="graph-png"
              >
                PNG
              </button>
              <button
                type="button"
                className="textlink"
                onClick={() => {
                  const svg = drawing();
                  if (svg) save(new Blob([svgOf(svg, graph.title)], { type: "image/svg+xml" }), `${title}.svg`);
                }}
                data-testid="graph-svg"
              >
                SVG
              </button>
              <button
                type="button"
                className="textlink"
                onClick={() => {
                  const text = spread ? spreadCsv(spreads, name) : csvOf(traces, name, stormName);
                  save(new Blob([text], { type: "text/csv" }), `${title}.csv`);
                }}
                data-testid="graph-csv"
              >
                CSV
              </button>
            </>
          )}
        </span>
      </div>
      {(error ?? beside.error) && (
        <p role="alert" className="px-2 text-madder" data-testid="graph-wrong">
          {beside.error && !error ? `${project?.options[other]?.name}: ` : ""}
          {(error ?? beside.error)?.message}
        </p>
      )}
      {elements.length === 0 && (
        <p className="p-4 text-ink3">
          Pick nodes and links on the plan (Shift adds one, a dragged box adds many); their graphs stand here.
        </p>
      )}
      {elements.length > 0 && storms.length === 0 && (
        <p className="p-4 text-ink3">Run a storm and pick it in the matrix below.</p>
      )}
      <div className="flex min-h-0 flex-1">
        <div ref={ref} className="min-h-0 min-w-0 flex-1">
          <div ref={sheet}>
            {graph.title && <h2 className="px-2 text-[15px] font-semibold">{graph.title}</h2>}
            {spread && width > 0 && elements.length > 0 && storms.length > 0 && (
              <Spreads
                spreads={spreads}
                quantities={graph.quantities}
                places={places}
                width={width}
                height={tall}
                name={name}
              />
            )}
            {width > 0 && traces.length > 0 && !across && (
              <Panels
                traces={traces}
                quantities={present.length ? present : graph.quantities}
                places={places}
                width={width}
                height={tall}
                label={label}
              />
            )}
            {width > 0 && traces.length > 0 && across && (
              <Against
                traces={traces}
                upward={upward}
                across={across}
                places={places}
                width={width}
                height={tall}
                label={label}
              />
            )}
          </div>
        </div>
        {elements.length > 0 && (
          <Legend elements={elements} shown={shown} asked={asked} traces={traces} storm={storms[0] ?? null} />
        )}
      </div>
    </section>
  );
}

const seconds = (time: number) => time.toFixed(time < 10 ? 1 : 0);

/** The lines with their values now, and how far apart they were kept. */
function Legend({
  elements,
  shown,
  asked,
  traces,
  storm,
}: {
  elements: string[];
  shown: string[];
  asked: Drawn[];
  traces: Trace[];
  storm: string | null;
}) {
  const { network, answer, moment, pickAll, point } = useProject();
  const name = (id: string) => network?.nodes[id]?.name ?? network?.links[id]?.name ?? "";
  const stormName = answer?.storms.find((s) => s.key === storm)?.label ?? "";
  const apart = useMemo(() => interval(traces), [traces]);
  return (
    <ul className="w-[176px] shrink-0 overflow-y-auto border-l border-rule px-2 py-1" aria-label="Lines">
      {storm && (
        <li className="pb-1 text-[11px] text-ink3">
          {stormName} at {clock(moment)}
        </li>
      )}
      {shown.map((id, k) => (
        <li key={id} className="border-b border-rule py-[2px]">
          <span className="flex items-center gap-2">
            <svg width={24} height={8} aria-hidden="true">
              <line x1={0} x2={24} y1={4} y2={4} strokeWidth={1.6} {...inkOf(k)} />
            </svg>
            <b className="font-semibold">{name(id)}</b>
            <button
              type="button"
              className="ml-auto px-1 text-ink3"
              aria-label={`leave ${name(id)} out`}
              onClick={() => {
                const left = elements.filter((other) => other !== id);
                if (left.length) pickAll(left);
                else point({ element: null });
              }}
            >
              ×
            </button>
          </span>
          {asked.map((quantity) => {
            const own = traces.find(
              (t) => t.element === id && t.quantity === quantity && t.storm === storm && !t.beside,
            );
            const { word, quantity: of } = DRAWN[quantity];
            return own ? (
              <span key={quantity} className="flex justify-between text-[11px]">
                {word}
                <span className="figure">
                  {show(valueAt(own, moment), of)} {unitOf(of)}
                </span>
              </span>
            ) : null;
          })}
        </li>
      ))}
      {elements.length > shown.length && traces.length > 0 && (
        <li className="pt-1 text-[11px] text-ink3">
          the first {shown.length} of {elements.length} are drawn; the CSV holds all
        </li>
      )}
      {traces.length > 0 && (
        <li className="pt-1 text-[11px] text-ink3" data-testid="graph-interval">
          moments {seconds(apart.least)} to {seconds(apart.most)} s apart, closer where the water moves; between them
          levels within {show(apart.tolerance, "length", 3)} {unitOf("length")}
        </li>
      )}
    </ul>
  );
}

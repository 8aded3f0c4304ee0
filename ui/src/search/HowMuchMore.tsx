import { useState } from "react";
import { useProject } from "../document/store";
import { show, unitOf } from "../document/units";
import { BeginOrStop } from "./BeginOrStop";
import { useSearch } from "./useSearch";

/** The largest multiple of all rain, or the most new paved ground at a node, before a rule that is met breaks. */
export function HowMuchMore({ id, paved }: { id: string; paved: boolean }) {
  const { answer, network, point } = useProject();
  const { found, running, problem, begin, stop } = useSearch("capacity");
  const [of, setOf] = useState<"rain" | "paved">("rain");
  const [asked, setAsked] = useState(of); // what the figures that are shown are of, whatever is chosen since
  if (!answer || !network) return null;
  const met = answer.verdicts.filter((v) => v.asked && v.state === "meets" && v.due > 0);
  const capacity = found?.capacity;
  const told = (load: number) =>
    asked === "rain"
      ? `× ${show(1 + load, "third")} of all rain`
      : `${show(load, "area")} ${unitOf("area")} of paved ground`;
  const storm = answer.storms.find((one) => one.key === capacity?.storm);
  return (
    <details className="mt-1" data-testid="how-much-more">
      <summary className="text-ink2">How much more it bears</summary>
      <p className="flex items-center gap-2 py-1">
        {paved && (
          <select
            className="field !w-[132px] !font-sans"
            value={of}
            aria-label="what is raised"
            onChange={(event) => setOf(event.target.value as "rain")}
            data-testid="more-of"
          >
            <option value="rain">more rain, everywhere</option>
            <option value="paved">new paved ground here</option>
          </select>
        )}
        <BeginOrStop
          running={running}
          label="find it"
          begin={() => {
            setAsked(of);
            return begin({ load: of === "rain" ? "rain" : id, rules: met.map((v) => [v.rule, v.row]) });
          }}
          stop={stop}
          testId="more-begin"
          disabled={met.length === 0}
        />
      </p>
      <p className="text-[11px] leading-[14px] text-ink2">
        {met.length === 0
          ? "No rule is met, so that none could break."
          : running
            ? `${capacity?.tried.length ?? 0} loads tried …`
            : `Until the first of the ${met.length} rules that are met breaks.`}
      </p>
      {problem && (
        <p role="alert" className="text-madder">
          {problem}
        </p>
      )}
      {capacity && capacity.most !== null && (
        <p data-testid="more-found">
          <b className="figure">{told(capacity.most)}</b>
          {capacity.beyond === null ? (
            " and no rule breaks yet"
          ) : (
            <>
              {"; then "}
              {capacity.rule} breaks at{" "}
              <button
                type="button"
                className="textlink"
                onClick={() => point({ element: capacity.element, storm: capacity.storm })}
              >
                {network.nodes[capacity.element]?.name ?? network.links[capacity.element]?.name}
              </button>
              {storm ? ` in ${storm.label}` : ""}
            </>
          )}
          {found?.stale && <span className="text-ochre-ink">; the option has changed since</span>}
        </p>
      )}
    </details>
  );
}

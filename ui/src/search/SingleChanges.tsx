import type { components } from "../api/schema";
import { useProject } from "../document/store";
import { show, showMargin, unitOf } from "../document/units";
import { ApplyAsOption } from "./ApplyAsOption";
import { BeginOrStop } from "./BeginOrStop";
import { useSearch } from "./useSearch";

type Change = components["schemas"]["SingleChangeOut"];

/** Which single change would mend the picked rule, each tried over the ensemble. */
export function SingleChanges() {
  const { answer, cursor } = useProject();
  const { found, running, problem, begin, stop } = useSearch("single-changes");
  const v = answer?.verdicts[cursor.rule];
  if (v?.state !== "fails") return null;
  const list = found?.single_changes;
  const helps = list?.changes.filter((one) => !one.problem) ?? [];
  const rest = list?.changes.filter((one) => one.problem) ?? [];
  return (
    <section className="border-t border-rule2 px-3 py-2" aria-label="How much bigger" data-testid="single-changes">
      <p className="flex items-baseline gap-3">
        <b className="font-semibold">How much bigger</b>
        <span className="ml-auto">
          <BeginOrStop
            running={running}
            label={list ? "try again" : "try single changes"}
            begin={() => begin({ rule: [v.rule, v.row] })}
            stop={stop}
            testId="single-changes-begin"
          />
        </span>
      </p>
      <p className="text-[11px] leading-[14px] text-ink2">
        {!found
          ? "One change at a time, over all storms, that breaks no rule which is met."
          : `${list?.changes.length ?? 0}${running ? ` of ${list?.due || "…"}` : ""} tried in ${found.seconds.toFixed(1)} s`}
        {found?.stale && <span className="text-ochre-ink">; the option has changed since</span>}
      </p>
      {problem && (
        <p role="alert" className="text-madder">
          {problem}
        </p>
      )}
      {helps.length > 0 && (
        <table className="w-full">
          <thead>
            <tr className="border-b border-ink text-[11px] text-ink2">
              <th className="py-1 text-left font-normal">one change</th>
              <th className="pl-2 text-right font-normal">more cost</th>
              <th className="pl-2 text-right font-normal">margin</th>
              <th className="pl-2" aria-label="apply" />
            </tr>
          </thead>
          <tbody>
            {helps.map((one) => {
              const margin = showMargin(one.margin, v.unit);
              return (
                <tr key={`${one.kind}${one.element}${one.becomes}`} className="border-b border-rule align-baseline">
                  <td className="py-[2px] leading-[14px]">
                    {saidOf(one)}
                    {one.breaks.length > 0 && (
                      <span className="block text-[11px] text-madder">then breaks {one.breaks.join(", ")}</span>
                    )}
                  </td>
                  <td className="figure whitespace-nowrap pl-2 text-right">{one.cost.toFixed(0)}</td>
                  <td className={`figure whitespace-nowrap pl-2 text-right ${one.holds ? "" : "text-madder"}`}>
                    {margin.text} <span className="text-[11px] text-ink3">{margin.unit}</span>
                  </td>
                  <td className="pl-2 text-right">
                    {one.holds && !found?.stale && (
                      <ApplyAsOption patch={one.patch} suggested={one.name} small testId={`apply-${one.name}`} />
                    )}
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      )}
      {list && !running && helps.every((one) => !one.holds) && (
        <p className="py-1 text-ink2">No single change mends it.</p>
      )}
      {rest.length > 0 && (
        <details className="text-[11px] text-ink2">
          <summary>{rest.length} others do not help</summary>
          {rest.map((one) => (
            <p key={`${one.kind}${one.element}${one.becomes}`}>
              {one.name} {one.becomes > one.was ? "larger" : "smaller"}: {one.problem}
            </p>
          ))}
        </details>
      )}
    </section>
  );
}

/** A change in words: which element, from what to what. */
function saidOf(one: Change): string {
  if (one.kind === "pipe")
    return `${one.name} up ${one.sizes === 1 ? "a size" : `${one.sizes} sizes`}, ${show(one.was, "diameter")} to ${show(one.becomes, "diameter")} ${unitOf("diameter")}`;
  if (one.kind === "store") return `${one.name} + ${show(one.volume, "volume", 0)} ${unitOf("volume")}`;
  if (one.kind === "outlet")
    return `a second outlet beside ${one.name.replace(/ 2$/, "")}, ${show(one.becomes, "diameter")} ${unitOf("diameter")}`;
  if (one.what === "flow") return `${one.name}, flow × ${show(one.becomes, "plain")}`;
  const quantity = one.what === "length" ? ("length" as const) : ("diameter" as const);
  return `${one.name} ${show(one.was, quantity)} to ${show(one.becomes, quantity)} ${unitOf(quantity)}`;
}

import { useState } from "react";
import type { Verdict } from "../api/client";
import { mendedBy } from "../document/criteria";
import { useProject } from "../document/store";
import { show, showMargin, unitOf } from "../document/units";
import { ApplyAsOption } from "./ApplyAsOption";
import { BeginOrStop } from "./BeginOrStop";
import { useSearch } from "./useSearch";

/** Pipes that break rules go up a size, worst cause first, until all of these rules hold or it says why not. */
export function RepairPipes() {
  const { answer, network, cursor, point } = useProject();
  const { found, running, problem, begin, stop } = useSearch("repair");
  const [held, setHeld] = useState<"this" | "all">("all");
  const v = answer?.verdicts[cursor.rule];
  if (!answer || !network || !v || v.state !== "fails" || !mendedBy(v.kind, "pipes")) return null;
  const all = answer.verdicts.filter((one) => one.asked && mendedBy(one.kind, "pipes"));
  const rules = held === "this" ? [v] : all;
  const repair = found?.repair;
  const verdictOf = (name: string) => answer.verdicts.find((one) => one.name === name);
  return (
    <section className="border-t border-rule2 px-3 py-2" aria-label="Repair" data-testid="repair">
      <p className="flex items-baseline gap-3">
        <b className="font-semibold">Repair</b>
        <select
          className="field !w-[112px] !font-sans"
          value={held}
          aria-label="rules that the repair must hold"
          onChange={(event) => setHeld(event.target.value as "this")}
        >
          <option value="all">all {all.length} of pipes</option>
          <option value="this">this rule</option>
        </select>
        <span className="ml-auto">
          <BeginOrStop
            running={running}
            label="pipes up a size"
            begin={() => begin({ rules: rules.map((one: Verdict) => [one.rule, one.row]) })}
            stop={stop}
            testId="repair-begin"
          />
        </span>
      </p>
      <p className="text-[11px] leading-[14px] text-ink2">
        {found
          ? `${repair?.raised.length ?? 0} sizes up in ${found.seconds.toFixed(1)} s${running ? " …" : ""}`
          : "The bottleneck of what breaks a rule by the most goes up a size, and again, over all storms."}
        {found?.stale && <span className="text-ochre-ink">; the option has changed since</span>}
      </p>
      {problem && (
        <p role="alert" className="text-madder">
          {problem}
        </p>
      )}
      {repair && repair.raised.length > 0 && (
        <table className="w-full">
          <tbody>
            {repair.raised.map((one, k) => {
              const margin = showMargin(one.margin, verdictOf(one.rule)?.unit ?? "m");
              return (
                <tr
                  // biome-ignore lint/suspicious/noArrayIndexKey: a pipe may go up more than once
                  key={k}
                  className="border-b border-rule align-baseline"
                >
                  <td className="py-[2px] font-semibold">
                    <button type="button" onClick={() => point({ element: one.pipe })}>
                      {one.name}
                    </button>
                  </td>
                  <td className="figure whitespace-nowrap pl-2">
                    {show(one.before, "diameter")} to {show(one.after, "diameter")} {unitOf("diameter")}
                  </td>
                  <td className="pl-2 text-[11px] leading-[13px] text-ink2">
                    {network.nodes[one.element]?.name ?? network.links[one.element]?.name} {margin.text} {margin.unit}
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      )}
      {repair?.holds === true && (
        <p className="flex items-baseline gap-3 py-1">
          <span>All of them hold, over all storms.</span>
          <span className="ml-auto">
            {!found?.stale && <ApplyAsOption patch={repair.patch} suggested="repaired" small testId="repair-apply" />}
          </span>
        </p>
      )}
      {repair?.holds === false && (
        <p className="py-1 text-madder" data-testid="repair-why">
          Not mended: {repair.why}.{" "}
          {repair.patch.length > 0 && !found?.stale && (
            <ApplyAsOption patch={repair.patch} suggested="repaired in part" small testId="repair-apply" />
          )}
        </p>
      )}
      {repair?.outcome?.after
        .filter((one) => one.asked && one.state === "fails")
        .map((one) => (
          <p key={`${one.rule}/${one.row}`} className="text-[11px] text-ink2">
            still fails: {one.name}
          </p>
        ))}
    </section>
  );
}

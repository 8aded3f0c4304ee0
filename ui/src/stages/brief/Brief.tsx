import { useState } from "react";
import { criteriaOf, newRule, RULES } from "../../document/criteria";
import { type Change, useProject } from "../../document/store";
import type { Rule } from "../../document/types";
import { Permits } from "./Permits";
import { RuleRow } from "./RuleRow";
import { StartingSets } from "./StartingSets";

const KINDS = Object.keys(RULES) as Rule["kind"][];

/** Rules as sentences whose numbers are fields, each with its live margin. */
export function Brief() {
  const { project, network, cursor, edit } = useProject();
  const [adding, setAdding] = useState(false);
  const rules = project?.brief.rules ?? [];
  const criteria = criteriaOf(project);
  const change = (changes: Change[]) => void edit(changes);
  const outfall = Object.keys(network?.nodes ?? {}).find((id) => network?.nodes[id]?.kind === "outfall");
  const isOutflow = (rule: Rule | undefined) => rule?.kind === "outflow";
  const picked = criteria[cursor.rule];
  const permit = picked && isOutflow(picked.rule) ? picked.place : rules.findIndex(isOutflow);
  const shown = rules[permit];
  const run = [project?.rain.ensemble, ...(project?.rain.further ?? [])].flatMap((block) => block?.probabilities ?? []);
  return (
    <div className="flex flex-1 flex-col overflow-auto px-3 py-2" data-testid="brief">
      <p className="flex items-baseline gap-3 border-b border-rule2 pb-1">
        <b className="text-[15px] font-semibold">Rules</b>
        <span className="text-ink2">{rules.length} asked or measured; type over any number</span>
        <span className="ml-auto flex gap-3 text-ink2">
          <button type="button" className="textlink" aria-expanded={adding} onClick={() => setAdding(!adding)}>
            add a rule
          </button>
          <StartingSets />
        </span>
      </p>
      {(adding || rules.length === 0) && (
        <p className="flex flex-wrap gap-x-3 border-b border-rule py-1" role="group" aria-label="kinds of rules">
          {KINDS.map((kind) => {
            const placed = RULES[kind].looksAt === "place";
            return (
              <button
                key={kind}
                type="button"
                className="textlink disabled:text-ink3 disabled:no-underline"
                disabled={placed && !outfall}
                title={placed && !outfall ? "draw an outfall first" : `${RULES[kind].before} … ${RULES[kind].after} …`}
                onClick={() => {
                  change([{ op: "add", path: "/brief/rules/-", value: newRule(kind, outfall ?? "", run) }]);
                  setAdding(false);
                }}
                data-testid={`add-${kind}`}
              >
                {RULES[kind].label}
              </button>
            );
          })}
        </p>
      )}
      {rules.map((rule, place) => (
        <RuleRow
          // biome-ignore lint/suspicious/noArrayIndexKey: rules are an ordered list without ids
          key={place}
          rule={rule}
          place={place}
          first={criteria.findIndex((c) => c.place === place)}
          change={change}
        />
      ))}
      {rules.length === 0 && (
        <p className="py-4 text-ink3">No rule yet. Add one above, or take a starting set and type over its figures.</p>
      )}
      <p className="pt-2 text-[11px] text-ink3">
        Muted: run and measured, not judged. Equal to the limit passes. A rule without storms is judged as drawn.
      </p>
      {shown?.kind === "outflow" && <Permits rule={permit} criterion={shown} />}
    </div>
  );
}

import { useState } from "react";
import { everyOf, isPlaced, quantityOf, RULES } from "../../document/criteria";
import { type Change, useProject } from "../../document/store";
import type { Limit, OverPatterns, Rule } from "../../document/types";
import { show, showMargin, unitOf } from "../../document/units";
import { Gauge } from "../../instrument/Gauge";
import { NumberField } from "../../primitives/NumberField";
import { EDGE_NOTE, edgeWord, overWord, stateOf, TEXT_TONE, WORD } from "../../primitives/tone";
import { WAY } from "./Permits";
import { PlaceField, ScopeFields, scopeWord } from "./ScopeFields";

/** A rule as a sentence; a line for each of its return periods, with the margin there. */
export function RuleRow({
  rule,
  place,
  first,
  change,
}: {
  rule: Rule;
  place: number;
  /** Place of its first criterion among the verdicts. */
  first: number;
  change: (changes: Change[]) => void;
}) {
  const { project, network, cursor } = useProject();
  const [scoping, setScoping] = useState(false);
  const at = `/brief/rules/${place}`;
  const set = (field: string) => (value: unknown) => change([{ op: "add", path: `${at}/${field}`, value }]);
  const limits: (Limit | null)[] = "limits" in rule ? rule.limits : [null];
  const told = RULES[rule.kind];
  const several = limits.length > 1;
  const patterned = [project?.rain.ensemble, ...(project?.rain.further ?? [])].some((block) => block?.patterns.length);
  const here = cursor.rule >= first && cursor.rule < first + limits.length;
  const another = () => {
    const last = limits.at(-1);
    if (!last) return;
    const same = (p: { return_period: number; allowance: number }) =>
      limits.some((limit) => limit?.return_period === p.return_period && limit.allowance === p.allowance);
    const next = project?.rain.ensemble.probabilities.find((p) => !same(p));
    const { return_period, allowance } = next ?? { ...last, return_period: last.return_period * 2 };
    change([{ op: "add", path: `${at}/limits/-`, value: { ...last, return_period, allowance } }]);
  };
  return (
    <div
      className={`border-b border-rule py-1 ${rule.asked ? "" : "text-ink3"} ${here ? "bg-hi shadow-[inset_3px_0_0_var(--color-ink)]" : ""}`}
      data-testid={`rule-${place}`}
    >
      {limits.map((limit, row) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: limits are an ordered list without ids
        <div key={row} className="flex items-center gap-3 pl-1">
          {row === 0 ? (
            <button
              type="button"
              role="switch"
              aria-checked={rule.asked}
              aria-label={`judge ${rule.name}`}
              title={rule.asked ? "judged; press to mute" : "muted: measured, not judged"}
              onClick={() => set("asked")(!rule.asked)}
              className={`flex h-3 w-6 shrink-0 items-center border border-ink p-[1px] ${rule.asked ? "justify-end bg-ink" : ""}`}
            >
              <i className={`h-2 w-2 ${rule.asked ? "bg-hi" : "bg-ink"}`} />
            </button>
          ) : (
            <i className="w-6 shrink-0" />
          )}
          {row === 0 ? (
            <input
              className="field !w-36 shrink-0 !text-left !font-sans"
              defaultValue={rule.name}
              key={rule.name}
              aria-label="Name of the rule"
              onBlur={(e) =>
                e.target.value.trim() && e.target.value !== rule.name && set("name")(e.target.value.trim())
              }
            />
          ) : (
            <i className="w-36 shrink-0" />
          )}
          <span className="flex min-w-0 flex-1 flex-wrap items-center gap-x-2">
            {row === 0 && <span>{told.before}</span>}
            {row > 0 && <span className="text-ink2">and</span>}
            <LimitField rule={rule} place={place} row={row} limit={limit} set={set} index={first + row} />
            {row === 0 && rule.kind === "volume" && (
              <>
                <span>within</span>
                <NumberField label="" value={rule.within} quantity="hours" commit={set("within")} />
              </>
            )}
            {row === 0 && <span>{told.after}</span>}
            {row === 0 && isPlaced(rule) && (
              <PlaceField rule={rule} commit={set("element")} testId={`place-${place}`} />
            )}
            {row === 0 && !isPlaced(rule) && (
              <button
                type="button"
                className="textlink font-semibold"
                aria-expanded={scoping}
                onClick={() => setScoping(!scoping)}
                data-testid={`scope-${place}`}
              >
                {network ? scopeWord(rule.scope, everyOf(rule.kind), network) : everyOf(rule.kind)}
              </button>
            )}
            {limit && <StormFields limit={limit} set={(field) => set(`limits/${row}/${field}`)} />}
            {row === 0 && patterned && "patterns" in rule && (
              <select
                className="border-b border-ink3 bg-transparent"
                aria-label={`how patterns are judged for ${rule.name}`}
                value={rule.patterns}
                onChange={(event) => set("patterns")(event.target.value as OverPatterns)}
                data-testid={`patterns-${place}`}
              >
                <option value="mean">by the highest mean of patterns</option>
                <option value="median">by the highest median of patterns</option>
                <option value="every">by every pattern</option>
              </select>
            )}
            {limit && row === limits.length - 1 && (
              <button
                type="button"
                className="textlink text-[11px] text-ink2"
                onClick={another}
                data-testid={`also-${place}`}
              >
                + return period
              </button>
            )}
            {several && (
              <button
                type="button"
                className="textlink text-[11px] text-ink2"
                aria-label={`leave ${limit?.return_period} yr out of ${rule.name}`}
                onClick={() => change([{ op: "remove", path: `${at}/limits/${row}` }])}
              >
                leave out
              </button>
            )}
          </span>
          <Judged index={first + row} asked={rule.asked} />
          {row === 0 ? (
            <button
              type="button"
              className="textlink w-12 text-[11px]"
              onClick={() => change([{ op: "remove", path: at }])}
              aria-label={`remove ${rule.name}`}
            >
              remove
            </button>
          ) : (
            <i className="w-12" />
          )}
        </div>
      ))}
      {scoping && !isPlaced(rule) && <ScopeFields rule={rule} commit={set("scope")} testId={`scope-fields-${place}`} />}
    </div>
  );
}

function LimitField({
  rule,
  place,
  row,
  limit,
  set,
  index,
}: {
  rule: Rule;
  place: number;
  row: number;
  limit: Limit | null;
  set: (field: string) => (value: unknown) => void;
  index: number;
}) {
  const { answer } = useProject();
  const quantity = quantityOf(rule.kind);
  if (rule.kind === "outflow" && rule.by !== "typed")
    return (
      <b className="figure font-semibold" title={`${WAY[rule.by]}: see below`} data-testid="permitted-by">
        {show(answer?.verdicts[index]?.limit, "flow")} {unitOf("flow")}
      </b>
    );
  return (
    <NumberField
      label=""
      value={limit ? limit.value : "limit" in rule ? rule.limit : 0}
      quantity={quantity}
      commit={set(limit ? `limits/${row}/value` : "limit")}
      testId={`limit-${place}-${row}`}
    />
  );
}

/** In which storms a limit holds. */
function StormFields({ limit, set }: { limit: Limit; set: (field: string) => (value: unknown) => void }) {
  return (
    <>
      <span>in</span>
      <NumberField label="" value={limit.return_period} quantity="years" commit={set("return_period")} short />
      <span>+</span>
      <NumberField label="" value={limit.allowance} quantity="share" commit={set("allowance")} short />
      {limit.duration == null ? (
        <button type="button" className="textlink text-[11px] text-ink2" onClick={() => set("duration")(360)}>
          any duration
        </button>
      ) : (
        <>
          <span>of</span>
          <NumberField label="" value={limit.duration} quantity="duration" commit={set("duration")} short />
          <button
            type="button"
            className="textlink text-[11px] text-ink2"
            onClick={() => set("duration")(null)}
            title="judge storms of every duration"
          >
            any
          </button>
        </>
      )}
    </>
  );
}

/** What is judged at a return period: margin, gauge, state and why. */
function Judged({ index, asked }: { index: number; asked: boolean }) {
  const { answer } = useProject();
  const v = answer?.verdicts[index];
  const state = stateOf(v);
  const open = state === "not judged";
  const margin =
    v?.dry != null && !open
      ? { text: show(v.dry, "length", 2), unit: unitOf("length") }
      : showMargin(open ? null : v?.value, v?.unit ?? "m");
  const storm = answer?.storms.find((s) => s.key === v?.storm);
  return (
    <>
      <span className={`figure w-16 shrink-0 text-right text-[15px] ${state === "fails" ? "text-madder" : ""}`}>
        {margin.text}
      </span>
      <span className="w-7 shrink-0 text-ink3">{margin.unit}</span>
      <Gauge
        value={open ? null : v?.value}
        scale={v?.scale}
        state={state}
        band={v?.close || state === "too close" ? (v?.band ?? 0) : 0}
      />
      <span className={`w-16 shrink-0 leading-4 ${TEXT_TONE[state]}`} data-testid={`state-${index}`}>
        {asked ? WORD[state] : "muted"}
        {v?.close ? ", close" : ""} {open ? "" : overWord(v)}
      </span>
      <span
        className="w-24 shrink-0 text-[11px] leading-[13px] text-ink2"
        title={open ? v?.reason : storm?.label}
        data-testid={`why-${index}`}
      >
        {open
          ? v?.reason
          : v?.dry != null
            ? `nothing floods: highest water below cover, ${storm?.label}`
            : storm?.label}
        {!open && v && edgeWord(v) && (
          <span className="text-ochre-ink" title={EDGE_NOTE}>
            , {edgeWord(v)}
          </span>
        )}
      </span>
    </>
  );
}

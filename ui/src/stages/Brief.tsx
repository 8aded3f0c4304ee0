import { type Change, useProject } from "../document/store";
import type { Criterion, OverPatterns } from "../document/types";
import { show, showMargin, unitOf } from "../document/units";
import { Gauge } from "../instrument/Gauge";
import { overWord, stateOf, TEXT_TONE, WORD } from "../instrument/tone";
import { NumberField } from "../primitives/NumberField";
import { Permits, WAY } from "./Permits";

const NEW: Record<Criterion["kind"], { label: string; make: (outfall: string | undefined) => Partial<Criterion> }> = {
  surcharge: { label: "no surcharge", make: () => ({ name: "No surcharge", clearance: 0 }) },
  cover: { label: "below cover", make: () => ({ name: "Below cover", clearance: 0 }) },
  flood_volume: { label: "flood volume", make: () => ({ name: "Contained", limit: 0 }) },
  outflow: { label: "outflow", make: (outfall) => ({ name: "Outflow", limit: 0.01, element: outfall ?? "" }) },
  freeboard: { label: "freeboard", make: () => ({ name: "Freeboard", clearance: 0.3 }) },
};

/** Criteria as sentences whose numbers are fields, each with its live margin. */
export function Brief() {
  const { project, network, answer, cursor, edit } = useProject();
  const criteria = project?.brief.criteria ?? [];
  const change = (changes: Change[]) => void edit(changes);
  const set = (i: number, field: string) => (value: unknown) =>
    change([{ op: "replace", path: `/brief/criteria/${i}/${field}`, value }]);
  const outfall = Object.keys(network?.nodes ?? {}).find((id) => network?.nodes[id]?.kind === "outfall");
  const permit =
    criteria[cursor.rule]?.kind === "outflow" ? cursor.rule : criteria.findIndex((c) => c.kind === "outflow");
  const shown = criteria[permit];
  const patterned = [project?.rain.ensemble, ...(project?.rain.further ?? [])].some((block) => block?.patterns.length);
  return (
    <div className="flex flex-1 flex-col overflow-auto px-3 py-2" data-testid="brief">
      <p className="flex items-baseline gap-3 border-b border-rule2 pb-1">
        <b className="text-[15px] font-semibold">Rules</b>
        <span className="text-ink2">{criteria.length} asked or measured; type over any number</span>
        <span className="ml-auto flex gap-3 text-ink2">
          add:
          {(Object.keys(NEW) as Criterion["kind"][]).map((kind) => (
            <button
              key={kind}
              type="button"
              className="textlink"
              disabled={kind === "outflow" && !outfall}
              onClick={() =>
                change([
                  {
                    op: "add",
                    path: "/brief/criteria/-",
                    value: { kind, return_period: 30, ...NEW[kind].make(outfall) },
                  },
                ])
              }
            >
              {NEW[kind].label}
            </button>
          ))}
        </span>
      </p>
      {criteria.map((c, i) => {
        const v = answer?.verdicts[i];
        const margin =
          v?.dry != null && v.state !== "not judged"
            ? { text: show(v.dry, "length", 2), unit: unitOf("length") }
            : showMargin(v?.state === "not judged" ? null : v?.value, v?.unit ?? "m");
        const state = stateOf(v);
        const open = state === "not judged";
        const storm = answer?.storms.find((s) => s.key === v?.storm);
        return (
          // biome-ignore lint/suspicious/noArrayIndexKey: criteria are an ordered list without ids
          <div key={i} className={`flex items-center gap-3 border-b border-rule py-1 ${c.asked ? "" : "text-ink3"}`}>
            <button
              type="button"
              role="switch"
              aria-checked={c.asked}
              aria-label={`judge ${c.name}`}
              onClick={() => set(i, "asked")(!c.asked)}
              className={`flex h-3 w-6 shrink-0 items-center border border-ink p-[1px] ${c.asked ? "justify-end bg-ink" : ""}`}
            >
              <i className={`h-2 w-2 ${c.asked ? "bg-hi" : "bg-ink"}`} />
            </button>
            <input
              className="field !w-40 shrink-0 !text-left !font-sans"
              defaultValue={c.name}
              key={c.name}
              aria-label="Name of the rule"
              onBlur={(e) =>
                e.target.value.trim() && e.target.value !== c.name && set(i, "name")(e.target.value.trim())
              }
            />
            <span className="flex min-w-0 flex-1 flex-wrap items-center gap-x-2">
              <Sentence criterion={c} set={(field) => set(i, field)} limit={v?.scale} />
              <span>in storms of</span>
              <NumberField label="" value={c.return_period} quantity="years" commit={set(i, "return_period")} />
              <span>+</span>
              <NumberField label="" value={c.allowance} quantity="share" commit={set(i, "allowance")} />
              {patterned && (
                <select
                  className="border-b border-ink3 bg-transparent"
                  aria-label={`how patterns are judged for ${c.name}`}
                  value={c.patterns}
                  onChange={(event) => set(i, "patterns")(event.target.value as OverPatterns)}
                  data-testid={`patterns-${i}`}
                >
                  <option value="mean">by the highest mean of patterns</option>
                  <option value="median">by the highest median of patterns</option>
                  <option value="every">by every pattern</option>
                </select>
              )}
            </span>
            <span className={`figure w-20 text-right text-[15px] ${state === "fails" ? "text-madder" : ""}`}>
              {margin.text}
            </span>
            <span className="w-7 text-ink3">{margin.unit}</span>
            <Gauge value={open ? null : v?.value} scale={v?.scale} state={state} band={v?.close ? (v.band ?? 0) : 0} />
            <span className={`w-16 leading-4 ${TEXT_TONE[state]}`} data-testid={`state-${i}`}>
              {c.asked ? WORD[state] : "off"}
              {v?.close ? ", close" : ""} {open ? "" : overWord(v)}
            </span>
            <span
              className="w-32 text-[11px] leading-[13px] text-ink2"
              title={open ? v?.reason : storm?.label}
              data-testid={`why-${i}`}
            >
              {open
                ? v?.reason
                : v?.dry != null
                  ? `nothing floods: highest water below cover, ${storm?.label}`
                  : storm?.label}
            </span>
            <button
              type="button"
              className="textlink text-[11px]"
              onClick={() => change([{ op: "remove", path: `/brief/criteria/${i}` }])}
              aria-label={`remove ${c.name}`}
            >
              remove
            </button>
          </div>
        );
      })}
      {criteria.length === 0 && (
        <p className="py-4 text-ink3">No rule yet. Add one above; it is judged over the storms of its return period.</p>
      )}
      <p className="pt-2 text-[11px] text-ink3">
        Switched off: run and measured, not judged. Equal to the limit passes.
      </p>
      {shown?.kind === "outflow" && <Permits rule={permit} criterion={shown} />}
    </div>
  );
}

function Sentence({
  criterion: c,
  set,
  limit,
}: {
  criterion: Criterion;
  set: (field: string) => (value: unknown) => void;
  /** The judged limit. */
  limit: number | null | undefined;
}) {
  const { network } = useProject();
  if (c.kind === "flood_volume")
    return (
      <>
        <span>At most</span>
        <NumberField label="" value={c.limit ?? 0} quantity="volume" commit={set("limit")} testId="flood-limit" />
        <span>floods anywhere</span>
      </>
    );
  if (c.kind === "outflow")
    return (
      <>
        <span>At most</span>
        {c.by === "typed" ? (
          <NumberField label="" value={c.limit ?? 0} quantity="flow" commit={set("limit")} testId="permitted" />
        ) : (
          <b className="figure font-semibold" title={`${WAY[c.by ?? "typed"]}: see below`} data-testid="permitted-by">
            {show(limit, "flow")} {unitOf("flow")}
          </b>
        )}
        <span>
          leaves by{" "}
          {network?.nodes[c.element ?? ""]?.name ?? network?.links[c.element ?? ""]?.name ?? "an element that is gone"}
        </span>
      </>
    );
  const where = {
    surcharge: "below every soffit",
    cover: "below every cover",
    freeboard: "below every bank",
  }[c.kind];
  return (
    <>
      <span>Water stays</span>
      <NumberField label="" value={c.clearance ?? 0} quantity="length" commit={set("clearance")} />
      <span>{where}</span>
    </>
  );
}

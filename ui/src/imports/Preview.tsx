import { useMemo, useState } from "react";
import { type Action, type Field, fieldKey, keyOf, type Proposal, SHOWN, type Takes, takeOf, withOne } from "./taking";

const ACTIONS: [Action, string, string][] = [
  ["conflict", "in conflict", "stays as it is"],
  ["create", "new", "is added"],
  ["update", "changed", "is changed, field by field"],
  ["same", "the same", "nothing to do"],
];
const MARK: Record<Action, string> = { create: "+", update: "~", same: "=", conflict: "!" };

/** Every element of the file, with what it would change. */
export function Preview({
  proposal,
  left,
  setLeft,
  takes,
  setTakes,
  instead,
  setInstead,
}: {
  proposal: Proposal;
  left: Set<string>;
  setLeft: (left: Set<string>) => void;
  takes: Takes;
  setTakes: (takes: Takes) => void;
  /** Ids of elements that are taken as what else is offered. */
  instead: ReadonlySet<string>;
  setInstead: (instead: ReadonlySet<string>) => void;
}) {
  const [only, setOnly] = useState<Action | null>(null);
  const counts = useMemo(() => {
    const found: Partial<Record<Action, number>> = {};
    for (const entry of proposal.entries) found[entry.action] = (found[entry.action] ?? 0) + 1;
    return found;
  }, [proposal]);
  const order = ACTIONS.map(([action]) => action);
  const rows = proposal.entries
    .map((entry, index) => ({ entry, key: keyOf(entry, index) }))
    .filter(({ entry }) => (only ? entry.action === only : entry.action !== "same"))
    .sort((a, b) => order.indexOf(a.entry.action) - order.indexOf(b.entry.action));
  const toggle = (keys: string[], keep: boolean) => {
    const next = new Set(left);
    for (const key of keys) keep ? next.delete(key) : next.add(key);
    setLeft(next);
  };
  const ours = rows.filter(({ entry }) => entry.patch?.length).map(({ key }) => key);
  const all = ours.every((key) => !left.has(key));
  return (
    <>
      <p className="flex gap-5 pt-3" data-testid="import-counts">
        {ACTIONS.filter(([action]) => counts[action]).map(([action, label, hint]) => (
          <button
            key={action}
            type="button"
            title={hint}
            aria-pressed={only === action}
            className={`border-b-2 pb-1 ${only === action ? "border-ink" : "border-transparent"}`}
            onClick={() => setOnly(only === action ? null : action)}
          >
            <b className="figure text-[15px]">{counts[action]}</b>{" "}
            <span className={action === "conflict" ? "text-madder" : ""}>{label}</span>
          </button>
        ))}
      </p>
      {rows.length > 0 && (
        <table className="mt-2 w-full border-t border-rule2 text-left" data-testid="import-rows">
          <thead className="text-ink3">
            <tr className="border-b border-rule2">
              <th className="w-7 py-1 font-normal">
                <input
                  type="checkbox"
                  aria-label="take all of these"
                  checked={all}
                  disabled={ours.length === 0}
                  onChange={() => toggle(ours, !all)}
                />
              </th>
              <th className="w-5 font-normal" />
              <th className="w-24 font-normal">kind</th>
              <th className="w-36 font-normal">name</th>
              <th className="w-24 font-normal">known by</th>
              <th className="font-normal">what changes</th>
            </tr>
          </thead>
          <tbody>
            {rows.slice(0, SHOWN).map(({ entry, key }) => (
              <tr key={key} className="border-b border-rule align-top" data-action={entry.action}>
                <td className="pt-[2px]">
                  {entry.patch?.length ? (
                    <input
                      type="checkbox"
                      className="block h-[13px]"
                      aria-label={`take ${entry.name}`}
                      checked={!left.has(key)}
                      onChange={() => toggle([key], left.has(key))}
                    />
                  ) : null}
                </td>
                <td className={`figure ${entry.action === "conflict" ? "text-madder" : "text-ink3"}`}>
                  {MARK[entry.action]}
                </td>
                <td>{entry.kind}</td>
                <td className="font-semibold">{entry.name}</td>
                <td className="text-ink3">{entry.matched ?? ""}</td>
                <td>
                  {entry.why && <span className="text-madder">{entry.why}</span>}
                  {entry.instead && (
                    <label className="flex items-center gap-2 font-semibold text-ochre-ink">
                      <input
                        type="checkbox"
                        checked={instead.has(entry.element ?? "")}
                        onChange={(event) => setInstead(withOne(instead, entry.element ?? "", event.target.checked))}
                        data-testid={`instead-${entry.name}`}
                      />
                      {entry.instead.does}
                    </label>
                  )}
                  {entry.fields?.map((field) => (
                    <FieldLine
                      key={field.field}
                      field={field}
                      take={entry.action === "update" ? takeOf(entry, field, takes) : "file"}
                      choose={(side) => setTakes({ ...takes, [fieldKey(entry, field)]: side })}
                    />
                  ))}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {rows.length > SHOWN && <p className="pt-1 text-ink3">and {rows.length - SHOWN} more</p>}
      {proposal.remarks.length > 0 && (
        <div className="pt-3" data-testid="import-remarks">
          <b className="font-semibold">Not used, or not as it stands in the file</b>
          {proposal.remarks.slice(0, SHOWN).map((remark) => (
            <p key={`${remark.where}/${remark.what}`} className="border-b border-rule py-[3px]">
              {remark.where} <span className="text-ink3">{remark.what}</span>
            </p>
          ))}
        </div>
      )}
    </>
  );
}

/** A field of an element: as it is here, as the file has it and, where both sides have changed, which is taken. */
function FieldLine({
  field,
  take,
  choose,
}: {
  field: Field;
  take: Field["take"];
  choose: (side: "file" | "here") => void;
}) {
  const name = field.field.replaceAll("_", " ");
  if (field.was === null || field.was === undefined || field.take === "file")
    return (
      <span className="mr-4 inline-block">
        {name} {field.now && <span className="figure text-ink3 line-through">{field.now}</span>}{" "}
        <span className="figure">{field.new}</span>
        {field.assumed && (
          <span className="ml-1 bg-ochre/30 px-1 text-[11px]" title="nothing states it: check it">
            assumed
          </span>
        )}
      </span>
    );
  const side = (which: "file" | "here", value: string) => (
    <label className={`mr-3 ${take === which ? "font-semibold" : ""}`}>
      <input
        type="radio"
        className="align-[-2px]"
        checked={take === which}
        onChange={() => choose(which)}
        aria-label={`${name} as ${which === "file" ? "in the file" : "here"}`}
      />{" "}
      {which === "file" ? "file" : "here"} <span className="figure">{value}</span>
    </label>
  );
  return (
    <span className={`block ${take === "ask" ? "text-madder" : ""}`} data-testid={`both-${field.field}`}>
      {name} <span className="text-ink3">at import</span> <span className="figure mr-3">{field.was}</span>
      {side("here", field.now)}
      {side("file", field.new)}
    </span>
  );
}

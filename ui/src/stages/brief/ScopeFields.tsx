import { useState } from "react";
import { everyOf } from "../../document/criteria";
import { useProject } from "../../document/store";
import type { Network, Rule, Scope } from "../../document/types";
import { isConduit } from "../../document/types";

const nameOf = (network: Network, id: string) => network.nodes[id]?.name ?? network.links[id]?.name ?? "(gone)";

/** What a rule is asked of, in a few words. */
export function scopeWord(scope: Scope, every: string, network: Network): string {
  const names = scope.elements.map((id) => nameOf(network, id));
  const some = names.length > 3 ? `${names.slice(0, 2).join(", ")} and ${names.length - 2} more` : names.join(", ");
  switch (scope.of) {
    case "all":
      return every;
    case "all but":
      return `${every} but ${some}`;
    case "elements":
      return some;
    case "selection":
      return `selection “${scope.selection}”`;
    case "network":
      return `the network of ${some}`;
  }
}

/** Names typed or pasted, parted by commas or lines, as ids; or the first that nothing is called. */
export function idsOf(network: Network, text: string): { ids: string[] } | { unknown: string } {
  const known = new Map<string, string>();
  for (const [id, one] of [...Object.entries(network.nodes), ...Object.entries(network.links)])
    known.set(one.name.trim().toLowerCase(), id);
  const ids: string[] = [];
  for (const name of text.split(/[,;\t\n]/).map((part) => part.trim())) {
    if (!name) continue;
    const id = known.get(name.toLowerCase());
    if (!id) return { unknown: name };
    if (!ids.includes(id)) ids.push(id);
  }
  return { ids };
}

/** Of which elements a rule is asked, and why not of all. Elements are named, or taken from what is picked. */
export function ScopeFields({ rule, commit, testId }: { rule: Rule; commit: (scope: Scope) => void; testId: string }) {
  const { network, project, picked } = useProject();
  const [of, setOf] = useState<Scope["of"]>(rule.scope.of);
  const named = of === "all but" || of === "elements" || of === "network";
  const [text, setText] = useState(rule.scope.elements.map((id) => (network ? nameOf(network, id) : "")).join(", "));
  const [bad, setBad] = useState("");
  if (!network || !project) return null;
  const keep = (more: Partial<Scope>) =>
    commit({ of, elements: [], selection: "", reason: rule.scope.reason, ...more });
  const take = (ids: string[]) => {
    const own = of === "network" ? ids.slice(0, 1) : ids;
    setText(own.map((id) => nameOf(network, id)).join(", "));
    setBad("");
    if (own.length > 0) keep({ elements: own });
  };
  const finish = () => {
    const found = idsOf(network, text);
    if ("unknown" in found) setBad(`nothing is called “${found.unknown}”`);
    else if (found.ids.length === 0) setBad("name an element, or choose all");
    else take(found.ids);
  };
  return (
    <div className="flex flex-wrap items-baseline gap-x-3 gap-y-1 py-1 pl-[76px]" data-testid={testId}>
      <span className="text-ink2">asked of</span>
      <select
        className="border-b border-ink3 bg-transparent"
        aria-label={`what ${rule.name} is asked of`}
        value={of}
        onChange={(event) => {
          const next = event.target.value as Scope["of"];
          setOf(next);
          setBad("");
          if (next === "all") commit({ of: "all", elements: [], selection: "", reason: "" });
          const kept = project.selections[0]?.name;
          if (next === "selection" && kept)
            commit({ of: next, elements: [], selection: kept, reason: rule.scope.reason });
        }}
      >
        <option value="all">{everyOf(rule.kind)}</option>
        <option value="all but">all but</option>
        <option value="elements">these alone</option>
        <option value="selection" disabled={project.selections.length === 0}>
          a kept selection
        </option>
        <option value="network">one network, of</option>
      </select>
      {named && (
        <>
          <input
            className={`field !w-56 !text-left !font-sans ${bad ? "!border-madder" : ""}`}
            value={text}
            placeholder="names, parted by commas"
            aria-label={`elements of ${rule.name}`}
            aria-invalid={bad !== ""}
            onChange={(event) => setText(event.target.value)}
            onBlur={finish}
            onKeyDown={(event) => event.key === "Enter" && finish()}
          />
          {picked.size > 0 && (
            <button
              type="button"
              className="textlink"
              onMouseDown={(event) => event.preventDefault()}
              onClick={() => take([...picked])}
            >
              take the {picked.size} picked on the plan
            </button>
          )}
          {bad && <span className="text-madder">{bad}</span>}
        </>
      )}
      {of === "selection" && (
        <select
          className="border-b border-ink3 bg-transparent"
          aria-label={`selection of ${rule.name}`}
          value={rule.scope.selection}
          onChange={(event) => keep({ selection: event.target.value })}
        >
          {project.selections.map((kept) => (
            <option key={kept.name}>{kept.name}</option>
          ))}
        </select>
      )}
      {rule.scope.of !== "all" && (
        <label className="flex flex-1 items-baseline gap-1">
          because
          <input
            className="field min-w-40 !w-full !text-left !font-sans"
            defaultValue={rule.scope.reason}
            key={rule.scope.reason}
            placeholder="the report prints it"
            aria-label={`why ${rule.name} is not asked of all`}
            onBlur={(event) =>
              event.target.value !== rule.scope.reason && commit({ ...rule.scope, reason: event.target.value.trim() })
            }
          />
        </label>
      )}
    </div>
  );
}

/** The outfall or link that a rule is asked of: from a list, or what is picked on the plan. */
export function PlaceField({
  rule,
  commit,
  testId,
}: {
  rule: Extract<Rule, { element: string }>;
  commit: (id: string) => void;
  testId: string;
}) {
  const { network, cursor } = useProject();
  if (!network) return null;
  const byName = (a: [string, { name: string }], b: [string, { name: string }]) =>
    a[1].name.localeCompare(b[1].name, undefined, { numeric: true });
  const outfalls = Object.entries(network.nodes)
    .filter(([, node]) => node.kind === "outfall")
    .sort(byName);
  const links = Object.entries(network.links).sort(byName);
  const controls = links.filter(([, link]) => !isConduit(link));
  const conduits = links.filter(([, link]) => isConduit(link));
  const known = rule.element in network.links || outfalls.some(([id]) => id === rule.element);
  const group = (label: string, found: [string, { name: string }][]) =>
    found.length > 0 && (
      <optgroup label={label}>
        {found.map(([id, one]) => (
          <option key={id} value={id}>
            {one.name}
          </option>
        ))}
      </optgroup>
    );
  const pointed = cursor.element;
  const offered =
    pointed !== null &&
    pointed !== rule.element &&
    (pointed in network.links || network.nodes[pointed]?.kind === "outfall");
  return (
    <>
      <select
        className={`max-w-40 border-b bg-transparent font-semibold ${known ? "border-ink3" : "border-madder text-madder"}`}
        aria-label={`where ${rule.name} is asked`}
        value={rule.element}
        onChange={(event) => commit(event.target.value)}
        data-testid={testId}
      >
        {!known && <option value={rule.element}>gone: choose another</option>}
        {group("outfalls", outfalls)}
        {group("controls", controls)}
        {group("conduits", conduits)}
      </select>
      {offered && (
        <button type="button" className="textlink text-[11px] text-ink2" onClick={() => commit(pointed)}>
          take {nameOf(network, pointed)}, picked
        </button>
      )}
    </>
  );
}

import { Dialog } from "radix-ui";
import { type DragEvent, useMemo, useState } from "react";
import { Problem } from "../api/client";
import type { components } from "../api/schema";
import { type Change, useProject } from "../document/store";
import { Page } from "../primitives/Page";

type Proposal = components["schemas"]["Proposal"];
type Entry = components["schemas"]["Entry"];
type Action = Entry["action"];

const ACTIONS: [Action, string, string][] = [
  ["conflict", "in conflict", "stays as it is"],
  ["create", "new", "is laid"],
  ["update", "changed", "is changed, field by field"],
  ["same", "the same", "nothing to do"],
];
const MARK: Record<Action, string> = { create: "+", update: "~", same: "=", conflict: "!" };
const SHOWN = 400;

const formOf = (name: string) => (/\.(geo)?json$/i.test(name) ? "geojson" : "landxml");
const keyOf = (entry: Entry, index: number) => entry.element ?? `${entry.group}/${entry.name}/${index}`;

/** What a file would do to the network, element by element, before anything changes. */
export function TakeIn() {
  const [open, setOpen] = useState(false);
  const [busy, setBusy] = useState<string | null>(null);
  const [wrong, setWrong] = useState<string | null>(null);
  const [file, setFile] = useState("");
  const [proposal, setProposal] = useState<Proposal | null>(null);
  const [left, setLeft] = useState<Set<string>>(new Set());
  const { id, edit, optionPath } = useProject();

  const look = async (chosen: File | undefined) => {
    if (!chosen) return;
    setBusy(`reading ${chosen.name}`);
    setWrong(null);
    setProposal(null);
    setLeft(new Set());
    setFile(chosen.name);
    try {
      const response = await fetch(`/api/projects/${id}/incoming?format=${formOf(chosen.name)}`, {
        method: "POST",
        body: chosen,
      });
      const body = await response.json();
      if (!response.ok) throw new Problem(response.status, body.title, body.detail);
      setProposal(body as Proposal);
    } catch (error) {
      setWrong(error instanceof Error ? error.message : String(error));
    }
    setBusy(null);
  };
  const taken = proposal?.entries.filter((e, i) => e.patch?.length && !left.has(keyOf(e, i))) ?? [];
  const apply = async () => {
    setBusy("taking in");
    const changes = taken.flatMap((entry) => (entry.patch ?? []) as unknown as Change[]);
    await edit(changes.map((change) => ({ ...change, path: `${optionPath}${change.path}` })));
    setBusy(null);
    setOpen(false);
    setProposal(null);
  };
  const drop = (event: DragEvent) => {
    event.preventDefault();
    look(event.dataTransfer.files[0]);
  };
  return (
    <Dialog.Root open={open} onOpenChange={setOpen}>
      <Dialog.Trigger
        className="ml-2 shrink-0 whitespace-nowrap border-l border-rule2 pl-3 font-semibold underline"
        data-testid="take-in"
      >
        Take in a file
      </Dialog.Trigger>
      <Page
        title={`Take in a network${file && `: ${file}`}`}
        wide={920}
        testId="take-in-page"
        onDragOver={(event) => event.preventDefault()}
        onDrop={drop}
      >
        <div className="min-h-0 flex-1 overflow-y-auto px-4 py-3">
          <p className="flex items-baseline gap-3">
            <label className="cursor-pointer border border-ink px-3 py-1 font-semibold focus-within:outline">
              Choose a file
              <input
                type="file"
                accept=".xml,.landxml,.geojson,.json"
                className="sr-only"
                data-testid="take-in-file"
                onChange={(event) => look(event.target.files?.[0])}
              />
            </label>
            <span className="text-ink3">
              or drop it here: LandXML 1.2 pipe networks, or GeoJSON in the project’s grid. Elements are recognised by
              id, then by name, then by place. Nothing changes before you apply.
            </span>
          </p>
          {busy && <p className="pt-3 text-ink2">{busy} …</p>}
          {wrong && (
            <p className="pt-3 text-madder" role="alert" data-testid="take-in-wrong">
              {wrong}
            </p>
          )}
          {proposal && <Preview proposal={proposal} left={left} setLeft={setLeft} />}
        </div>
        {proposal && (
          <p className="flex items-baseline justify-end gap-4 border-t border-rule2 px-4 py-2">
            <span className="text-ink3">One step: undo takes all of it back.</span>
            <button
              type="button"
              className="bg-ink px-4 py-1 font-semibold text-hi disabled:opacity-40"
              disabled={taken.length === 0 || busy !== null}
              onClick={apply}
              data-testid="take-in-apply"
            >
              Take in {taken.length} element{taken.length === 1 ? "" : "s"}
            </button>
          </p>
        )}
      </Page>
    </Dialog.Root>
  );
}

function Preview({
  proposal,
  left,
  setLeft,
}: {
  proposal: Proposal;
  left: Set<string>;
  setLeft: (left: Set<string>) => void;
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
  const absent = Object.entries(proposal.left).flatMap(([group, names]) => (names.length ? [{ group, names }] : []));
  const toggle = (keys: string[], keep: boolean) => {
    const next = new Set(left);
    for (const key of keys) keep ? next.delete(key) : next.add(key);
    setLeft(next);
  };
  const ours = rows.filter(({ entry }) => entry.patch?.length).map(({ key }) => key);
  const all = ours.every((key) => !left.has(key));
  return (
    <>
      <p className="flex gap-5 pt-3" data-testid="take-in-counts">
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
        {absent.length > 0 && (
          <span className="pb-1 text-ink3" title={absent.flatMap(({ names }) => names.slice(0, 60)).join(", ")}>
            left alone, not in the file: {absent.map(({ group, names }) => `${names.length} ${group}`).join(", ")}
          </span>
        )}
      </p>
      {rows.length > 0 && (
        <table className="mt-2 w-full border-t border-rule2 text-left" data-testid="take-in-rows">
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
                  {entry.fields?.map((change) => (
                    <span key={change.field} className="mr-4 inline-block">
                      {change.field.replaceAll("_", " ")}{" "}
                      {change.now && <span className="figure text-ink3 line-through">{change.now}</span>}{" "}
                      <span className="figure">{change.new}</span>
                    </span>
                  ))}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {rows.length > SHOWN && <p className="pt-1 text-ink3">and {rows.length - SHOWN} more</p>}
      {proposal.remarks.length > 0 && (
        <div className="pt-3" data-testid="take-in-remarks">
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

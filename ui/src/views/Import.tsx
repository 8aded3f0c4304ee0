import { Dialog } from "radix-ui";
import { type DragEvent, useMemo, useState } from "react";
import { Problem } from "../api/client";
import type { components } from "../api/schema";
import { type Change, useProject } from "../document/store";
import type { Mappings } from "../document/types";
import { Page } from "../primitives/Page";
import { kept, type Look, Matching, proposed } from "./Matching";

type Proposal = components["schemas"]["Proposal"];
type Entry = components["schemas"]["Entry"];
type Action = Entry["action"];

const ACTIONS: [Action, string, string][] = [
  ["conflict", "in conflict", "stays as it is"],
  ["create", "new", "is added"],
  ["update", "changed", "is changed, field by field"],
  ["same", "the same", "nothing to do"],
];
const MARK: Record<Action, string> = { create: "+", update: "~", same: "=", conflict: "!" };
const SHOWN = 400;

const FORMS: [RegExp, string][] = [
  [/\.(geo)?json$/i, "geojson"],
  [/\.(xlsx|csv|txt)$/i, "table"],
  [/\.dxf$/i, "dxf"],
  [/\.(land)?xml$/i, "landxml"],
];
const formOf = (name: string) => FORMS.find(([ending]) => ending.test(name))?.[1];
const keyOf = (entry: Entry, index: number) => entry.element ?? `${entry.group}/${entry.name}/${index}`;

/** Which side's value is taken, by element and field, where somebody has chosen. */
type Takes = Record<string, "file" | "here">;
type Field = NonNullable<Entry["fields"]>[number];
const fieldKey = (entry: Entry, field: Field) => `${entry.element}/${field.field}`;
const takeOf = (entry: Entry, field: Field, takes: Takes) => takes[fieldKey(entry, field)] ?? field.take;

/** The edits of an entry: of an update, those fields whose value is taken from the file. */
function operations(entry: Entry, takes: Takes): Change[] {
  const patch = (entry.patch ?? []) as unknown as Change[];
  if (entry.action !== "update") return patch;
  return patch.filter((_, k) => {
    const field = entry.fields?.[k];
    return field === undefined || takeOf(entry, field, takes) === "file";
  });
}

/** What a file would do to the network, element by element, before anything changes. */
export function ImportPage() {
  const [open, setOpen] = useState(false);
  const [busy, setBusy] = useState<string | null>(null);
  const [wrong, setWrong] = useState<string | null>(null);
  const [file, setFile] = useState("");
  const [chosen, setChosen] = useState<{ file: File; form: string } | null>(null);
  const [look, setLook] = useState<Look | null>(null);
  const [mapping, setMapping] = useState<Mappings | null>(null);
  const [proposal, setProposal] = useState<Proposal | null>(null);
  const [left, setLeft] = useState<Set<string>>(new Set());
  const [takes, setTakes] = useState<Takes>({});
  const { id, option, project, edit, optionPath } = useProject();

  const ask = async <T,>(what: string, path: string, file: File): Promise<T | null> => {
    setBusy(what);
    setWrong(null);
    try {
      const response = await fetch(`/api/projects/${id}/${path === "import/keep" ? "" : `options/${option}/`}${path}`, {
        method: "POST",
        body: file,
      });
      const body = await response.json();
      if (!response.ok) throw new Problem(response.status, body.title, body.detail);
      return body as T;
    } catch (error) {
      setWrong(error instanceof Error ? error.message : String(error));
      return null;
    } finally {
      setBusy(null);
    }
  };
  const propose = async (file: File, form: string, by: Mappings | null) => {
    const query = new URLSearchParams({ format: form, name: file.name });
    if (by) query.set("mapping", JSON.stringify(by));
    setLeft(new Set());
    setTakes({});
    setProposal(await ask<Proposal>(`comparing ${file.name}`, `import?${query}`, file));
  };
  const begin = async (file: File | undefined) => {
    if (!file) return;
    setProposal(null);
    setLook(null);
    setMapping(null);
    setFile(file.name);
    const form = formOf(file.name);
    if (!form) return setWrong("its name does not tell its format; let it end in .xml, .geojson, .csv, .xlsx or .dxf");
    setChosen({ file, form });
    if (form === "geojson") return propose(file, form, null);
    const found = await ask<Look>(`reading ${file.name}`, `import/look?format=${form}`, file);
    if (!found) return;
    const first = proposed(found);
    setLook(found);
    setMapping(first);
    // what is known by itself, or was matched before, needs no step between
    if (form === "landxml" || (found.sheets?.length && found.sheets.every((sheet) => sheet.known)))
      await propose(file, form, first);
  };
  const wanted = proposal?.entries.filter((e, i) => e.patch?.length && !left.has(keyOf(e, i))) ?? [];
  const taken = wanted.filter((entry) => operations(entry, takes).length > 0);
  const open_ = wanted.filter((entry) => entry.fields?.some((f) => takeOf(entry, f, takes) === "ask")).length;
  const apply = async () => {
    setBusy("importing");
    const changes = taken.flatMap((entry) => operations(entry, takes));
    const digest = chosen ? await ask<string>("importing", "import/keep", chosen.file) : null;
    const now = mapping ?? { tables: [], layers: {}, blocks: {}, structures: {}, network_types: {}, files: {} };
    const files = digest ? { [file]: digest } : {};
    const remembered: Change[] = project
      ? [{ op: "add", path: "/mappings", value: kept(project.mappings, { ...now, files }) }]
      : [];
    await edit([...changes.map((change) => ({ ...change, path: `${optionPath}${change.path}` })), ...remembered]);
    setBusy(null);
    setOpen(false);
    setProposal(null);
    setLook(null);
  };
  const drop = (event: DragEvent) => {
    event.preventDefault();
    begin(event.dataTransfer.files[0]);
  };
  return (
    <Dialog.Root open={open} onOpenChange={setOpen}>
      <Dialog.Trigger
        className="ml-2 shrink-0 whitespace-nowrap border-l border-rule2 pl-3 font-semibold underline"
        data-testid="import"
      >
        Import a file
      </Dialog.Trigger>
      <Page
        title={`Import a network${file && `: ${file}`}`}
        wide={920}
        testId="import-page"
        onDragOver={(event) => event.preventDefault()}
        onDrop={drop}
      >
        <div className="min-h-0 flex-1 overflow-y-auto px-4 py-3">
          <p className="flex items-baseline gap-3">
            <label className="cursor-pointer whitespace-nowrap border border-ink px-3 py-1 font-semibold focus-within:outline">
              Choose a file
              <input
                type="file"
                accept=".xml,.landxml,.geojson,.json,.csv,.txt,.xlsx,.dxf"
                className="sr-only"
                data-testid="import-file"
                onChange={(event) => begin(event.target.files?.[0])}
              />
            </label>
            <span className="text-ink3">
              or drop it here: LandXML 1.2, GeoJSON in the project’s grid, tables (CSV, XLSX), DXF. Elements are
              recognised by id, then by name, then by place. Nothing changes before you apply.
            </span>
          </p>
          {busy && <p className="pt-3 text-ink2">{busy} …</p>}
          {wrong && (
            <p className="pt-3 text-madder" role="alert" data-testid="import-wrong">
              {wrong}
            </p>
          )}
          {look && mapping && chosen && (
            <>
              <Matching
                look={look}
                mapping={mapping}
                change={(next) => {
                  setMapping(next);
                  setProposal(null);
                }}
              />
              {!proposal && (
                <button
                  type="button"
                  className="mt-3 border border-ink px-3 py-1 font-semibold disabled:opacity-40"
                  disabled={busy !== null}
                  onClick={() => propose(chosen.file, chosen.form, mapping)}
                  data-testid="import-compare"
                >
                  See what it would do
                </button>
              )}
            </>
          )}
          {proposal && <Preview proposal={proposal} left={left} setLeft={setLeft} takes={takes} setTakes={setTakes} />}
        </div>
        {proposal && (
          <p className="flex items-baseline justify-end gap-4 border-t border-rule2 px-4 py-2">
            {open_ > 0 && (
              <span className="mr-auto text-madder" data-testid="import-open">
                {open_} changed both here and in the file: choose a side for each field, or they stay as they are here
              </span>
            )}
            <span className="text-ink3">One step: undo takes all of it back.</span>
            <button
              type="button"
              className="bg-ink px-4 py-1 font-semibold text-hi disabled:opacity-40"
              disabled={taken.length === 0 || busy !== null}
              onClick={apply}
              data-testid="import-apply"
            >
              Import {taken.length} element{taken.length === 1 ? "" : "s"}
            </button>
          </p>
        )}
      </Page>
    </Dialog.Root>
  );
}

const NAMED = 12; // names of what is not in the file

function Preview({
  proposal,
  left,
  setLeft,
  takes,
  setTakes,
}: {
  proposal: Proposal;
  left: Set<string>;
  setLeft: (left: Set<string>) => void;
  takes: Takes;
  setTakes: (takes: Takes) => void;
}) {
  const [only, setOnly] = useState<Action | null>(null);
  const { pickAll } = useProject();
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
      {absent.length > 0 && (
        <p className="text-ink3" data-testid="import-absent">
          Left alone, not in the file:{" "}
          {absent.map(({ group, names }) => (
            <span key={group} className="mr-3" title={names.slice(0, 400).join(", ")}>
              {names.length} {group} ({names.slice(0, NAMED).join(", ")}
              {names.length > NAMED ? `, and ${names.length - NAMED} more` : ""}){" "}
              <button
                type="button"
                className="textlink"
                title="pick them on the plan, to look at them or to remove them"
                onClick={() => pickAll(proposal.absent[group as keyof Proposal["absent"]] ?? [])}
              >
                pick
              </button>
            </span>
          ))}
        </p>
      )}
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

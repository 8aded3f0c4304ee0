import { Dialog } from "radix-ui";
import { type DragEvent, useRef, useState } from "react";
import { api, call, sent } from "../../api/client";
import { type Change, useProject } from "../../document/store";
import type { Mappings } from "../../document/types";
import { Page } from "../../primitives/Page";
import { Absent } from "./Absent";
import { kept, type Look, Matching, proposed } from "./Matching";
import { Preview } from "./Preview";
import { keyOf, operations, type Proposal, type Takes, takeOf } from "./taking";

const FORMS: [RegExp, string][] = [
  [/\.(geo)?json$/i, "geojson"],
  [/\.(xlsx|csv|txt)$/i, "table"],
  [/\.dxf$/i, "dxf"],
  [/\.(land)?xml$/i, "landxml"],
];
const formOf = (name: string) => FORMS.find(([ending]) => ending.test(name))?.[1];
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
  const asked = useRef(0);
  const [left, setLeft] = useState<Set<string>>(new Set());
  const [takes, setTakes] = useState<Takes>({});
  const [gone, setGone] = useState<ReadonlySet<string>>(new Set());
  const [instead, setInstead] = useState<ReadonlySet<string>>(new Set());
  const { id, option, project, edit, optionPath } = useProject();

  const ask = async <T,>(what: string, path: string, file: File): Promise<T | null> => {
    setBusy(what);
    setWrong(null);
    try {
      return await sent<T>(`/api/projects/${id}/${path === "import/keep" ? "" : `options/${option}/`}${path}`, file);
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
    setGone(new Set());
    setInstead(new Set());
    asked.current += 1;
    const mine = asked.current;
    const found = await ask<Proposal>(`comparing ${file.name}`, `import?${query}`, file);
    // one for a file or a matching that has changed meanwhile is no answer
    if (mine === asked.current) setProposal(found);
  };
  const withdraw = () => {
    asked.current += 1;
    setProposal(null);
  };
  const begin = async (file: File | undefined) => {
    if (!file) return;
    withdraw();
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
  const taken = wanted.filter((entry) => operations(entry, takes, instead).length > 0);
  const open_ = wanted.filter((entry) => entry.fields?.some((f) => takeOf(entry, f, takes) === "ask")).length;
  const apply = async () => {
    setBusy("importing");
    const changes = taken.flatMap((entry) => operations(entry, takes, instead));
    if (gone.size > 0) {
      const removed = await call(
        api.POST("/api/projects/{project_id}/options/{option}/removal", {
          params: { path: { project_id: id ?? "", option } },
          body: [...gone],
        }),
      ).catch((error) => setWrong(String(error)));
      if (!removed) return setBusy(null);
      changes.push(...(removed as unknown as Change[]));
    }
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
                  withdraw();
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
          {proposal && (
            <Preview
              proposal={proposal}
              left={left}
              setLeft={setLeft}
              takes={takes}
              setTakes={setTakes}
              instead={instead}
              setInstead={setInstead}
            />
          )}
          {proposal && <Absent proposal={proposal} gone={gone} setGone={setGone} />}
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
              disabled={taken.length + gone.size === 0 || busy !== null}
              onClick={apply}
              data-testid="import-apply"
            >
              Import {taken.length} element{taken.length === 1 ? "" : "s"}
              {gone.size > 0 && `, remove ${gone.size}`}
            </button>
          </p>
        )}
      </Page>
    </Dialog.Root>
  );
}

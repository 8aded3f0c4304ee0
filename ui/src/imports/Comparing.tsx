import { type ReactNode, useEffect, useRef, useState } from "react";
import { api, call, sent } from "../api/client";
import { type Change, useProject } from "../document/store";
import type { Mappings } from "../document/types";
import { Absent } from "./Absent";
import { kept, type Look, Matching, proposed } from "./Matching";
import { Preview } from "./Preview";
import { keyOf, operations, type Proposal, type Takes, takeOf } from "./taking";

/** What is read. kinds: of element, where rows were pasted into a table of them: then it is no file to come again. */
export type Source = { file: File; form: string; kinds?: readonly string[] };

/** How a file is matched, and what it would do to the network, element by element, before anything changes. */
export function Comparing({ source, head, done }: { source: Source; head?: ReactNode; done: () => void }) {
  const { file, form, kinds } = source;
  const [busy, setBusy] = useState<string | null>(null);
  const [wrong, setWrong] = useState<string | null>(null);
  const [look, setLook] = useState<Look | null>(null);
  const [mapping, setMapping] = useState<Mappings | null>(null);
  const [proposal, setProposal] = useState<Proposal | null>(null);
  const asked = useRef(0);
  const [left, setLeft] = useState<Set<string>>(new Set());
  const [takes, setTakes] = useState<Takes>({});
  const [gone, setGone] = useState<ReadonlySet<string>>(new Set());
  const [instead, setInstead] = useState<ReadonlySet<string>>(new Set());
  const { id, option, project, edit, optionPath } = useProject();

  const ask = async <T,>(what: string, path: string): Promise<T | null> => {
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
  const propose = async (by: Mappings | null) => {
    const query = new URLSearchParams({ format: form });
    if (!kinds) query.set("name", file.name);
    if (by) query.set("mapping", JSON.stringify(by));
    setLeft(new Set());
    setTakes({});
    setGone(new Set());
    setInstead(new Set());
    asked.current += 1;
    const mine = asked.current;
    const found = await ask<Proposal>(`comparing ${file.name}`, `import?${query}`);
    // one for a file or a matching that has changed meanwhile is no answer
    if (mine === asked.current) setProposal(found);
  };
  const begin = async () => {
    if (form === "geojson") return propose(null);
    const query = new URLSearchParams([["format", form], ...(kinds ?? []).map((kind) => ["kind", kind])]);
    const found = await ask<Look>(`reading ${file.name}`, `import/look?${query}`);
    if (!found) return;
    const first = proposed(found);
    setLook(found);
    setMapping(first);
    // what is known by itself, or was matched before, needs no step between; rows that were pasted are seen at once
    if (kinds || form === "landxml" || (found.sheets?.length && found.sheets.every((sheet) => sheet.known)))
      await propose(first);
  };
  // biome-ignore lint/correctness/useExhaustiveDependencies: a file is read once
  useEffect(() => void begin(), []);

  const wanted = proposal?.entries.filter((e, i) => e.patch?.length && !left.has(keyOf(e, i))) ?? [];
  const taken = wanted.filter((entry) => operations(entry, takes, instead).length > 0);
  const open = wanted.filter((entry) => entry.fields?.some((f) => takeOf(entry, f, takes) === "ask")).length;
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
    const digest = kinds ? null : await ask<string>("importing", "import/keep");
    if (!kinds && digest === null) return; // what is not kept could not be told apart from the next one
    setBusy("importing");
    const now = mapping ?? { tables: [], layers: {}, blocks: {}, structures: {}, network_types: {}, files: {} };
    const files: Record<string, string> = digest === null ? {} : { [file.name]: digest };
    const remembered: Change[] = project
      ? [{ op: "add", path: "/mappings", value: kept(project.mappings, { ...now, files }) }]
      : [];
    const refused = await edit([
      ...changes.map((change) => ({ ...change, path: `${optionPath}${change.path}` })),
      ...remembered,
    ]);
    setBusy(null);
    if (refused) setWrong(refused);
    else done();
  };
  return (
    <>
      <div className="min-h-0 flex-1 overflow-y-auto px-4 py-3">
        {head}
        {busy && <p className="pt-3 text-ink2">{busy} …</p>}
        {wrong && (
          <p className="pt-3 text-madder" role="alert" data-testid="import-wrong">
            {wrong}
          </p>
        )}
        {look && mapping && (
          <>
            <Matching
              look={look}
              mapping={mapping}
              change={(next) => {
                setMapping(next);
                asked.current += 1;
                setProposal(null);
              }}
            />
            {!proposal && (
              <button
                type="button"
                className="mt-3 border border-ink px-3 py-1 font-semibold disabled:opacity-40"
                disabled={busy !== null}
                onClick={() => propose(mapping)}
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
        {proposal && !kinds && <Absent proposal={proposal} gone={gone} setGone={setGone} />}
      </div>
      {proposal && (
        <p className="flex items-baseline justify-end gap-4 border-t border-rule2 px-4 py-2">
          {open > 0 && (
            <span className="mr-auto text-madder" data-testid="import-open">
              {open} changed both here and in the file: choose a side for each field, or they stay as they are here
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
            {kinds ? "Take" : "Import"} {taken.length} {kinds ? "row" : "element"}
            {taken.length === 1 ? "" : "s"}
            {gone.size > 0 && `, remove ${gone.size}`}
          </button>
        </p>
      )}
    </>
  );
}

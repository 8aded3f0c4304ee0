/** What the document asks of the server, and nothing of how: tests put another in its place. */
import {
  api,
  call,
  type Edited,
  type Finding,
  type LastEdit,
  Problem,
  type ProjectState,
  type Verdict,
} from "../api/client";
import { follow, type Told } from "./follow";
import type { Edit } from "./types";

/** RFC 6902; a path into an option begins with `optionPath`. */
export type Change = { op: "replace" | "add" | "remove"; path: string; value?: unknown };
/** An option of a project. */
export type Where = { project_id: string; option: string };

export type Transport = {
  load: (id: string) => Promise<ProjectState>;
  patch: (id: string, revision: number, changes: Change[]) => Promise<ProjectState>;
  /** Edit an option's network: all of the edits, or none. */
  apply: (where: Where, revision: number, edits: Edit[]) => Promise<Edited>;
  /** Every rule by the storms that govern, as edits would have it; nothing is kept. */
  trial: (where: Where, edits: Edit[]) => Promise<Verdict[]>;
  undo: (id: string, revision: number) => Promise<ProjectState>;
  redo: (id: string, revision: number) => Promise<ProjectState>;
  /** Have what an edit starts. */
  ask: (where: Where) => Promise<unknown>;
  /** What the current revision sets otherwise than the one before it. */
  lastEdit: (where: Where) => Promise<LastEdit | null>;
  run: (where: Where) => Promise<unknown>;
  runStorm: (where: Where, storm: string) => Promise<unknown>;
  /** Compute the storms that may decide a close verdict on finer cells. */
  refine: (where: Where) => Promise<unknown>;
  cancel: (where: Where) => Promise<unknown>;
  checks: (where: Where) => Promise<Finding[]>;
  /** Full-bore capacity of every pipe, m³/s by id. */
  fullBore: (where: Where) => Promise<Record<string, number | null>>;
  series: (where: Where, storm: string) => Promise<ArrayBuffer>;
  /** Be told of the answer until it is settled; what comes back ends it. */
  follow: (where: Where, told: Told) => () => void;
};

/** openapi-fetch says the same type in another way, which TypeScript does not see through for a document this deep. */
const state = <T = ProjectState>(asked: Promise<{ data?: unknown; error?: unknown; response: Response }>) =>
  call(asked) as Promise<T>;
const at = "/api/projects/{project_id}/options/{option}";
const from = (project_id: string, revision: number) => ({
  params: { path: { project_id }, header: { "if-match": `"${revision}"` } },
});
const on = (path: Where) => ({ params: { path } });
const address = (where: Where) => `/api/projects/${where.project_id}/options/${where.option}`;

export const transport: Transport = {
  load: (project_id) => state(api.GET("/api/projects/{project_id}", { params: { path: { project_id } } })),
  patch: (id, revision, body) => state(api.PATCH("/api/projects/{project_id}", { ...from(id, revision), body })),
  apply: (where, revision, body) =>
    state<Edited>(
      api.POST(`${at}/edits`, {
        params: { path: where, header: from(where.project_id, revision).params.header },
        body,
      }),
    ),
  trial: async (where, body) => {
    const found: unknown = await call(api.POST(`${at}/trial`, { params: { path: where }, body }));
    return (found as { verdicts: Verdict[] }).verdicts;
  },
  undo: (id, revision) => state(api.POST("/api/projects/{project_id}/undo", from(id, revision))),
  redo: (id, revision) => state(api.POST("/api/projects/{project_id}/redo", from(id, revision))),
  ask: (where) => call(api.POST(`${at}/answer`, on(where))),
  lastEdit: (where) => call(api.GET(`${at}/last-edit`, on(where))),
  run: (where) => call(api.POST(`${at}/run`, on(where))),
  runStorm: (where, storm) => call(api.POST(`${at}/storms/{storm}/run`, { params: { path: { ...where, storm } } })),
  refine: (where) => call(api.POST(`${at}/refine`, on(where))),
  cancel: (where) => call(api.DELETE(`${at}/run`, on(where))),
  checks: (where) => call(api.GET(`${at}/checks`, on(where))),
  fullBore: (where) => call(api.GET(`${at}/full-bore`, on(where))),
  series: async (where, storm) => {
    const response = await fetch(`${address(where)}/storms/${encodeURIComponent(storm)}`);
    if (!response.ok) throw new Problem(response.status, "this storm cannot be replayed");
    return response.arrayBuffer();
  },
  follow: (where, told) => follow(`${address(where)}/events`, told),
};

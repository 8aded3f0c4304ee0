import { useRef, useSyncExternalStore } from "react";
import { create } from "zustand";
import { type Answer, api, call, type Finding, Problem, type ProjectState } from "../api/client";
import { StormSeries } from "./series";
import type { Span } from "./span";
import { type Graph, type Network, type NetworkView, type Project, shownOption } from "./types";
import { readIn } from "./units";

export type Change = { op: "replace" | "add" | "remove"; path: string; value?: unknown };
/** What every view looks at; its moment stands apart, for the replay moves nothing else. */
export type Cursor = { element: string | null; storm: string | null; rule: number };

export type GraphLook = Pick<Graph, "quantities" | "storms" | "against">;

type State = {
  id: string | null;
  project: Project | null;
  network: Network | null;
  optionPath: string;
  revision: number;
  fingerprint: string;
  canUndo: boolean;
  canRedo: boolean;
  answer: Answer | null;
  /** The last settled answer to other inputs: margins are shown beside it. */
  before: Answer | null;
  findings: Finding[];
  series: StormSeries | null;
  /** The part of a storm's time that graphs show, where it is another than the storm itself. */
  zoom: { storm: string; span: Span } | null;
  cursor: Cursor;
  /** s since the storm began. */
  moment: number;
  /** Elements picked together; the cursor's is one of them. */
  picked: ReadonlySet<string>;
  /** From a symptom to the element that causes it, while it is shown. */
  chain: string[] | null;
  playing: boolean;
  /** What the Network stage shows. */
  view: NetworkView;
  /** How picked elements are drawn as graphs. */
  graph: GraphLook;
  /** Levels are read and typed as depths below the ground, everywhere. */
  depths: boolean;
  notice: string | null;
  /** Path of the field that a notice was about. */
  about: { notice: string; field: string } | null;
  open: (id: string) => Promise<void>;
  edit: (changes: Change[]) => Promise<void>;
  undo: () => Promise<void>;
  redo: () => Promise<void>;
  run: () => Promise<void>;
  /** Compute the storms that may decide a close verdict on finer cells. */
  refine: () => Promise<void>;
  cancel: () => Promise<void>;
  point: (cursor: Partial<Cursor & { moment: number }>) => void;
  pickAll: (ids: Iterable<string>) => void;
  showChain: (chain: string[]) => void;
  play: (on: boolean) => void;
  look: (view: NetworkView) => void;
  drawGraph: (look: Partial<GraphLook>) => void;
  showDepths: (on: boolean) => void;
  dismiss: () => void;
};

const DEPTHS = "madidus.depths";
let events: EventSource | null = null;

const store = create<State>((set, get) => {
  const say = (error: unknown) => {
    const notice = error instanceof Error ? error.message : String(error);
    set({ notice, about: error instanceof Problem && error.field ? { notice, field: error.field } : null });
  };

  function take(state: ProjectState) {
    const project = state.document as unknown as Project;
    const option = shownOption(project);
    readIn(project.units, project.flow_unit);
    set({
      id: state.id,
      project,
      network: option.network,
      optionPath: `/options/${option.id}/network`,
      revision: state.revision,
      fingerprint: state.fingerprint,
      canUndo: state.can_undo,
      canRedo: state.can_redo,
    });
  }

  /** Follow the answer to the present revision until it is settled. */
  function follow(id: string) {
    events?.close();
    const source = new EventSource(`/api/projects/${id}/events`);
    events = source;
    source.addEventListener("answer", (event) => {
      const answer = JSON.parse(event.data) as Answer;
      const state = get();
      if (state.id !== id || answer.revision !== state.revision) return;
      const old = state.answer;
      const changed = old && old.revision !== answer.revision && old.state === "settled";
      set({ answer, before: changed ? old : state.before });
      settleCursor(answer);
    });
    source.addEventListener("end", () => source.close());
    source.onerror = () => {
      source.close();
      if (events === source) set({ notice: "the server does not answer; results may not be current" });
    };
    call(api.GET("/api/projects/{project_id}/checks", { params: { path: { project_id: id } } }))
      .then((findings) => set({ findings }))
      .catch(say);
  }

  /** Choose a storm where none is chosen: the one that governs the worst rule. */
  function settleCursor(answer: Answer) {
    const { cursor } = get();
    const known = answer.storms.some((storm) => storm.key === cursor.storm);
    if (!known) {
      const order = answer.verdicts.map((v, i) => ({ v, i })).filter(({ v }) => v.storm);
      order.sort((a, b) => (a.v.value ?? 0) / (a.v.scale || 1) - (b.v.value ?? 0) / (b.v.scale || 1));
      const worst = order[0];
      get().point(
        worst
          ? {
              storm: worst.v.storm,
              moment: worst.v.time ?? 0,
              rule: worst.i,
              element: cursor.element ?? worst.v.element,
            }
          : { storm: answer.storms[0]?.key ?? null },
      );
    } else if (answer.state === "settled") loadSeries();
  }

  let loading = "";
  function loadSeries() {
    const { id, cursor, revision } = get();
    if (!id || !cursor.storm) return;
    const wanted = `${id}/${revision}/${cursor.storm}`;
    if (wanted === loading) return;
    loading = wanted;
    fetch(`/api/projects/${id}/storms/${encodeURIComponent(cursor.storm)}`)
      .then(async (response) => {
        if (!response.ok) throw new Problem(response.status, "this storm cannot be replayed");
        const series = new StormSeries(await response.arrayBuffer());
        if (loading === wanted) set({ series });
      })
      .catch((error) => {
        loading = "";
        say(error);
      });
  }

  // quick edits and undos wait for one another: each is made from the revision that the one before has left
  let queue: Promise<void> = Promise.resolve();
  function change(request: (id: string, revision: number) => Promise<ProjectState>): Promise<void> {
    const asked = get().id;
    queue = queue.then(async () => {
      const { id, revision } = get();
      if (!id || id !== asked) return;
      try {
        take(await request(id, revision));
        follow(id);
      } catch (error) {
        say(error);
        if (error instanceof Problem && error.status === 412) await get().open(id);
      }
    });
    return queue;
  }

  /** Ask for work on the present revision, and follow its answer. */
  async function ask(path: "/api/projects/{project_id}/run" | "/api/projects/{project_id}/refine") {
    const { id } = get();
    if (!id) return;
    try {
      await call(api.POST(path, { params: { path: { project_id: id } } }));
      follow(id);
    } catch (error) {
      say(error);
    }
  }

  const header = (revision: number) => ({ "if-match": `"${revision}"` });

  return {
    id: null,
    project: null,
    network: null,
    optionPath: "",
    revision: 0,
    fingerprint: "",
    canUndo: false,
    canRedo: false,
    answer: null,
    before: null,
    findings: [],
    series: null,
    zoom: null,
    cursor: { element: null, storm: null, rule: 0 },
    moment: 0,
    picked: new Set(),
    chain: null,
    playing: false,
    view: "plan",
    graph: { quantities: ["flow", "level"], storms: "picked", against: null },
    depths: localStorage.getItem(DEPTHS) === "yes",
    notice: null,
    about: null,
    open: async (id) => {
      if (get().id !== id) {
        set({ answer: null, before: null, series: null, project: null, network: null, findings: [] });
        set({ cursor: { element: null, storm: null, rule: 0 }, moment: 0, picked: new Set() });
      }
      loading = "";
      try {
        take(await call(api.GET("/api/projects/{project_id}", { params: { path: { project_id: id } } })));
        follow(id);
      } catch (error) {
        say(error);
      }
    },
    edit: (changes) =>
      change((id, revision) =>
        call(
          api.PATCH("/api/projects/{project_id}", {
            params: { path: { project_id: id }, header: header(revision) },
            body: changes,
          }),
        ),
      ),
    undo: () =>
      change((id, revision) =>
        call(
          api.POST("/api/projects/{project_id}/undo", {
            params: { path: { project_id: id }, header: header(revision) },
          }),
        ),
      ),
    redo: () =>
      change((id, revision) =>
        call(
          api.POST("/api/projects/{project_id}/redo", {
            params: { path: { project_id: id }, header: header(revision) },
          }),
        ),
      ),
    run: () => ask("/api/projects/{project_id}/run"),
    refine: () => ask("/api/projects/{project_id}/refine"),
    cancel: async () => {
      const { id } = get();
      if (id)
        await call(api.DELETE("/api/projects/{project_id}/run", { params: { path: { project_id: id } } })).catch(say);
    },
    point: ({ moment, ...cursor }) => {
      if (moment !== undefined) set({ moment });
      if (Object.keys(cursor).length === 0) return;
      set({ cursor: { ...get().cursor, ...cursor } });
      if (cursor.element !== undefined) set({ picked: new Set(cursor.element ? [cursor.element] : []), chain: null });
      if (cursor.storm !== undefined && cursor.storm !== null) loadSeries();
    },
    pickAll: (ids) => {
      const picked = new Set(ids);
      const { cursor } = get();
      const element = cursor.element && picked.has(cursor.element) ? cursor.element : ([...picked].at(-1) ?? null);
      set({ picked, chain: null, cursor: { ...cursor, element } });
    },
    showChain: (chain) => {
      get().pickAll(chain);
      set({ chain });
    },
    play: (playing) => set({ playing }),
    look: (view) => set({ view }),
    drawGraph: (look) => set({ graph: { ...get().graph, ...look } }),
    showDepths: (depths) => {
      localStorage.setItem(DEPTHS, depths ? "yes" : "no");
      set({ depths });
    },
    dismiss: () => set({ notice: null, about: null }),
  };
});

/**
 * The project on the sheet. A component is drawn again only when one of the parts that it took has changed: the clock
 * of a replay moves many times a second.
 */
function useParts(): State;
function useParts<T>(part: (state: State) => T): T;
function useParts<T>(part?: (state: State) => T): State | T {
  const taken = useRef(new Set<keyof State>());
  const seen = useRef<State | null>(null);
  const look = () => {
    const now = store.getState();
    if (part) return part(now);
    const before = seen.current;
    if (before && [...taken.current].every((key) => before[key] === now[key])) return before;
    seen.current = now;
    return now;
  };
  const found = useSyncExternalStore(store.subscribe, look);
  if (part) return found as T;
  return new Proxy(found as State, {
    get: (_, key: keyof State) => {
      taken.current.add(key);
      return store.getState()[key];
    },
  });
}

export const useProject = Object.assign(useParts, {
  getState: store.getState,
  setState: store.setState,
  subscribe: store.subscribe,
});

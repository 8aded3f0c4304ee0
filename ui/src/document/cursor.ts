/** What every view looks at: element, storm, rule, moment, and the storm's series. */
import type { Answer } from "../api/client";
import { StormSeries } from "./series";
import type { Span } from "./span";
import type { Transport } from "./transport";

/** Its moment stands apart, for the replay moves nothing else. */
export type Cursor = { element: string | null; storm: string | null; rule: number };

export type CursorPart = {
  cursor: Cursor;
  /** s since the storm began. */
  moment: number;
  /** Elements picked together; the cursor's is one of them. */
  picked: ReadonlySet<string>;
  /** From a symptom to the element that causes it, while it is shown. */
  chain: string[] | null;
  playing: boolean;
  series: StormSeries | null;
  /** The storm of the series, and the fingerprint of the inputs that it was computed from. */
  seriesOf: { storm: string; inputs: string } | null;
  /** The part of a storm's time that graphs show, where it is another than the storm itself. */
  zoom: { storm: string; span: Span } | null;
  point: (cursor: Partial<Cursor & { moment: number }>) => void;
  pickAll: (ids: Iterable<string>) => void;
  showChain: (chain: string[]) => void;
  play: (on: boolean) => void;
  /** An answer came: a storm is chosen where none is, the series read once they are whole. */
  answered: (answer: Answer) => void;
  /** Another project is opened. */
  beginAnew: () => void;
  /** What was read belongs to other inputs. */
  reload: () => void;
};

/** What the cursor needs to know of the document. */
export type Opened = {
  id: string | null;
  option: string;
  revision: number;
  fingerprint: string;
  say: (error: unknown) => void;
};

export function cursorPart(
  transport: Transport,
  set: (part: Partial<CursorPart>) => void,
  get: () => CursorPart & Opened,
): CursorPart {
  let loading = "";

  function loadSeries() {
    const { id, option, cursor, revision, fingerprint: inputs } = get();
    const { storm } = cursor;
    if (!id || !storm) return;
    const wanted = `${id}/${option}/${revision}/${storm}`;
    if (wanted === loading) return;
    loading = wanted;
    transport
      .series({ project_id: id, option }, storm)
      .then((content) => {
        if (loading === wanted) set({ series: new StormSeries(content), seriesOf: { storm, inputs } });
      })
      .catch((error) => {
        loading = "";
        get().say(error);
      });
  }

  return {
    cursor: { element: null, storm: null, rule: 0 },
    moment: 0,
    picked: new Set(),
    chain: null,
    playing: false,
    series: null,
    seriesOf: null,
    zoom: null,
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
    answered: (answer) => {
      const { cursor } = get();
      const known = answer.storms.some((storm) => storm.key === cursor.storm);
      if (known) {
        if (answer.state === "settled") loadSeries();
        return;
      }
      // where no storm is chosen: the one that governs the worst rule
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
    },
    beginAnew: () => {
      loading = "";
      set({ cursor: { element: null, storm: null, rule: 0 }, moment: 0, picked: new Set() });
    },
    reload: () => {
      loading = "";
    },
  };
}

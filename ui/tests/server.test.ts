import { beforeEach, describe, expect, it, vi } from "vitest";
import { type Answer, Problem, type ProjectState } from "../src/api/client";
import type { Told } from "../src/document/follow";
import { follow } from "../src/document/follow";
import { copied, fresh, renamed, retired } from "../src/document/options";
import { documentOn } from "../src/document/store";
import type { Change, Transport, Where } from "../src/document/transport";
import { optionsOf, type Project } from "../src/document/types";

const A = "aaaaaaaa-0000-4000-8000-000000000000";
const B = "bbbbbbbb-0000-4000-8000-000000000000";
const network = { nodes: {}, links: {}, catchments: {} };
const project = (more: Partial<Project> = {}) =>
  ({
    name: "Site",
    units: "metric",
    flow_unit: null,
    options: {
      [A]: { name: "A", note: "", retired: false, network },
      [B]: { name: "B", note: "", retired: false, network: { ...network } },
    },
    order: [A, B],
    in_view: A,
    ...more,
  }) as unknown as Project;
const answer = (revision: number, more: Partial<Answer> = {}) =>
  ({ revision, state: "settled", storms: [], verdicts: [], ...more }) as unknown as Answer;

/** A server that keeps revisions, says what it was asked, and answers when it is told to. */
function server() {
  let document = project();
  let revision = 1;
  const said: string[] = [];
  const followed: { where: Where; told: Told; left: boolean }[] = [];
  const waits: (() => void)[] = [];
  const own = {
    slow: false,
    refuse: null as Problem | null,
    said,
    followed,
    release: () => {
      for (const go of waits.splice(0)) go();
    },
    /** Somebody else's edit. */
    elsewhere: (more: Partial<Project>, edits = 1) => {
      document = project({ ...document, ...more });
      revision += edits;
    },
    last: () => followed.at(-1) as { where: Where; told: Told; left: boolean },
  };
  const state = () =>
    ({ id: "p", revision, fingerprint: `f${revision}`, can_undo: true, can_redo: false, document }) as ProjectState;
  async function done(what: string, work: () => void) {
    said.push(what);
    if (own.slow) await new Promise<void>((go) => waits.push(go));
    if (own.refuse) throw own.refuse;
    work();
    return state();
  }
  const asked = (what: string) => (where: Where) => {
    said.push(`${what} ${where.option[0]}`);
    return Promise.resolve();
  };
  const transport: Transport = {
    load: () => done("load", () => {}),
    patch: (_, from, changes: Change[]) =>
      done(`patch from ${from}`, () => {
        if (from !== revision) throw new Problem(412, "the project was changed meanwhile");
        for (const change of changes)
          if (change.path === "/in_view") document = project({ ...document, in_view: String(change.value) });
          else if (change.path === "/name") document = project({ ...document, name: String(change.value) });
          else if (change.path === "/rain/ensemble/durations")
            document = project({ ...document, rain: { ensemble: { durations: change.value } } } as never);
        revision += 1;
      }),
    trial: async () => [],
    lastEdit: async () => ({ revision, made: "2026-01-01T00:00:00Z", told: [`edit ${revision}`], more: 0, leap: "" }),
    apply: async (where, from, edits) => ({
      ...(await done(`apply ${edits[0]?.edit} on ${where.option[0]} from ${from}`, () => {
        revision += 1;
      })),
      made: ["m"],
    }),
    undo: (_, from) => done(`undo from ${from}`, () => (revision += 1)),
    redo: (_, from) => done(`redo from ${from}`, () => (revision += 1)),
    ask: asked("ask"),
    run: asked("run"),
    runStorm: (where, storm) => asked(`run ${storm}`)(where),
    refine: asked("refine"),
    cancel: asked("cancel"),
    checks: () => Promise.resolve([]),
    fullBore: () => Promise.resolve({ pipe: revision }),
    series: () => Promise.reject(new Error("none")),
    follow: (where, told) => {
      const one = { where, told, left: false };
      followed.push(one);
      return () => {
        one.left = true;
      };
    },
  };
  return { ...own, own, transport };
}

const settle = () => new Promise((go) => setTimeout(go, 0));

describe("the document on the server", () => {
  let on: ReturnType<typeof server>;
  let store: ReturnType<typeof documentOn>;
  beforeEach(async () => {
    on = server();
    store = documentOn(on.transport);
    await store.getState().open("p");
    on.said.length = 0;
  });
  const get = () => store.getState();

  it("is opened, asked for and followed in the option in view", () => {
    expect(get().option).toBe(A);
    expect(get().optionPath).toBe(`/options/${A}/network`);
    expect(on.last().where).toEqual({ project_id: "p", option: A });
  });
  it("undo takes back, redo brings back, each from the present revision", async () => {
    await get().edit([{ op: "replace", path: "/name", value: "one" }]);
    await get().undo();
    expect(on.said).toEqual(["patch from 1", "undo from 2"]);
    await get().redo();
    expect(on.said).toEqual(["patch from 1", "undo from 2", "redo from 3"]);
    expect(get().revision).toBe(4);
  });
  it("undo tells first what it would take back, where that was not made here", async () => {
    on.own.elsewhere({ name: "theirs" }, 500);
    await get().open("p");
    on.said.length = 0;
    await get().undo();
    expect(on.said).toEqual([]);
    expect(get().undoing?.told).toEqual(["edit 501"]);
    get().leaveIt();
    expect(get().undoing).toBeNull();
    await get().undo(true);
    expect(on.said).toEqual(["undo from 501"]);
    expect(get().undoing).toBeNull();
  });
  it("of two undos at once the second takes back no one else's edit unasked", async () => {
    on.own.elsewhere({ name: "theirs" }, 600);
    await get().open("p");
    await get().edit([{ op: "replace", path: "/name", value: "mine" }]);
    on.said.length = 0;
    await Promise.all([get().undo(), get().undo()]);
    expect(on.said).toEqual(["undo from 602"]);
    expect(get().undoing).not.toBeNull();
  });
  it("quick edits wait for one another: each is made from what the one before has left", async () => {
    on.own.slow = true;
    const both = [
      get().edit([{ op: "replace", path: "/name", value: "one" }]),
      get().edit([{ op: "replace", path: "/name", value: "two" }]),
      get().undo(),
    ];
    await settle();
    expect(on.said).toEqual(["patch from 1"]);
    for (let k = 0; k < 3; k++) {
      on.release();
      await settle();
    }
    await Promise.all(both);
    expect(on.said).toEqual(["patch from 1", "patch from 2", "undo from 3"]);
    expect(get().project?.name).toBe("two");
  });
  it("edits of a network wait their turn, and tell what they made", async () => {
    on.own.slow = true;
    const first = get().edit([{ op: "replace", path: "/name", value: "one" }]);
    const second = get().apply([{ edit: "join", node: "n" }]);
    await settle();
    store.setState({ option: B }); // looked at by now; the edit is of the option where it was asked for
    for (let k = 0; k < 2; k++) {
      on.release();
      await settle();
    }
    await first;
    expect(await second).toEqual(["m"]);
    expect(on.said).toEqual(["patch from 1", "ask b", "apply join on a from 2", "ask b"]);
    on.own.slow = false;
    on.own.refuse = new Problem(422, "manhole B, links: its pipes differ in silt");
    expect(await get().apply([{ edit: "join", node: "n" }])).toEqual([]);
    expect(get().notice).toContain("differ in silt");
  });
  it("an edit of a project that has been left meanwhile is not made in the next one", async () => {
    on.own.slow = true;
    const first = get().edit([{ op: "replace", path: "/name", value: "one" }]);
    const second = get().edit([{ op: "replace", path: "/name", value: "two" }]);
    await settle();
    store.setState({ id: "another" });
    on.release();
    await Promise.all([first, second]);
    expect(on.said).toEqual(["patch from 1"]);
  });
  it("clicks on entries of one list lose none of each other, however slow the answers are", async () => {
    on.elsewhere({ rain: { ensemble: { durations: [15, 60] } } } as never);
    await get().open("p");
    on.own.slow = true;
    // each click makes the whole list of what it sees
    const lists = [[15, 30, 60], [15, 60, 120], [60], [15, 60, 240]];
    const clicks = lists.map((value) => get().edit([{ op: "replace", path: "/rain/ensemble/durations", value }]));
    for (let k = 0; k < 4; k++) {
      await settle();
      on.release();
    }
    await Promise.all(clicks);
    const { rain } = get().project as unknown as { rain: { ensemble: { durations: number[] } } };
    expect(rain.ensemble.durations).toEqual([30, 60, 120, 240]);
  });
  it("an edit beside somebody else's is made of theirs once more; one over theirs is not", async () => {
    const rain = (durations: number[]) => ({ rain: { ensemble: { durations } } }) as never;
    on.elsewhere(rain([15, 60]));
    await get().open("p");
    on.elsewhere(rain([15, 60, 1440]));
    await get().edit([{ op: "replace", path: "/rain/ensemble/durations", value: [15, 30, 60] }]);
    const now = () => (get().project as unknown as { rain: { ensemble: { durations: number[] } } }).rain.ensemble;
    expect(now().durations).toEqual([15, 30, 60, 1440]);
    expect(get().notice).toBeNull();
    on.elsewhere({ name: "Theirs" });
    await get().edit([{ op: "replace", path: "/name", value: "Mine" }]);
    expect(get().project?.name).toBe("Theirs");
    expect(get().notice).toContain("changed meanwhile");
  });
  it("somebody else's edit is loaded, the own one is not made, and it is said", async () => {
    on.own.refuse = new Problem(412, "the project was changed meanwhile");
    on.elsewhere({ name: "Theirs" });
    const edit = get().edit([{ op: "replace", path: "/name", value: "Mine" }]);
    await settle();
    on.own.refuse = null;
    await edit;
    expect(get().project?.name).not.toBe("Mine");
    expect(on.said.slice(0, 2)).toEqual(["patch from 1", "load"]);
    await get().open("p");
    expect(get().project?.name).toBe("Theirs");
    expect(get().revision).toBe(2);
    expect(get().notice).toContain("changed meanwhile");
  });
  it("a refused edit is said with its field, and the next one goes on", async () => {
    on.own.refuse = new Problem(422, "pipe P1, diameter: must be positive", "correct this field", "links/x/diameter");
    await get().edit([{ op: "replace", path: "/name", value: "x" }]);
    expect(get().notice).toBe("pipe P1, diameter: must be positive; correct this field");
    expect(get().about?.field).toBe("links/x/diameter");
    expect(get().revision).toBe(1);
    on.own.refuse = null;
    await get().edit([{ op: "replace", path: "/name", value: "y" }]);
    expect(get().project?.name).toBe("y");
  });
  it("an answer to another revision, or of a stream that was left, is not taken", async () => {
    const old = on.last();
    old.told.answer(answer(1));
    expect(get().answer?.revision).toBe(1);
    await get().edit([{ op: "replace", path: "/name", value: "x" }]);
    expect(old.left).toBe(true);
    old.told.answer(answer(1, { state: "running" }));
    expect(get().answer?.state).toBe("settled");
    on.last().told.answer(answer(2, { state: "running" }));
    expect(get().answer?.revision).toBe(2);
    // margins are shown beside those of the last settled answer
    expect(get().before?.revision).toBe(1);
    on.last().told.answer(answer(3));
    expect(get().answer?.revision).toBe(2);
  });
  it("findings and capacities of an earlier revision that come late are not taken", async () => {
    const late: { findings: (found: never[]) => void; full: (found: Record<string, number>) => void }[] = [];
    on.transport.checks = () => new Promise((go) => late.push({ findings: go as never, full: () => {} }));
    on.transport.fullBore = () =>
      new Promise((go) => {
        const one = late.at(-1);
        if (one) one.full = go as never;
      });
    await get().edit([{ op: "replace", path: "/name", value: "one" }]);
    on.last().told.answer(answer(2, { state: "part" }));
    await get().edit([{ op: "replace", path: "/name", value: "two" }]);
    on.last().told.answer(answer(3, { state: "part" }));
    late[1]?.findings(["new"] as never[]);
    late[1]?.full({ pipe: 2 });
    await settle();
    late[0]?.findings(["old"] as never[]);
    late[0]?.full({ pipe: 1 });
    await settle();
    expect(get().findings).toEqual(["new"]);
    expect(get().fullBore).toEqual({ pipe: 2 });
  });
  it("what only looks closer does not stand in the way of a run that ends within moments", async () => {
    const asked: string[] = [];
    on.transport.checks = async () => void asked.push("checks") as never;
    on.transport.fullBore = async () => void asked.push("full bore") as never;
    const edit = () => get().edit([{ op: "replace", path: "/name", value: `${get().revision}` }]);
    await edit();
    on.last().told.answer(answer(2, { state: "running", estimate: 1 }));
    on.last().told.answer(answer(2, { state: "running", estimate: 1 }));
    expect(asked).toEqual([]);
    on.last().told.answer(answer(2));
    on.last().told.answer(answer(2));
    expect(asked).toEqual(["checks", "full bore"]);
    await edit();
    on.last().told.answer(answer(3, { state: "running", estimate: 60 }));
    expect(asked).toHaveLength(4);
    on.last().told.answer(answer(3));
    expect(asked.slice(4)).toEqual(["checks"]); // what the whole run shows
    await edit();
    on.last().told.answer(answer(4, { state: "running", estimate: 1, compiling: true }));
    expect(asked).toHaveLength(7);
  });
  it("a stream that is lost is said until it is back", () => {
    on.last().told.lost(true);
    expect(get().notice).toContain("trying again");
    on.last().told.lost(false);
    expect(get().notice).toBeNull();
    store.setState({ notice: "something else" });
    on.last().told.lost(false);
    expect(get().notice).toBe("something else");
  });
  it("work is asked for where one looks", async () => {
    await get().run();
    await get().runStorm("30-60-winter");
    await get().refine();
    await get().cancel();
    expect(on.said).toEqual(["run a", "run 30-60-winter a", "refine a", "cancel a"]);
  });
  it("another option shows its own answer, and comes into view", async () => {
    on.last().told.answer(answer(1));
    const old = on.last();
    const showing = get().showOption(B);
    expect(get().option).toBe(B);
    expect(get().answer).toBeNull(); // what was computed of A is not B's
    expect(on.last().where.option).toBe(B);
    await showing;
    expect(get().project?.in_view).toBe(B);
    old.told.answer(answer(2));
    expect(get().answer).toBeNull();
    on.last().told.answer(answer(2));
    expect(get().answer?.revision).toBe(2);
    expect(on.said).toEqual(["patch from 1"]);
  });
  it("an edit of an option that is not in view is asked for: the server answers the one in view alone", async () => {
    await get().open("p", B);
    on.said.length = 0;
    await get().edit([{ op: "replace", path: "/name", value: "x" }]);
    expect(on.said).toEqual(["patch from 1", "ask b"]);
    expect(get().option).toBe(B); // whoever looks at B stays there
  });
  it("a link to an option that is gone says so and shows the one in view", async () => {
    await get().open("p", "cccccccc-0000-4000-8000-000000000000");
    expect(get().option).toBe(A);
    expect(get().notice).toContain("not there");
  });
  it("somebody else's look at another option does not take this one away, an undo of one's own does", async () => {
    await get().open("p", B);
    on.elsewhere({ in_view: B });
    await get().open("p");
    expect(get().option).toBe(B);
    on.elsewhere({ in_view: A });
    await get().undo();
    expect(get().option).toBe(A);
  });
});

describe("following an answer", () => {
  class Source {
    static made: Source[] = [];
    listeners: Record<string, (event: unknown) => void> = {};
    onerror: (() => void) | null = null;
    closed = false;
    constructor() {
      Source.made.push(this);
    }
    addEventListener(name: string, listener: (event: unknown) => void) {
      this.listeners[name] = listener;
    }
    close() {
      this.closed = true;
    }
  }
  const begin = () => {
    Source.made = [];
    const told = { answer: vi.fn(), lost: vi.fn() };
    const leave = follow("/events", told, () => new Source() as unknown as EventSource);
    return { told, leave, latest: () => Source.made.at(-1) as Source };
  };

  it("opens a stream that broke again and again, and says when it is back", () => {
    vi.useFakeTimers();
    const { told, latest } = begin();
    latest().onerror?.();
    expect(told.lost.mock.calls).toEqual([[true]]);
    vi.advanceTimersByTime(299);
    expect(Source.made).toHaveLength(1);
    vi.advanceTimersByTime(1);
    expect(Source.made).toHaveLength(2);
    latest().onerror?.();
    vi.advanceTimersByTime(999);
    expect(Source.made).toHaveLength(2); // longer each time
    vi.advanceTimersByTime(1);
    latest().listeners.answer?.({ data: '{"revision": 4}' });
    expect(told.lost.mock.calls).toEqual([[true], [false]]);
    expect(told.answer).toHaveBeenCalledWith({ revision: 4 });
    expect(Source.made.slice(0, 2).every((source) => source.closed)).toBe(true);
    vi.useRealTimers();
  });
  it("ends with the server's word or when it is left, and then breaks for nobody", () => {
    vi.useFakeTimers();
    for (const end of ["word", "left"]) {
      const { told, leave, latest } = begin();
      if (end === "word") latest().listeners.end?.({});
      else leave();
      expect(latest().closed).toBe(true);
      latest().onerror?.();
      latest().listeners.answer?.({ data: "{}" });
      vi.advanceTimersByTime(60_000);
      expect(Source.made).toHaveLength(1);
      expect(told.lost).not.toHaveBeenCalled();
      expect(told.answer).not.toHaveBeenCalled();
    }
    vi.useRealTimers();
  });
});

describe("options", () => {
  const changes = (made: ReturnType<typeof copied>) => ("changes" in made ? made.changes : []);
  it("a copy stands beside the one that it was made of, with its elements' ids and a name of its own", () => {
    const made = copied(project(), A, " C ");
    const [add, order] = changes(made);
    expect(add?.value).toMatchObject({ name: "C", note: "", retired: false, network });
    expect(order).toMatchObject({ path: "/order/1" });
    expect("shown" in made && add?.path).toBe(`/options/${"shown" in made && made.shown}`);
    expect(copied(project(), A, "B")).toHaveProperty("problem");
  });
  it("an empty one comes last", () => {
    const [add, order] = changes(fresh(project(), "C"));
    expect(add?.value).toMatchObject({ network: { nodes: {}, links: {}, catchments: {} } });
    expect(order).toMatchObject({ path: "/order/2" });
  });
  it("may be renamed to itself, and not to another", () => {
    expect(changes(renamed(project(), A, "A"))).toHaveLength(1);
    expect(renamed(project(), A, "B")).toHaveProperty("problem");
  });
  it("is retired for another to be looked at, unless it is the last; a retired one comes last", () => {
    expect(retired(project(), A, true)).toMatchObject({ shown: B });
    const one = project();
    const b = one.options[B];
    if (b) b.retired = true;
    expect(retired(one, A, true)).toHaveProperty("problem");
    expect(retired(one, B, false)).not.toHaveProperty("shown");
    const first = project();
    const a = first.options[A];
    if (a) a.retired = true;
    expect(optionsOf(first).map(({ id }) => id)).toEqual([B, A]);
  });
});

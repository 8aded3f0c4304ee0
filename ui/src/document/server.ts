/** The document as the server has it: opened, edited in turn, taken back, computed. */
import { type Answer, type Finding, type LastEdit, Problem, type ProjectState } from "../api/client";
import type { CursorPart } from "./cursor";
import { isMine, made } from "./mine";
import { rebased } from "./rebase";
import { soon } from "./soon";
import type { Change, Transport, Where } from "./transport";
import type { Edit, Network, Project } from "./types";
import { readIn } from "./units";

export type ServerPart = {
  id: string | null;
  project: Project | null;
  /** Id of the option that is looked at. */
  option: string;
  network: Network | null;
  /** Where its network lies in the document. */
  optionPath: string;
  revision: number;
  fingerprint: string;
  canUndo: boolean;
  canRedo: boolean;
  answer: Answer | null;
  /** The last settled answer to other inputs: margins are shown beside it. */
  before: Answer | null;
  findings: Finding[];
  /** Full-bore capacity of every pipe, m³/s by id; null where it does not fall. */
  fullBore: Record<string, number | null>;
  notice: string | null;
  /** What the last edit set, once it is computed on both sides. */
  lastEdit: LastEdit | null;
  /** Undo was asked for, and would take back what was not done here. */
  undoing: LastEdit | null;
  /** Path of the field that a notice was about. */
  about: { notice: string; field: string } | null;
  /** Open a project; option: that is looked at, else the one in view. */
  open: (id: string, option?: string | null) => Promise<void>;
  showOption: (option: string) => Promise<void>;
  /** Change fields of the document; why that was refused, null where it was done. */
  edit: (changes: Change[]) => Promise<string | null>;
  /** Edit the network that is looked at; the ids of what is made, none where it was refused. */
  apply: (edits: Edit[]) => Promise<string[]>;
  /** Take back the last edit; sure: even one that was not made in this browser. */
  undo: (sure?: boolean) => Promise<void>;
  leaveIt: () => void;
  redo: () => Promise<void>;
  run: () => Promise<void>;
  runStorm: (storm: string) => Promise<void>;
  refine: () => Promise<void>;
  cancel: () => Promise<void>;
  say: (error: unknown) => void;
  dismiss: () => void;
};

const LOST = "the server does not answer; trying again, and results may not be current until it does";

type Both = ServerPart & CursorPart;

export function serverPart(transport: Transport, set: (part: Partial<Both>) => void, get: () => Both): ServerPart {
  let leave = () => {};
  let opening = "";
  // quick edits and undos wait for one another: each is made from the revision that the one before has left
  let queue: Promise<void> = Promise.resolve();
  let undos: Promise<void> = Promise.resolve();

  const say = (error: unknown) => {
    const notice = error instanceof Error ? error.message : String(error);
    set({ notice, about: error instanceof Problem && error.field ? { notice, field: error.field } : null });
  };
  const where = (): Where => ({ project_id: get().id ?? "", option: get().option });

  /** The option to look at: the same one, unless it is gone or an undo brought another into view. */
  function looked(project: Project): string {
    const { id, option, project: old } = get();
    const follows = old && old.in_view !== project.in_view && old.in_view === option;
    return id && !follows && project.options[option] ? option : project.in_view;
  }

  function take(state: ProjectState, option = looked(state.document)) {
    const project = state.document;
    const network = project.options[option]?.network ?? null;
    if (option !== get().option) forget();
    readIn(project.units, project.flow_unit);
    set({
      id: state.id,
      project,
      option,
      network,
      optionPath: `/options/${option}/network`,
      revision: state.revision,
      fingerprint: state.fingerprint,
      canUndo: state.can_undo,
      canRedo: state.can_redo,
      lastEdit: null,
      undoing: null,
    });
  }

  /** What belongs to the option that was looked at until now. */
  function forget() {
    set({ answer: null, before: null, series: null, seriesOf: null, findings: [], fullBore: {}, chain: null });
  }

  function follow() {
    leave();
    const followed = where();
    let looked = false;
    const here = () => get().id === followed.project_id && get().option === followed.option;
    leave = transport.follow(followed, {
      answer: (answer) => {
        const state = get();
        if (!here() || answer.revision !== state.revision) return;
        const old = state.answer;
        const changed = old && old.revision !== answer.revision && old.state === "settled";
        set({ answer, before: changed ? old : state.before });
        state.answered(answer);
        if (!soon(answer) && !looked) {
          looked = true;
          look();
          transport
            .fullBore(followed)
            .then((fullBore) => current() && set({ fullBore }))
            .catch(say);
        } else if (answer.state === "settled" && old?.state !== "settled") look(); // what a whole run shows as well
        if (answer.state === "settled" && old?.state !== "settled")
          transport
            .lastEdit(followed)
            .then((lastEdit) => current() && set({ lastEdit }))
            .catch(say);
      },
      lost: (lost) => {
        if (!here()) return;
        if (lost) set({ notice: LOST });
        else if (get().notice === LOST) set({ notice: null });
      },
    });
    const { revision } = get();
    const current = () => here() && get().revision === revision;
    const look = () =>
      transport
        .checks(followed)
        .then((findings) => current() && set({ findings }))
        .catch(say);
  }

  /** An edit in its turn. again : whether it can be made of a document that somebody else has changed meanwhile. */
  function change<T extends ProjectState>(
    request: (id: string, revision: number) => Promise<T>,
    again = false,
  ): Promise<{ state: T } | { refused: string } | null> {
    const asked = get().id;
    const turn = queue.then(async () => {
      const { id, revision } = get();
      if (!id || id !== asked) return null;
      try {
        let state: T;
        try {
          state = await request(id, revision);
        } catch (error) {
          if (!again || !(error instanceof Problem && error.status === 412)) throw error;
          await get().open(id, get().option);
          if (get().id !== id) return null;
          state = await request(id, get().revision);
        }
        if (get().id !== id) return null; // another project was opened meanwhile
        take(state);
        // the server answers the edit of the option in view by itself
        const { project, option } = get();
        if (project && option !== project.in_view) await transport.ask(where());
        follow();
        return { state };
      } catch (error) {
        say(error);
        if (error instanceof Problem && error.status === 412) await get().open(id, get().option);
        return { refused: error instanceof Error ? error.message : String(error) };
      }
    });
    queue = turn.then(() => {});
    return turn;
  }

  /** Ask for work on the present revision, and follow its answer. */
  async function ask(work: (where: Where) => Promise<unknown>) {
    if (!get().id) return;
    try {
      await work(where());
      follow();
    } catch (error) {
      say(error);
    }
  }

  return {
    id: null,
    project: null,
    option: "",
    network: null,
    optionPath: "",
    revision: 0,
    fingerprint: "",
    canUndo: false,
    canRedo: false,
    answer: null,
    before: null,
    findings: [],
    fullBore: {},
    notice: null,
    about: null,
    lastEdit: null,
    undoing: null,
    open: async (id, option) => {
      if (get().id !== id) {
        forget();
        set({ id: null, project: null, network: null, option: "" });
        get().beginAnew();
      }
      try {
        opening = id;
        const state = await transport.load(id);
        if (opening !== id) return; // another one was opened meanwhile
        const known = option && state.document.options[option];
        take(state, known ? option : looked(state.document));
        if (option && !known) set({ notice: "the link names an option that is not there; this is the one in view" });
        get().reload();
        await ask(transport.ask);
      } catch (error) {
        say(error);
      }
    },
    showOption: async (option) => {
      const { id, project } = get();
      if (!id || !project?.options[option]) return;
      forget();
      set({ option, network: project.options[option].network, optionPath: `/options/${option}/network` });
      get().reload();
      // kept results are shown at once; which option is in view is an edit like others
      follow();
      await get().edit([{ op: "replace", path: "/in_view", value: option }]);
    },
    edit: async (changes) => {
      let [meant, seen, another] = [changes, get().project, false];
      const done = await change((id, revision) => {
        const { project } = get();
        const now = rebased(meant, seen, project, another);
        if (typeof now === "string") throw new Error(now);
        // where this meets somebody else's edit it is made of that once more, but never over what they changed
        [meant, seen, another] = [now, project, true];
        return transport.patch(id, revision, now);
      }, true);
      if (done && "state" in done) made(done.state.id, done.state.revision);
      return done && "refused" in done ? done.refused : null;
    },
    apply: async (edits) => {
      const { option } = get();
      const done = await change((project_id, revision) => transport.apply({ project_id, option }, revision, edits));
      if (!done || !("state" in done)) return [];
      made(done.state.id, done.state.revision);
      return done.state.made;
    },
    undo: (sure = false) => {
      undos = undos.then(async () => {
        await queue; // what is still being made is what undo takes back
        const { id, revision, canUndo } = get();
        if (!id || !canUndo) return;
        if (!sure && !isMine(id, revision)) {
          const undoing = await transport.lastEdit(where()).catch(() => null);
          if (undoing && get().revision === undoing.revision) return set({ undoing });
        }
        await change((id, revision) => transport.undo(id, revision));
      });
      return undos;
    },
    leaveIt: () => set({ undoing: null }),
    redo: async () => void (await change((id, revision) => transport.redo(id, revision))),
    run: () => ask(transport.run),
    runStorm: (storm) => ask((at) => transport.runStorm(at, storm)),
    refine: () => ask(transport.refine),
    cancel: async () => {
      if (get().id) await transport.cancel(where()).catch(say);
    },
    say,
    dismiss: () => set({ notice: null, about: null }),
  };
}

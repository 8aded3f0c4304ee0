import { useEffect } from "react";
import { Outlet, useLocation, useParams, useSearchParams } from "react-router";
import { useProject } from "../document/store";
import { AboutField } from "./AboutField";
import { Head } from "./Head";
import { KeyHelp } from "./KeyHelp";
import { MarginStrip } from "./MarginStrip";
import { StageRail } from "./StageRail";
import { TimeBar } from "./TimeBar";

/** A project on the screen: the instrument around, the stage in the middle, the cursor in the address bar. */
export function Sheet() {
  const { id = "" } = useParams();
  const [search] = useSearchParams();
  const { open, point, project, notice, about, dismiss } = useProject();

  // biome-ignore lint/correctness/useExhaustiveDependencies: the address is read once for each project
  useEffect(() => {
    void open(id, search.get("option")).then(() => {
      const storm = search.get("storm");
      const element = search.get("element");
      const moment = Number(search.get("t"));
      const rule = Number(search.get("rule"));
      if (storm) point({ storm, moment: moment || 0, rule: rule || 0 });
      if (element) point({ element });
      const view = search.get("view");
      if (view === "graphs" || view === "3d") useProject.getState().look(view);
    });
  }, [id]);

  useEffect(() => {
    const keys = (event: KeyboardEvent) => {
      const state = useProject.getState();
      const typing =
        event.target instanceof HTMLElement && ["INPUT", "TEXTAREA", "SELECT"].includes(event.target.tagName);
      if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === "z" && !typing) {
        event.preventDefault();
        void (event.shiftKey ? state.redo() : state.undo());
      } else if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === "y" && !typing) {
        event.preventDefault();
        void state.redo();
      } else if (
        event.key === " " &&
        !typing &&
        !(event.target instanceof HTMLButtonElement) &&
        event.target === document.body
      ) {
        event.preventDefault();
        state.play(!state.playing);
      }
    };
    window.addEventListener("keydown", keys);
    return () => window.removeEventListener("keydown", keys);
  }, []);

  return (
    <div className="flex h-full flex-col">
      <Head />
      {notice && (
        <p
          role="alert"
          className="flex items-center gap-3 border-b border-madder bg-madder-tint px-3 py-1"
          data-testid="notice"
        >
          <span className="flex-1">{notice}</span>
          {about?.notice === notice && <AboutField field={about.field} />}
          <button type="button" className="textlink" onClick={dismiss}>
            dismiss
          </button>
        </p>
      )}
      <Undoing />
      <div className="flex min-h-0 flex-1">
        <StageRail />
        <div className="flex min-w-0 flex-1 flex-col">
          <MarginStrip />
          <main className="flex min-h-0 flex-1">
            {project ? <Outlet /> : <p className="p-4 text-ink3">Opening…</p>}
          </main>
          <TimeBar />
        </div>
      </div>
      <KeyHelp />
      <Address />
    </div>
  );
}

/** Whose edit undo would take back, where it was not made in this browser. */
function Undoing() {
  const { undoing, undo, leaveIt } = useProject();
  if (!undoing) return null;
  const at = new Date(undoing.made);
  const when = `${at.toLocaleTimeString([], { hour: "2-digit", minute: "2-digit" })}, ${at.toLocaleDateString()}`;
  return (
    <p
      role="alert"
      className="flex items-baseline gap-3 border-b border-ochre bg-ochre-tint px-3 py-1"
      data-testid="undoing"
    >
      <span className="flex-1">
        Not made in this browser, at {when}: {undoing.told.join("; ")}
        {undoing.more > 0 && ` and ${undoing.more} more`}. Undo takes that back.
      </span>
      <button type="button" className="border border-ink px-2 font-semibold" onClick={() => void undo(true)}>
        take it back
      </button>
      <button type="button" className="textlink" onClick={leaveIt}>
        leave it
      </button>
    </p>
  );
}

/** Keeps the address bar at what is looked at, so that a link opens the same view. */
function Address() {
  const [, setSearch] = useSearchParams();
  const { pathname } = useLocation();
  const { cursor, option, view, playing } = useProject();
  const moment = useProject((s) => (s.playing ? null : s.moment));
  useEffect(() => {
    if (playing || moment === null || !cursor.storm) return;
    const wait = setTimeout(() => {
      // somebody has gone on to another stage that is not drawn yet: do not call them back
      if (window.location.pathname !== pathname) return;
      const next: Record<string, string> = {
        option,
        storm: cursor.storm ?? "",
        t: String(Math.round(moment)),
        rule: String(cursor.rule),
      };
      if (cursor.element) next.element = cursor.element;
      if (view !== "plan") next.view = view;
      setSearch(next, { replace: true });
    }, 150);
    return () => clearTimeout(wait);
  }, [cursor, option, moment, view, playing, setSearch, pathname]);

  return null;
}

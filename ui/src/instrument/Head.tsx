import { useEffect, useState } from "react";
import { Link } from "react-router";
import { useProject } from "../document/store";
import { Options } from "./Options";
import { SavedViews } from "./SavedViews";

/** Mark, project, where the results stand, and the run button. */
export function Head() {
  const { project, answer, revision, canUndo, canRedo, undo, redo, run, cancel, edit } = useProject();
  const [renaming, setRenaming] = useState(false);
  const done = answer?.storms.filter((s) => s.state === "in").length ?? 0;
  const total = answer?.storms.length ?? 0;
  const current = answer?.revision === revision;
  const running = answer?.state === "running" || !current;
  const balance = answer?.balance_error;
  const rename = (name: string) => {
    setRenaming(false);
    if (name.trim() && name !== project?.name) void edit([{ op: "replace", path: "/name", value: name.trim() }]);
  };
  return (
    <header className="flex h-8 shrink-0 items-center gap-3 border-b border-rule2 pr-3" data-revision={revision}>
      <Link to="/" aria-label="All projects" className="flex w-[72px] justify-center">
        <svg width={24} height={22} viewBox="0 0 24 22" aria-hidden="true">
          <path d="M6 2h12l-6 7z" fill="var(--color-ink)" />
          <path d="M1 12h22M5 16h14M9 20h6" stroke="var(--color-water4)" strokeWidth={2} />
        </svg>
      </Link>
      <Link to="/" className="text-[16px] font-semibold">
        Madidus
      </Link>
      <span className="h-4 border-l border-rule2" />
      {renaming ? (
        <input
          className="field !w-64 !text-left"
          defaultValue={project?.name}
          ref={(field) => field?.focus()}
          aria-label="Project name"
          onBlur={(e) => rename(e.target.value)}
          onKeyDown={(e) => {
            if (e.key === "Enter") rename(e.currentTarget.value);
            if (e.key === "Escape") setRenaming(false);
          }}
        />
      ) : (
        <button
          type="button"
          className="font-semibold"
          onClick={() => setRenaming(true)}
          title="rename"
          data-testid="project-name"
        >
          {project?.name}
        </button>
      )}
      <Options />
      <button type="button" className="textlink" onClick={() => void undo()} disabled={!canUndo} data-testid="undo">
        undo
      </button>
      <button type="button" className="textlink" onClick={() => void redo()} disabled={!canRedo} data-testid="redo">
        redo
      </button>
      <SavedViews />
      <span className="ml-auto text-ink2" data-testid="run-state">
        {answer?.state === "refused" ? (
          `cannot run: ${answer.problem?.element}, ${answer.problem?.problem}; ${answer.problem?.remedy}`
        ) : running && answer?.compiling && done === 0 ? (
          "compiling the solver, once on this machine: about a minute"
        ) : !answer ? (
          <Making />
        ) : running ? (
          `${done} of ${total} storms in${answer?.remaining != null && answer.remaining > 1 ? `, about ${Math.ceil(answer.remaining)} s more` : ""}`
        ) : answer?.state === "settled" ? (
          `${total} storms${answer.seconds ? ` in ${answer.seconds.toFixed(1)} s` : ", known"} · continuity error ${balance == null ? "–" : balance.toExponential(0).replace("-", "−")}`
        ) : (
          `${total - done} of ${total} storms not current`
        )}
      </span>
      {answer?.state === "running" ? (
        <button type="button" className="h-6 border border-ink px-4" onClick={() => void cancel()} data-testid="stop">
          Stop, keep the {done}
        </button>
      ) : answer?.state === "part" ? (
        <button
          type="button"
          className="h-6 bg-ink px-4 font-semibold text-hi"
          onClick={() => void run()}
          data-testid="run"
        >
          Run {total - done} storms
        </button>
      ) : (
        <span
          className={`flex h-6 items-center border px-4 ${answer?.state === "refused" ? "border-dashed border-ink3 text-ink3" : "border-rule2"}`}
          title={
            answer?.state === "refused"
              ? "runs by itself once the network, the rain and the outfall are there"
              : undefined
          }
          data-testid="up-to-date"
        >
          {answer?.state === "refused"
            ? "Nothing to run yet"
            : answer?.state === "settled" && current
              ? "Up to date"
              : "Answering the edit"}
        </span>
      )}
    </header>
  );
}

/** ms after which the reason is told why there is no answer yet. */
const LATE = 3000;

/** No answer is there yet: where that lasts, the solver is compiled. */
function Making() {
  const [late, setLate] = useState(false);
  useEffect(() => {
    const timer = setTimeout(() => setLate(true), LATE);
    return () => clearTimeout(timer);
  }, []);
  return <>making the storms{late && "; once on this machine the solver is compiled before, about two minutes"}</>;
}

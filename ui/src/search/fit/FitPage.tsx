import { useEffect, useState } from "react";
import { mendedBy } from "../../document/criteria";
import { useProject } from "../../document/store";
import { isStore } from "../../document/types";
import { show, unitOf } from "../../document/units";
import { ApplyAsOption } from "../ApplyAsOption";
import { SingleChanges } from "../SingleChanges";
import { useSearch } from "../useSearch";
import { Costs } from "./Costs";
import { LeastDrawing } from "./LeastDrawing";
import { MayChange } from "./MayChange";
import { MustHold } from "./MustHold";
import { Outcome } from "./Outcome";
import { Trials } from "./Trials";
import { type Choice, chosenOf, type FittedOut, type Least, useChangeable } from "./variables";

const OF_STORES = { volume: "volume", area: "area taken" } as const;
const OF_CONTROLS = { smallest: "smallest", largest: "largest" } as const;

/** The smallest store or control that holds chosen rules over the whole ensemble, with every trial that led to it. */
export function FitPage({ elements }: { elements: string[] }) {
  const { network, answer, cursor, fitThese } = useProject();
  const all = useChangeable();
  const [edited, setEdited] = useState<Choice[] | null>(null);
  const [rules, setRules] = useState<Set<string> | null>(null);
  const [aim, setAim] = useState<Least>("volume");
  const { found, running, problem, begin, stop } = useSearch("fit");
  const [asked, setAsked] = useState<Choice[]>([]); // of the search that is shown
  useEffect(() => {
    const leave = (event: KeyboardEvent) =>
      event.key === "Escape" && !(event.target instanceof HTMLInputElement) && fitThese(null);
    window.addEventListener("keydown", leave);
    return () => window.removeEventListener("keydown", leave);
  }, [fitThese]);
  if (!network || !answer) return null;
  const choices = edited ?? (all ? chosenOf(network, all, elements) : []);
  const verdicts = answer.verdicts.filter((v) => v.asked);
  const broken = answer.verdicts[cursor.rule];
  const must =
    rules ??
    new Set(
      verdicts
        .filter((v) => mendedBy(v.kind, "stores") || (v === broken && v.state === "fails"))
        .map((v) => `${v.rule}/${v.row}`),
    );
  const on = choices.filter((one) => one.on);
  const stores = on.some((one) => isStore(network.nodes[one.element]));
  const aims: Partial<Record<Least, string>> = stores ? OF_STORES : OF_CONTROLS;
  const least = (aims[aim] ? aim : Object.keys(aims)[0]) as Least;
  const start = () => {
    setAsked(on);
    void begin({
      variables: on.map(({ element, what, low, high }) => ({ element, what, low, high })),
      rules: verdicts.filter((v) => must.has(`${v.rule}/${v.row}`)).map((v) => [v.rule, v.row]),
      least,
    });
  };
  const shown: FittedOut | null = found?.fit ?? null;
  const best = shown?.best ?? null;
  return (
    <div className="flex min-w-0 flex-1" data-testid="fit">
      <div className="w-[284px] shrink-0 overflow-y-auto border-r border-rule2 px-3 py-2">
        <p className="flex items-baseline gap-2 pb-1">
          <b className="text-[15px] font-semibold">Fit</b>
          <span className="text-[11px] text-ink2">over all storms that the rules judge</span>
          <button type="button" className="textlink ml-auto" onClick={() => fitThese(null)} data-testid="fit-close">
            close
          </button>
        </p>
        <MayChange choices={choices} all={all ?? []} choose={setEdited} />
        <MustHold verdicts={verdicts} must={must} choose={setRules} />
        <p className="flex items-baseline gap-2 py-2" role="radiogroup" aria-label="least">
          <b className="font-semibold">{stores ? "Least" : "Control"}</b>
          {Object.entries(aims).map(([key, word]) => (
            <button
              key={key}
              type="button"
              role="radio"
              aria-checked={least === key}
              className={`px-2 ${least === key ? "bg-ink text-hi" : "border-b border-rule2"}`}
              onClick={() => setAim(key as Least)}
              data-testid={`least-${key}`}
            >
              {word}
            </button>
          ))}
        </p>
        <p className="flex items-center gap-2">
          <button
            type="button"
            className="bg-ink px-4 py-1 font-semibold text-hi disabled:opacity-40"
            disabled={running || on.length === 0 || must.size === 0}
            onClick={start}
            data-testid="fit-begin"
          >
            {shown ? "Fit again" : "Fit"}
          </button>
          <button
            type="button"
            className="border border-rule2 px-3 py-1 disabled:opacity-40"
            disabled={!running}
            onClick={() => void stop()}
            data-testid="fit-stop"
          >
            stop
          </button>
        </p>
        <p className="py-1 text-[11px] leading-[14px] text-ink2" data-testid="fit-said">
          {on.length === 0
            ? "Choose what may change."
            : must.size === 0
              ? "Choose the rules that must hold."
              : saidOf(found?.state, shown, found?.seconds ?? 0)}
        </p>
        {found?.stale && (
          <p className="pb-1 text-[11px] text-ochre-ink" data-testid="fit-stale">
            The option has changed since: fit again.
          </p>
        )}
        {problem && (
          <p role="alert" className="border-l-2 border-madder py-1 pl-2 text-madder" data-testid="fit-wrong">
            {problem}
          </p>
        )}
        {shown && <Trials asked={asked} fit={shown} />}
      </div>
      <div className="flex min-w-0 flex-1 flex-col overflow-y-auto">
        {best && shown ? (
          <>
            <div className="h-[228px] shrink-0 border-b border-rule2">
              <LeastDrawing asked={asked} fit={shown} />
            </div>
            <Costs fit={shown} />
          </>
        ) : (
          <p className="p-4 text-ink3">
            {running ? "Trying designs …" : "Nothing is tried yet. Nothing changes before a design is applied."}
          </p>
        )}
      </div>
      <div className="flex w-[304px] shrink-0 flex-col overflow-y-auto border-l border-rule2 px-3 py-2">
        {best && shown && (
          <>
            <Outcome asked={asked} fit={shown} />
            <div className="-mx-3 mt-2">
              <SingleChanges key={cursor.rule} />
            </div>
            <p className="mt-auto flex items-center justify-end gap-3 pt-3">
              <ApplyAsOption
                patch={shown.patch}
                suggested={stores ? `${show(best.volume, "volume", 0)} ${unitOf("volume")}` : "fitted"}
                done={() => fitThese(null)}
                disabled={found?.stale || !best.holds || shown.outcome === null}
                testId="fit-apply"
              />
            </p>
          </>
        )}
      </div>
    </div>
  );
}

function saidOf(state: string | undefined, fit: FittedOut | null, seconds: number): string {
  if (!fit) return "The storms that govern first; at the end all of them.";
  const done = `${fit.steps.length} trials${fit.storms ? `, ${fit.storms} storms` : ""} in ${(fit.took || seconds).toFixed(1)} s`;
  if (state === "stopped") return `Stopped after ${done}.`;
  if (state === "failed") return `Ended without a design after ${done}.`;
  if (fit.stage === "") return `${done}; the end confirmed with all storms.`;
  const what = { fitting: "fitting", judging: "judging", costing: "what each rate costs", "more rain": "more rain" };
  return `${done}; ${what[fit.stage as keyof typeof what]} …`;
}

import { type ReactNode, useState } from "react";
import { read } from "../../document/numbers";
import { useProject } from "../../document/store";
import { type BlockAt, countOf } from "../../document/stormBlocks";
import type { Runoff, Season } from "../../document/types";
import { type Quantity, show } from "../../document/units";
import { MethodInputs } from "../../fields/MethodInputs";
import { NumberField } from "../../primitives/NumberField";
import { Patterns } from "./Patterns";
import { RationalPage } from "./RationalPage";
import { SHAPES, ShapeFields } from "./ShapeFields";

const DURATIONS = [15, 30, 60, 120, 180, 240, 360, 480, 720, 960, 1440, 2880];
/** The bells of summer and winter are the trade's; of storms of the whole year the shape is asked for. */
const SEASONS: { name: Season["name"]; shape: Season["shape"] | null }[] = [
  { name: "summer", shape: { kind: "bell", a: 0.1, b: 0.815 } },
  { name: "winter", shape: { kind: "bell", a: 0.06, b: 1.026 } },
  { name: "all year", shape: null },
];
const RANK = { summer: 0, winter: 1, "all year": 2 };

type Numbers = Exclude<keyof Runoff, "method">;
const RUNOFF: [Numbers, string, Quantity][] = [
  ["summer_paved", "Paved, summer", "share"],
  ["winter_paved", "Paved, winter", "share"],
  ["summer_green", "Green, summer", "share"],
  ["winter_green", "Green, winter", "share"],
  ["creep", "Creep of paved area", "share"],
  ["time_of_entry", "Time of entry", "minutes"],
  ["least_time", "Least time", "minutes"],
];

/** Coefficients belong to their method alone, the time of entry to those that use a time–area diagram. */
function shownFor(method: string, field: Numbers): boolean {
  if (field === "creep") return method !== "unit_hydrograph";
  if (field === "time_of_entry") return method === "coefficient" || method === "losses";
  return method === "coefficient";
}

/** Durations typed as a list, in min or with a unit: "5, 10, 600" or "5 min, 10 h"; or what is wrong with one. */
export function durationsOf(text: string, inside: (d: number) => boolean): number[] | string {
  const found: number[] = [];
  for (const part of text.split(/[,;\t\n]| and /).map((each) => each.trim())) {
    if (!part) continue;
    const typed = read(part, "duration");
    if ("wrong" in typed) return typed.wrong;
    if (typed.value <= 0) return `“${part}” is no duration`;
    if (!inside(typed.value)) return `${part} lies outside the rainfall table; extend the table first`;
    found.push(typed.value);
  }
  return found.length ? found : "type durations, parted by commas";
}

/** A field for durations that are not offered. */
function Typed({ inside, commit }: { inside: (d: number) => boolean; commit: (more: number[]) => void }) {
  const [text, setText] = useState("");
  const [wrong, setWrong] = useState("");
  const finish = () => {
    if (!text.trim()) return setWrong("");
    const found = durationsOf(text, inside);
    if (typeof found === "string") return setWrong(found);
    setWrong("");
    setText("");
    commit(found);
  };
  return (
    <>
      <input
        className="field !w-20 !text-left"
        value={text}
        placeholder="5, 10, 600"
        aria-label="further durations, min"
        aria-invalid={wrong !== ""}
        onChange={(event) => setText(event.target.value)}
        onBlur={finish}
        onKeyDown={(event) => event.key === "Enter" && finish()}
        data-testid="durations-typed"
      />
      {wrong && (
        <span role="alert" className="text-[11px] text-madder">
          {wrong}
        </span>
      )}
    </>
  );
}

/** Which storms are run, and what of the rain runs off. */
export function EnsembleFields({ at, blocks }: { at: BlockAt; blocks: ReactNode }) {
  const { project, answer, edit } = useProject();
  const [asking, setAsking] = useState<Season["name"] | null>(null);
  if (!project) return null;
  const { runoff } = project.rain;
  const ensemble = at.block;
  const table = at.rainfall?.kind === "table" ? at.rainfall : null;
  const inside = (d: number) =>
    !table || (d >= (table.durations[0] ?? 0) && d <= (table.durations[table.durations.length - 1] ?? 0));
  const offered = [...new Set([...DURATIONS, ...(table?.durations ?? []), ...ensemble.durations])].sort(
    (a, b) => a - b,
  );
  const set = (field: string, value: unknown) => void edit([{ op: "replace", path: `${at.path}/${field}`, value }]);
  const toggle = (d: number) =>
    set(
      "durations",
      ensemble.durations.includes(d)
        ? ensemble.durations.filter((x) => x !== d)
        : [...ensemble.durations, d].sort((a, b) => a - b),
    );
  const addSeason = (season: Season) => {
    setAsking(null);
    set(
      "seasons",
      [...ensemble.seasons, season].sort((a, b) => RANK[a.name] - RANK[b.name]),
    );
  };
  const toggleSeason = ({ name, shape }: (typeof SEASONS)[number]) => {
    const without = ensemble.seasons.filter((s) => s.name !== name);
    if (without.length < ensemble.seasons.length) set("seasons", without);
    else if (shape) addSeason({ name, shape });
    else setAsking(asking === name ? null : name);
  };
  const setRunoff = (field: Numbers) => (value: number) =>
    void edit([{ op: "replace", path: `/rain/runoff/${field}`, value }]);
  const longest = Math.max(0, ...(answer?.storms ?? []).map((storm) => storm.duration));
  return (
    <aside
      className="w-[272px] shrink-0 overflow-y-auto border-l border-rule2 px-3 py-2"
      aria-label="Ensemble"
      data-testid="ensemble"
    >
      <h2 className="flex items-baseline justify-between text-[15px] font-semibold">
        Ensemble <span className="figure text-[12.5px] text-ink2">{answer?.storms.length ?? 0} storms</span>
      </h2>
      <p className="flex justify-between text-[11px] text-ink3" data-testid="estimate">
        <span>{answer?.storms.length ? `about ${took(answer.estimate)} on this machine` : "nothing to run"}</span>
        <span>longest {(longest / 60).toFixed(longest % 60 ? 1 : 0)} h of rain</span>
      </p>
      <Interval />
      {blocks}
      <h3 className="mt-1 flex justify-between text-[11px] text-ink3">
        <span>
          {ensemble.durations.length} durations × {ensemble.probabilities.length} probabilities
        </span>
        <span className="figure">{countOf(ensemble)}</span>
      </h3>
      <h3 className="mt-1 text-[11px] text-ink3">durations, min</h3>
      <div className="flex flex-wrap gap-1 py-1">
        {offered.map((d) => {
          const on = ensemble.durations.includes(d);
          return (
            <button
              key={d}
              type="button"
              aria-pressed={on}
              disabled={!on && !inside(d)}
              title={inside(d) ? undefined : "outside the rainfall table"}
              onClick={() => toggle(d)}
              className={`figure border px-1 ${on ? "border-ink bg-ink text-hi" : "border-rule2"}`}
              data-testid={`duration-${d}`}
            >
              {d}
            </button>
          );
        })}
        <Typed
          inside={inside}
          commit={(more) =>
            set(
              "durations",
              [...new Set([...ensemble.durations, ...more])].sort((a, b) => a - b),
            )
          }
        />
      </div>
      <h3 className="mt-1 text-[11px] text-ink3">return periods, and what the climate adds to the depth</h3>
      {ensemble.probabilities.map((p, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: an ordered list without ids
        <p key={i} className="flex items-center gap-2 py-[3px]">
          <NumberField
            label=""
            value={p.return_period}
            quantity="years"
            commit={(value) => set(`probabilities/${i}/return_period`, value)}
          />
          <span>+</span>
          <NumberField
            label=""
            value={p.allowance}
            quantity="share"
            commit={(value) => set(`probabilities/${i}/allowance`, value)}
            testId={`allowance-${i}`}
          />
          <button
            type="button"
            className="textlink ml-auto text-[11px]"
            onClick={() => void edit([{ op: "remove", path: `${at.path}/probabilities/${i}` }])}
          >
            remove
          </button>
        </p>
      ))}
      <button
        type="button"
        className="textlink text-[11px]"
        onClick={() =>
          void edit([
            {
              op: "add",
              path: `${at.path}/probabilities/-`,
              value: { return_period: table?.return_periods.find((t) => !used(t)) ?? 10, allowance: 0 },
            },
          ])
        }
      >
        add a return period
      </button>
      <h3 className="mt-2 text-[11px] text-ink3">seasons</h3>
      <div className="flex gap-1 py-1">
        {SEASONS.map((season) => {
          const own = ensemble.seasons.find((s) => s.name === season.name);
          return (
            <button
              key={season.name}
              type="button"
              aria-pressed={own !== undefined}
              onClick={() => toggleSeason(season)}
              className={`border px-2 ${own ? "border-ink bg-ink text-hi" : "border-rule2"}`}
            >
              {season.name}
            </button>
          );
        })}
      </div>
      {asking && (
        <fieldset className="flex flex-wrap gap-1 pb-1" data-testid="ask-shape">
          <legend className="text-[11px] text-ink2">How does the rain of these storms fall?</legend>
          {Object.entries(SHAPES).map(([kind, { label, value }]) => (
            <button
              key={kind}
              type="button"
              className="border border-rule2 px-1 text-[11px]"
              onClick={() => addSeason({ name: asking, shape: { kind, ...value } as Season["shape"] })}
              data-testid={`ask-shape-${kind}`}
            >
              {label}
            </button>
          ))}
        </fieldset>
      )}
      {ensemble.seasons.map((season, i) => (
        <ShapeFields key={season.name} season={season} path={`${at.path}/seasons/${i}`} />
      ))}
      <Patterns at={at} />
      <h2 className="mt-3 border-t border-rule pt-2 text-[15px] font-semibold">Runoff</h2>
      <RationalPage />
      <MethodInputs
        method={runoff.method}
        commit={(method) => void edit([{ op: "add", path: "/rain/runoff/method", value: method }])}
        testId="method"
      />
      {RUNOFF.filter(([field]) => field in runoff && shownFor(runoff.method.kind, field)).map(
        ([field, label, quantity]) => (
          <NumberField
            key={field}
            label={label}
            value={runoff[field]}
            quantity={quantity}
            commit={setRunoff(field)}
            testId={field}
          />
        ),
      )}
    </aside>
  );

  function used(t: number) {
    return ensemble.probabilities.some((p) => p.return_period === t);
  }
}

/** Seconds as people say them. */
function took(seconds: number): string {
  return seconds < 1 ? "a second" : seconds < 90 ? `${Math.round(seconds)} s` : `${Math.round(seconds / 60)} min`;
}

/** In what steps storms are cut: by the quickest catchment, or as it was set. */
function Interval() {
  const { project, answer, edit } = useProject();
  if (!project || !answer) return null;
  const { interval } = project.rain;
  const { minutes, quickest, answer: seconds } = answer.interval;
  const set = (value: number | null) => void edit([{ op: "replace", path: "/rain/interval", value }]);
  return (
    <div className="flex items-center justify-between gap-2 text-[11px] text-ink3" data-testid="interval">
      {interval === null ? (
        <span title="a fifth of the time in which it answers, 5 min at most">
          rain in steps of <b className="figure text-ink2">{show(minutes, "interval")}</b> min
          {quickest && `, for ${quickest} (${show(seconds, "minutes")} min)`}
        </span>
      ) : (
        <NumberField label="rain in steps of" value={interval} quantity="interval" commit={set} testId="set-interval" />
      )}
      <button
        type="button"
        className="textlink shrink-0"
        onClick={() => set(interval === null ? minutes : null)}
        data-testid="own-interval"
      >
        {interval === null ? "set" : "by itself"}
      </button>
    </div>
  );
}

import { useNavigate, useParams } from "react-router";
import { api, call } from "../api/client";
import { areasAt, doneOf, firstArea, lastOf, outfallAt, type Step } from "../document/firstRun";
import { useProject } from "../document/store";
import { show, unitOf } from "../document/units";
import type { Drawable } from "../kinds";

const STEPS: [Step, string][] = [
  ["run", "a run of pipes"],
  ["outfall", "an outfall"],
  ["area", "an area that drains"],
  ["rain", "rain"],
  ["rule", "a rule"],
  ["verdict", "a verdict"],
];

/** A list that fills itself: what a first verdict still needs, each with its remedy; gone once there is a verdict. */
export function BeforeFirstRun({ choose }: { choose: (kind: Drawable) => void }) {
  const { project, network, answer, option, apply, edit, say } = useProject();
  const { id } = useParams();
  const navigate = useNavigate();
  if (!project || !network || !id) return null;
  const done = doneOf(project, network, answer);
  if (done.verdict || (done.run && done.outfall && done.area && done.rain && done.rule)) return null;
  const end = lastOf(network);
  const first = firstArea(project.units);
  const takeRain = async () => {
    try {
      const rain = await call(api.GET("/api/rain/start", { params: { query: { units: project.units } } }));
      await edit([{ op: "replace", path: "/rain", value: rain }]);
    } catch (error) {
      say(error);
    }
  };
  const takeRules = async () => {
    try {
      const path = { project_id: id, option };
      const sets = await call(api.GET("/api/projects/{project_id}/options/{option}/rule-sets", { params: { path } }));
      const own = sets.find((set) => set.units === project.units) ?? sets[0];
      if (own) await edit([{ op: "replace", path: "/brief/rules", value: own.rules }]);
    } catch (error) {
      say(error);
    }
  };
  const remedies: Record<Step, [string, () => void][]> = {
    run: [["draw it", () => choose("run")]],
    outfall:
      end === null
        ? [["draw it", () => choose("outfall")]]
        : [[`end at ${network.nodes[end]?.name}`, () => void apply(outfallAt(network, end))]],
    area: [
      ["draw it", () => choose("ground")],
      ...(done.run
        ? ([
            [`${show(first, "area")} ${unitOf("area")} at each manhole`, () => void apply(areasAt(network, first))],
          ] as [string, () => void][])
        : []),
    ],
    rain: [
      ["start values", () => void takeRain()],
      ["your own", () => navigate(`/p/${id}/rain`)],
    ],
    rule: [
      ["start values", () => void takeRules()],
      ["your own", () => navigate(`/p/${id}/brief`)],
    ],
    verdict: [],
  };
  return (
    <div
      className="flex min-h-[30px] shrink-0 flex-wrap items-center gap-x-5 gap-y-1 border-b border-rule2 bg-lo px-3 py-1"
      data-testid="before-first-run"
    >
      <b className="font-semibold">Before the first verdict</b>
      {STEPS.map(([step, what]) => (
        <span key={step} className="flex items-center gap-2 whitespace-nowrap" data-testid={`need-${step}`}>
          <span
            className={`flex h-3 w-3 items-center justify-center border border-ink text-[10px] leading-none ${done[step] ? "bg-ink text-hi" : "border-dashed"}`}
            role="img"
            aria-label={done[step] ? "done" : "to do"}
          >
            {done[step] ? "✓" : ""}
          </span>
          <span className={done[step] ? "text-ink3" : ""}>{what}</span>
          {!done[step] &&
            remedies[step].map(([text, act]) => (
              <button key={text} type="button" className="textlink" onClick={act}>
                {text}
              </button>
            ))}
        </span>
      ))}
    </div>
  );
}

import { useProject } from "../../document/store";
import type { Defaults, PlanLook } from "../../document/types";
import { DRAWN_LINKS, DRAWN_NODES, type Drawable, isDrawnLink, isDrawnNode, isOutlined } from "../../kinds";
import { StormAtMoment } from "../../primitives/MomentLine";
import { NumberField } from "../../primitives/NumberField";
import { layout } from "../results/StormMatrix";
import { PickMany } from "./PickMany";
import { THEMES } from "./themes";
import { ON_A_CONDUIT, type useDrawing } from "./useDrawing";

/** What a click does next, in words. */
function hint(adding: Drawable, drawing: ReturnType<typeof useDrawing>, from: string | undefined): string {
  if (adding === "run")
    return from
      ? `run from ${from}: click on along it, or on the node where it ends`
      : "run of pipes: click where it begins, then on downstream";
  if (adding === "outfall" && from) return `click where the run from ${from} ends: an outfall is put there`;
  if (isOutlined(adding)) {
    const what = adding === "ground" ? "catchment" : "base of the pond";
    const size = adding === "basin" ? "; Enter after one gives the usual size" : "";
    return drawing.corners.length
      ? `${what}: ${drawing.corners.length} corner${drawing.corners.length > 1 ? "s" : ""}, close it on the first or with Enter`
      : `${what}: click its corners${size}`;
  }
  if (isDrawnNode(adding))
    return `click where the ${DRAWN_NODES[adding].toLowerCase()} is${ON_A_CONDUIT.has(adding) ? ", on a pipe to split it" : ""}`;
  const kind = isDrawnLink(adding) ? DRAWN_LINKS[adding] : "";
  return from ? `${kind} from ${from}: click the node where it ends` : `${kind}: click the node where it begins`;
}

/** Over the plan: what it shows, what a click does, what is picked. */
export function PlanBar({
  still,
  adding,
  drawing,
  placing,
  told,
}: {
  still: boolean;
  adding: Drawable | null;
  drawing: ReturnType<typeof useDrawing>;
  placing: boolean;
  told: string;
}) {
  const { network, planLook } = useProject();
  const from = drawing.from ? network?.nodes[drawing.from]?.name : undefined;
  const doing = placing
    ? "click where it goes; M mirrors, T turns by 15°"
    : adding
      ? hint(adding, drawing, from)
      : told || drawing.said;
  return (
    <div className="flex gap-3 whitespace-nowrap px-2 py-1">
      <b className="text-[14px] font-semibold">Plan</b>
      {!still && <Shown />}
      {(still || planLook.theme === "water") && (
        <span className="text-ink2">
          <StormAtMoment />
        </span>
      )}
      {doing && (
        <span role="status" className="truncate text-ochre-ink" data-testid={adding || placing ? "drawing" : "said"}>
          {doing}
          {(adding || placing) && "; Escape ends"}
        </span>
      )}
      {adding === "run" && <RunDefaults />}
      {!still && !adding && !placing && (
        <>
          {!doing && planLook.theme === "water" && (
            <span className="ml-auto truncate text-[11px] text-ink3">
              ring: soffit to cover used · white dashes: surcharged · drop: floods
            </span>
          )}
          <PickMany />
        </>
      )}
    </div>
  );
}

/** What the plan shows: the water at the moment, or a result over all storms or those of a return period. */
function Shown() {
  const { planLook, showOnPlan, answer } = useProject();
  if (!answer?.storms.length) return null;
  const { rows } = layout(answer.storms);
  return (
    <span className="flex gap-2 text-[11px]">
      <select
        className="border-b border-ink3 bg-transparent"
        aria-label="what the plan shows"
        value={planLook.theme}
        onChange={(event) => showOnPlan({ theme: event.target.value as PlanLook["theme"] })}
        data-testid="plan-theme"
      >
        {Object.entries(THEMES).map(([theme, text]) => (
          <option key={theme} value={theme}>
            {text}
          </option>
        ))}
      </select>
      {planLook.theme !== "water" && (
        <>
          <select
            className="border-b border-ink3 bg-transparent"
            aria-label="over which storms"
            value={planLook.row}
            onChange={(event) => showOnPlan({ row: event.target.value })}
            data-testid="plan-row"
          >
            <option value="">all storms</option>
            {rows.map((row) => (
              <option key={row} value={row}>
                {row}
              </option>
            ))}
          </select>
          <label className="flex items-center gap-1">
            <input
              type="checkbox"
              checked={planLook.labels}
              onChange={(event) => showOnPlan({ labels: event.target.checked })}
              data-testid="plan-labels"
            />
            labels
          </label>
        </>
      )}
    </span>
  );
}

/** What the pipes of a run are given. */
function RunDefaults() {
  const { project, edit } = useProject();
  if (!project) return null;
  const { gradient, diameter, cover } = project.defaults;
  const set = (field: keyof Defaults) => (value: number) =>
    void edit([{ op: "add", path: `/defaults/${field}`, value }]);
  return (
    <span className="ml-auto flex items-baseline gap-2 text-[11px]" data-testid="run-defaults">
      fall 1 in
      <NumberField
        label=""
        value={1 / gradient}
        quantity="count"
        commit={(value) => value > 0 && set("gradient")(1 / value)}
        testId="run-gradient"
      />
      at least
      <NumberField label="" value={diameter} quantity="diameter" commit={set("diameter")} testId="run-diameter" />
      under
      <NumberField label="" value={cover} quantity="length" commit={set("cover")} testId="run-cover" />
      of ground
    </span>
  );
}

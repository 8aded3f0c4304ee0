import { useNavigate } from "react-router";
import { useProject } from "../../document/store";
import { showMargin, showOf, unitOfMargin } from "../../document/units";
import { FitThis } from "../../fields/FitThis";
import { roundPipes, storesNear } from "../../kinds/path";
import { EDGE_NOTE, edgeWord, TEXT_TONE } from "../../primitives/tone";
import { quoted, save } from "../graphs/out";
import { type Found, useRuleElements } from "./useRuleElements";

type One = Found["elements"][number];

const SHOWN = 300;
const WHY = { capacity: "own capacity", backwater: "backed up by" };

/** Every element that breaks the picked rule, or nearly does: how much, in which storm, and why. */
export function RuleElements() {
  const { id, answer, cursor, network, point, pickAll, sizePipes } = useProject();
  const navigate = useNavigate();
  const found = useRuleElements(cursor.rule);
  const v = answer?.verdicts[cursor.rule];
  if (!v || !found || !network) return null;
  const nameOf = (id: string) => network.nodes[id]?.name ?? network.links[id]?.name ?? "";
  const label = (key: string | null | undefined) => answer?.storms.find((s) => s.key === key)?.label ?? "";
  const of = (state: One["state"]) => found.elements.filter((one) => one.state === state);
  const [breaks, nearly, open, unknown] = [of("fails"), of("tight"), of("too close"), of("not judged")];
  const unit = unitOfMargin(found.unit);
  const sizable = roundPipes(
    network,
    breaks.map((one) => one.element),
  );
  const holders = storesNear(
    network,
    breaks.map((one) => one.element),
  );
  const cause = (one: One) =>
    one.cause === "backwater" ? `${WHY.backwater} ${nameOf(one.bottleneck ?? "")}` : one.cause ? WHY.capacity : "";
  const csv = () =>
    [
      ["element", "state", `value ${unit}`, `limit ${unit}`, `margin ${unit}`, "storm", "cause"],
      ...found.elements.map((one) => [
        nameOf(one.element),
        one.state === "fails" ? "breaks" : one.state === "tight" ? "nearly" : one.state,
        showOf(one.value, found.unit),
        showOf(one.limit, found.unit),
        showOf(one.margin, found.unit),
        label(one.storm),
        cause(one),
      ]),
    ]
      .map((row) => row.map((cell) => quoted(cell.replace("−", "-").replace("–", ""))).join(","))
      .join("\n");
  const lines = (title: string, ones: One[]) =>
    ones.length > 0 && (
      <table className="w-full">
        <thead>
          <tr className="border-b border-ink text-[11px] text-ink2">
            <th className="py-1 text-left font-normal">{title}</th>
            <th className="pl-2 text-right font-normal">value {unit}</th>
            <th className="pl-2 text-right font-normal">margin</th>
            <th className="pl-3 text-left font-normal">storm, why</th>
          </tr>
        </thead>
        <tbody>
          {ones.slice(0, SHOWN).map((one) => (
            <tr
              key={one.element}
              className={`cursor-pointer border-b border-rule ${cursor.element === one.element ? "bg-hi" : ""}`}
              onClick={() =>
                point({
                  element: one.element,
                  ...(one.storm ? { storm: one.storm } : {}),
                  ...(one.time == null ? {} : { moment: one.time }),
                })
              }
            >
              <td className="py-[3px] font-semibold">
                <button type="button">{nameOf(one.element)}</button>
              </td>
              <td className="figure pl-2 text-right">{showOf(one.value, found.unit)}</td>
              <td className={`figure pl-2 text-right ${TEXT_TONE[one.state]}`}>
                {showMargin(one.margin, found.unit).text}
              </td>
              <td className="pl-3 text-[11px] leading-[13px] text-ink2">
                {[label(one.storm), cause(one)].filter(Boolean).join("; ")}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    );
  const waiting = found.seen < found.due;
  return (
    <section className="px-3 py-2" aria-label="Elements under the rule" data-testid="rule-elements">
      <p className="flex flex-wrap items-baseline gap-x-3">
        <b className={`text-[15px] font-semibold ${v.state === "fails" ? "text-madder" : ""}`}>{v.name}</b>
        <span className="ml-auto flex gap-3 whitespace-nowrap">
          {breaks.length > 0 && sizable.length > 0 && (
            <button
              type="button"
              className="textlink"
              onClick={() => {
                sizePipes(sizable);
                navigate(`/p/${id}/network`);
              }}
              data-testid="size-breaking"
            >
              size these pipes
            </button>
          )}
          {v.state === "fails" && holders.length > 0 && <FitThis elements={holders}>fit stores</FitThis>}
          {breaks.length > 0 && (
            <button
              type="button"
              className="textlink"
              onClick={() => pickAll(breaks.map((one) => one.element))}
              title="pick them, on plan and section"
              data-testid="pick-breaking"
            >
              pick them
            </button>
          )}
          <button
            type="button"
            className="textlink"
            onClick={() => save(new Blob([csv()], { type: "text/csv" }), `${v.name}.csv`)}
          >
            CSV
          </button>
        </span>
      </p>
      <p className="pb-1 text-ink2">
        {found.problem
          ? `not judged: ${found.problem}`
          : `${found.elements.length === 0 ? "nothing is in yet" : breaks.length ? `${breaks.length} of ${found.elements.length} break it` : `none of ${found.elements.length} breaks it`}${waiting ? ` so far: ${found.seen} of ${found.due} storms are in` : ""}; ${v.sense} ${showOf(v.limit, found.unit)} ${unit}`}
        {v.edge && (
          <span className="text-ochre-ink">
            ; governed by the {edgeWord(v)}: {EDGE_NOTE}
          </span>
        )}
      </p>
      {lines("breaks the rule", breaks)}
      {lines("too close to call, by the grid", open)}
      {lines("nearly: within a tenth", nearly)}
      {lines("not known", unknown)}
      {breaks.length + nearly.length + open.length + unknown.length === 0 &&
        lines("nearest", found.elements.slice(0, 5))}
      {found.left_out.length > 0 && (
        <p className="pt-2 text-[11px] text-ink2">
          Left out: {found.left_out.join(", ")}
          {found.why ? `, because ${found.why}` : ", without a reason"}.
        </p>
      )}
    </section>
  );
}

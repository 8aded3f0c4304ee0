import { useProject } from "../../document/store";
import { isStore } from "../../document/types";
import { show, showMargin, unitOf } from "../../document/units";
import { type Choice, type FittedOut, figureOf, type Step, unitOfFigure } from "./variables";

/** Every trial in order, with the rule and the storm nearest to its limit. */
export function Trials({ asked, fit }: { asked: Choice[]; fit: FittedOut }) {
  const { network, answer, point } = useProject();
  if (!network || !answer) return null;
  const stores = asked.some((one) => isStore(network.nodes[one.element]));
  const verdictOf = (step: Step) => {
    const rule = step.rule === null ? undefined : fit.rules[step.rule];
    return answer.verdicts.find((v) => v.rule === rule?.rule && v.row === rule?.row);
  };
  const word = (step: Step) =>
    same(step, fit.best)
      ? "least"
      : same(step, fit.less)
        ? "2 % less"
        : same(step, fit.drawn)
          ? "as drawn"
          : step.whole
            ? "all storms"
            : "";
  return (
    <section aria-label="Trials" className="pt-2" data-testid="fit-trials">
      <b className="font-semibold">Trials</b>
      <table className="w-full">
        <thead>
          <tr className="border-b border-ink text-[11px] text-ink2">
            {asked.map((one) => (
              <th key={`${one.element}${one.what}`} className="text-right font-normal leading-[12px]">
                {one.word.split(",")[0]?.toLowerCase()} {unitOfFigure(one.what)}
              </th>
            ))}
            {stores && <th className="text-right font-normal">{unitOf("volume")}</th>}
            <th className="text-right font-normal">margin</th>
            <th className="w-[58px] pl-2 text-left font-normal" aria-label="what it is" />
          </tr>
        </thead>
        <tbody>
          {fit.steps.map((step, k) => {
            const verdict = verdictOf(step);
            const margin = verdict && step.margin !== null ? showMargin(step.margin, verdict.unit) : null;
            return (
              <tr
                // biome-ignore lint/suspicious/noArrayIndexKey: trials are only ever added
                key={k}
                className={`border-b border-rule ${same(step, fit.best) ? "font-semibold" : ""}`}
                title={step.problem || `${verdict?.name ?? ""} in ${label(answer.storms, step.storm)}`}
              >
                {asked.map((one, j) => (
                  <td key={`${one.element}${one.what}`} className="figure text-right">
                    {figureOf(one.what, step.values[j] ?? Number.NaN).replace("× ", "")}
                  </td>
                ))}
                {stores && <td className="figure text-right">{show(step.volume, "volume", 0)}</td>}
                <td className={`figure text-right ${step.holds ? "" : "text-madder"}`}>
                  <button type="button" onClick={() => step.storm && point({ storm: step.storm })}>
                    {margin ? margin.text : "–"}
                    <span className="pl-[2px] text-[10px] text-ink3">{margin?.unit}</span>
                  </button>
                </td>
                <td className="whitespace-nowrap pl-2 text-[11px] text-ink2">{word(step)}</td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </section>
  );
}

const label = (storms: { key: string; label: string }[], key: string) =>
  storms.find((one) => one.key === key)?.label ?? key;

const same = (step: Step, other: Step | null) =>
  other !== null && step.whole === other.whole && step.values.every((v, k) => v === other.values[k]);

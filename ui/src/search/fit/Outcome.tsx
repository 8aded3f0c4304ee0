import { useProject } from "../../document/store";
import { isStore } from "../../document/types";
import { show, showMargin, unitOf } from "../../document/units";
import { stateOf, TEXT_TONE, WORD } from "../../primitives/tone";
import { useWidth } from "../../primitives/useWidth";
import { marginReadings } from "../../views/results/readings";
import { StormMatrix } from "../../views/results/StormMatrix";
import { type Choice, type FittedOut, figureOf, unitOfFigure } from "./variables";

/** What the fitted design comes to, what it does to every rule over all storms, and the rule that governs in each. */
export function Outcome({ asked, fit }: { asked: Choice[]; fit: FittedOut }) {
  const { network, answer } = useProject();
  const [ref, width] = useWidth<HTMLDivElement>();
  const { best, drawn, less, outcome } = fit;
  if (!network || !best || !answer) return null;
  const nameOf = (id: string) => network.nodes[id]?.name ?? network.links[id]?.name ?? "";
  const stores = asked.some((one) => isStore(network.nodes[one.element]));
  const chosen = new Set(fit.rules.map((one) => `${one.rule}/${one.row}`));
  const after = outcome?.after.filter((v) => v.asked) ?? [];
  const governs = best.rule === null ? undefined : fit.rules[best.rule];
  const governing = outcome?.after.find((v) => v.rule === governs?.rule && v.row === governs?.row);
  const storm = answer.storms.find((one) => one.key === best.storm);
  const longest = Math.max(...answer.storms.filter((one) => !one.given).map((one) => one.duration));
  return (
    <>
      {stores && (
        <p className="figure text-[28px] leading-[34px]" data-testid="fit-volume">
          {show(best.volume, "volume", 0)}
          <span className="pl-1 font-sans text-[11px] text-ink2">
            {unitOf("volume")}, was {show(drawn?.volume, "volume", 0)}
          </span>
        </p>
      )}
      {asked.map((one, k) => (
        <p key={`${one.element}${one.what}`} className="flex justify-between border-b border-rule py-[2px]">
          <span>
            {nameOf(one.element)}, {one.word.toLowerCase()}
          </span>
          <span className="figure">
            <s className="pr-2 text-[11px] text-ink3">{figureOf(one.what, one.value)}</s>
            {figureOf(one.what, best.values[k] ?? Number.NaN)} {unitOfFigure(one.what)}
          </span>
        </p>
      ))}
      {stores && (
        <p className="flex justify-between border-b border-rule py-[2px]">
          <span>Area taken</span>
          <span className="figure">
            {show(best.area, "area")} <span className="text-[11px] text-ink3">{unitOf("area")}</span>
          </span>
        </p>
      )}
      <table className="mt-2 w-full" data-testid="fit-outcome">
        <thead>
          <tr className="border-b border-ink text-[11px] text-ink2">
            <th className="text-left font-normal">every rule, all storms</th>
            <th className="text-right font-normal">before</th>
            <th className="text-right font-normal">after</th>
          </tr>
        </thead>
        <tbody>
          {after.map((v) => {
            const was = outcome?.before.find((one) => one.rule === v.rule && one.row === v.row);
            const told = (one: typeof v | undefined) => {
              if (!one || one.value === null) return WORD[stateOf(one)];
              const { text, unit } = showMargin(one.value, one.unit);
              return `${text} ${unit}`;
            };
            return (
              <tr key={`${v.rule}/${v.row}`} className="border-b border-rule">
                <td className="py-[2px] leading-[14px]">
                  {v.name}
                  <span className="block text-[11px] text-ink3">
                    {v === governing ? "governs" : chosen.has(`${v.rule}/${v.row}`) ? "held" : "not asked of the fit"}
                  </span>
                </td>
                <td className={`figure whitespace-nowrap pl-2 text-right ${TEXT_TONE[stateOf(was)]}`}>{told(was)}</td>
                <td className={`figure whitespace-nowrap pl-2 text-right ${TEXT_TONE[stateOf(v)]}`}>{told(v)}</td>
              </tr>
            );
          })}
          {!outcome && (
            <tr>
              <td colSpan={3} className="text-ink3">
                judging …
              </td>
            </tr>
          )}
        </tbody>
      </table>
      <p className="py-1 text-[11px] leading-[14px] text-ink2" data-testid="fit-governed">
        {less
          ? `Governing storm: ${storm?.label ?? best.storm}. 2 % less breaks ${less.rule === null ? "a rule" : fit.rules[less.rule]?.name}.`
          : "No rule governs: a bound ends it, and less would hold as well."}
        {storm && storm.duration === longest && (
          <span className="text-ochre-ink"> It is the longest duration: add a longer one.</span>
        )}
      </p>
      {governing && (
        <div ref={ref}>
          <p className="pb-1">
            <b className="font-semibold">{governing.name}</b>{" "}
            <span className="text-[11px] text-ink2">in every storm, fitted</span>
          </p>
          {width > 0 && <StormMatrix width={width} cell={15} read={marginReadings(governing)} />}
        </div>
      )}
    </>
  );
}

import type { Verdict } from "../../api/client";
import { showOf, unitOfMargin } from "../../document/units";
import { stateOf, TEXT_TONE } from "../../primitives/tone";

/** The rules that a design must hold. */
export function MustHold({
  verdicts,
  must,
  choose,
}: {
  verdicts: Verdict[];
  must: Set<string>;
  choose: (must: Set<string>) => void;
}) {
  const toggle = (key: string) => {
    const next = new Set(must);
    if (!next.delete(key)) next.add(key);
    choose(next);
  };
  return (
    <section aria-label="Must hold" className="pt-2">
      <b className="font-semibold">Must hold</b>
      {verdicts.map((v) => {
        const key = `${v.rule}/${v.row}`;
        return (
          <label key={key} className="flex items-baseline gap-1 border-b border-rule py-[2px]">
            <input
              type="checkbox"
              checked={must.has(key)}
              onChange={() => toggle(key)}
              data-testid={`must-${v.rule}-${v.row}`}
            />
            <span className="min-w-0 flex-1">{v.name}</span>
            <span className={`figure text-[11px] ${TEXT_TONE[stateOf(v)]}`}>
              {v.sense === "at most" ? "≤" : "≥"} {showOf(v.limit, v.unit)} {unitOfMargin(v.unit)}
            </span>
          </label>
        );
      })}
    </section>
  );
}

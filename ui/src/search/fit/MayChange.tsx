import { useProject } from "../../document/store";
import { NumberField } from "../../primitives/NumberField";
import { type Changeable, type Choice, figureOf, QUANTITY, unitOfFigure } from "./variables";

/** What may change, by element, each between two bounds; what is not ticked is kept as drawn. */
export function MayChange({
  choices,
  all,
  choose,
}: {
  choices: Choice[];
  all: Changeable[];
  choose: (choices: Choice[]) => void;
}) {
  const network = useProject((s) => s.network);
  if (!network) return null;
  const nameOf = (id: string) => network.nodes[id]?.name ?? network.links[id]?.name ?? "";
  const set = (at: Choice, part: Partial<Choice>) =>
    choose(choices.map((one) => (one.element === at.element && one.what === at.what ? { ...one, ...part } : one)));
  const elements = [...new Set(choices.map((one) => one.element))];
  const others = [...new Set(all.map((one) => one.element))].filter((id) => !elements.includes(id));
  return (
    <section aria-label="May change">
      <b className="font-semibold">May change</b>
      {elements.map((id) => (
        <div key={id} className="pb-1">
          <p className="pt-1 text-[11px] text-ink2">{nameOf(id)}</p>
          {choices
            .filter((one) => one.element === id)
            .map((one) => (
              <div key={one.what} className="flex items-center gap-1 border-b border-rule py-[2px]">
                <label className="flex min-w-0 flex-1 items-center gap-1">
                  <input
                    type="checkbox"
                    checked={one.on}
                    onChange={(event) => set(one, { on: event.target.checked })}
                    data-testid={`may-${one.what}-${nameOf(id)}`}
                  />
                  {one.word}
                </label>
                {one.on ? (
                  <span className="flex items-center gap-1">
                    {(["low", "high"] as const).map((end) => (
                      <span key={end} className="w-[54px] border-b border-rule2">
                        <NumberField
                          label={`${end === "low" ? "least" : "greatest"} ${one.word} of ${nameOf(id)}`}
                          value={one[end]}
                          quantity={QUANTITY[one.what]}
                          commit={(value) => set(one, { [end]: value })}
                          bare
                          testId={`${end}-${one.what}-${nameOf(id)}`}
                        />
                      </span>
                    ))}
                    <span className="w-6 text-[11px] text-ink3">{unitOfFigure(one.what) || "×"}</span>
                  </span>
                ) : (
                  <span className="text-[11px] text-ink3">
                    {one.what === "area" || one.what === "flow"
                      ? "as drawn"
                      : `kept ${figureOf(one.what, one.value)} ${unitOfFigure(one.what)}`}
                  </span>
                )}
              </div>
            ))}
        </div>
      ))}
      {others.length > 0 && (
        <select
          className="field !w-full !font-sans"
          value=""
          aria-label="add another store or control"
          onChange={(event) =>
            choose([
              ...choices,
              ...all
                .filter((one) => one.element === event.target.value)
                .map((one) => ({ ...one, on: one.what === "area" || one.what === "size" })),
            ])
          }
          data-testid="may-add"
        >
          <option value="">add another store or control</option>
          {others.map((id) => (
            <option key={id} value={id}>
              {nameOf(id)}
            </option>
          ))}
        </select>
      )}
    </section>
  );
}

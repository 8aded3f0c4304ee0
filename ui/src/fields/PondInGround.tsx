import type { Basin } from "../document/types";
import { percentOf, show, unitOf } from "../document/units";
import type { Pond } from "../document/usePonds";
import { Figure } from "../primitives/Figure";

/** How a pond lies in the terrain: the lowest ground on its rim, and what is dug and filled within it. */
export function PondInGround({ pond, basin }: { pond: Pond | undefined; basin: Basin }) {
  if (!pond) return null;
  const bank = basin.cover;
  const { lowest, works } = pond;
  if (!lowest || !works)
    return <p className="pt-1 text-[11px] text-ink3">No terrain is known under it: cut and fill are not told.</p>;
  return (
    <div data-testid="pond-ground">
      <Figure
        label="Lowest ground on the rim"
        value={show(lowest.level, "level")}
        unit={unitOf("level")}
        note={
          lowest.level < bank
            ? `${show(bank - lowest.level, "length")} ${unitOf("length")} below the bank${basin.bank ? "" : ": it spills there"}`
            : `${show(lowest.level - bank, "length")} ${unitOf("length")} over the bank`
        }
      />
      <Figure label="Cut" value={show(works.cut, "volume", 0)} unit={unitOf("volume")} />
      <Figure
        label="Fill within the rim"
        value={show(works.fill, "volume", 0)}
        unit={unitOf("volume")}
        note={works.known < 0.999 ? `ground known of ${percentOf(works.known)}` : ""}
      />
      {basin.bank && (
        <Figure label="Fill of the bank outside it" value={show(works.bank, "volume", 0)} unit={unitOf("volume")} />
      )}
    </div>
  );
}

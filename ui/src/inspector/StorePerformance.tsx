import { useProject } from "../document/store";
import { percentOf, show, unitOf } from "../document/units";
import { Figure } from "../primitives/Figure";
import { useElementResults } from "../views/results/useElementResults";

/** What a pond or a tank did in the picked storm: how full, what it held back, how long until half is gone. */
export function StorePerformance({ id }: { id: string }) {
  const { answer, cursor, drawGraph, look } = useProject();
  const storm = cursor.storm ?? "";
  const known = answer?.storms.find((s) => s.key === storm)?.state === "in";
  const found = useElementResults("storm", known ? storm : "");
  const own = found?.[0]?.elements.stores[id];
  if (!own || !known) return null;
  const inAndOut = () => {
    drawGraph({ quantities: ["entering", "leaving", "volume"], against: null, storms: "picked" });
    look("graphs");
  };
  const hours = (seconds: number) => show(seconds, "hours");
  const held = show(own.entering > 0 ? 1 - own.leaving / own.entering : null, "percent", 0);
  return (
    <section className="mt-2 border-t border-rule pt-1" aria-label="Storage" data-testid="store-performance">
      <p className="flex items-baseline justify-between">
        <b className="font-semibold">Storage in this storm</b>
        <button type="button" className="textlink text-[11px]" onClick={inAndOut} data-testid="store-graph">
          in and out
        </button>
        <span className="text-[11px] text-ink2">{percentOf(own.share)} used</span>
      </p>
      <svg width="100%" height={10} aria-hidden="true">
        <rect width="100%" height={9} fill="none" stroke="var(--color-rule2)" />
        <rect
          width={`${Math.min(own.share, 1) * 100}%`}
          height={9}
          fill={own.share > 1 ? "url(#over)" : "var(--color-water3)"}
        />
      </svg>
      <Figure
        label="Held, of"
        value={show(own.volume, "volume")}
        unit={unitOf("volume")}
        note={show(own.capacity, "volume")}
      />
      <Figure label="Freeboard" value={show(own.freeboard, "length")} unit={unitOf("length")} />
      <Figure label="Enters, at most" value={show(own.entering, "flow")} unit={unitOf("flow")} />
      <Figure
        label="Leaves, at most"
        value={show(own.leaving, "flow")}
        unit={unitOf("flow")}
        note={`${hours(own.lag)} h after`}
      />
      <Figure label="Of the peak held back" value={held} unit="%" />
      <Figure
        label="Half gone after"
        value={own.half_drain === null ? "not seen" : hours(own.half_drain)}
        unit={own.half_drain === null ? "" : "h"}
        note="from its peak"
      />
      {own.infiltrated !== null && (
        <Figure label="Infiltrated" value={show(own.infiltrated, "volume")} unit={unitOf("volume")} />
      )}
    </section>
  );
}

import { showBand } from "../document/units";

/** What the grid may have wrong of a level (m) or a flow (m3/s), in words; nothing where that was not computed. */
export const byTheGrid = (value: number | undefined, unit: "m" | "m3/s") =>
  value === undefined ? "" : `${showBand(value, unit)} by the grid`;

/** The same below a peak. */
export function ByTheGrid({ value, unit }: { value: number | undefined; unit: "m" | "m3/s" }) {
  if (value === undefined) return null;
  return (
    <p className="text-right text-[11px] text-ink3" data-testid="by-the-grid">
      {byTheGrid(value, unit)}
    </p>
  );
}

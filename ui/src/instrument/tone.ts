/** The one place that maps a margin to its state, word and tone. Never colour alone: tight is dotted, over is hatched. */
export type MarginState = "meets" | "tight" | "fails" | "unknown";

export function stateOf(value: number | null | undefined, scale: number | null | undefined): MarginState {
  if (value === null || value === undefined) return "unknown";
  if (value < -1e-9) return "fails"; // equal to the limit passes, whatever the last bit says
  return value < 0.1 * (scale ?? 0) ? "tight" : "meets";
}

/** Fill of a storm cell: id of an SVG pattern or a colour. */
export function toneOf(value: number, scale: number): string {
  const share = scale > 0 ? value / scale : value < 0 ? -1 : 1;
  if (share < -0.01) return "url(#over)";
  if (share < 0) return "url(#just-over)";
  if (share < 0.1) return "url(#tight)";
  if (share < 0.35) return "var(--color-water3)";
  return share < 0.65 ? "var(--color-water2)" : "var(--color-water1)";
}

export const WORD: Record<MarginState, string> = { meets: "meets", tight: "tight", fails: "fails", unknown: "not yet" };
export const TEXT_TONE: Record<MarginState, string> = {
  meets: "text-ink3",
  tight: "text-ochre-ink font-semibold",
  fails: "text-madder font-semibold",
  unknown: "text-ink3",
};

/** The one place that maps a margin to its state, word and tone. Never colour alone: tight is dotted, over is hatched. */
import type { Verdict } from "../api/client";

export type MarginState = "meets" | "tight" | "fails" | "too close" | "not judged";

/** Of a verdict, as the server judged it. */
export function stateOf(verdict: Pick<Verdict, "state" | "tight"> | undefined): MarginState {
  if (!verdict) return "not judged";
  return verdict.tight ? "tight" : verdict.state;
}

/** Of a bare margin, such as one that a limit would give. */
export function marginState(value: number | null | undefined, scale: number | null | undefined): MarginState {
  if (value === null || value === undefined) return "not judged";
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

export const WORD: Record<MarginState, string> = {
  meets: "meets",
  tight: "tight",
  fails: "fails",
  "too close": "too close to call",
  "not judged": "not judged",
};

/** Where the governing storm lies at an end of the durations that were run. */
export function edgeWord(verdict: Pick<Verdict, "edge"> | undefined): string {
  if (!verdict?.edge) return "";
  return verdict.edge === "shortest" ? "shortest run" : "longest run";
}
export const EDGE_NOTE = "the governing duration lies at the end of those that were run: a further one may be worse";

/** How temporal patterns of a duration are judged together; nothing where there are none. */
export function overWord(verdict: Verdict | undefined): string {
  if (!verdict?.patterned) return "";
  return { mean: "by mean", median: "by median", every: "by every pattern" }[verdict.over];
}

export const TEXT_TONE: Record<MarginState, string> = {
  meets: "text-ink3",
  tight: "text-ochre-ink font-semibold",
  fails: "text-madder font-semibold",
  "too close": "text-ink font-semibold",
  "not judged": "text-ink3",
};

/** Options as they are compared with the one that is looked at. */

import type { Verdict } from "../api/client";
import type { components } from "../api/schema";

type Out = components["schemas"]["OptionOut"];
type Bill = Omit<Out["bill"], "by_diameter"> & { by_diameter: [number, number][] };
export type Compared = Omit<Out, "bill" | "verdicts"> & { bill: Bill; verdicts: Verdict[] };

/** The verdict of another option by the same rule at the same limit: options share the brief. */
export const pairedWith = (verdict: Verdict, other: Compared): Verdict | undefined =>
  other.verdicts.find((own) => own.rule === verdict.rule && own.row === verdict.row);

/** What a quantity is more or less than that of the base: "same" where it reads alike. */
export function against(value: number, base: number, isBase: boolean, told: (value: number) => string): string {
  if (isBase) return "";
  if (told(value) === told(base)) return "same";
  const off = value - base;
  return `${off > 0 ? "+" : "−"}${told(Math.abs(off))}`;
}

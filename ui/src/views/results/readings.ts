import type { StormInfo, Verdict } from "../../api/client";
import { type Quantity, show, showMargin, unitOf } from "../../document/units";
import { toneOf } from "../../primitives/tone";

/** What a storm's cell says: its figure, its tone, whether it is over (or near) a limit, and what is compared. */
export type Reading = { text: string; tone: string; state: "over" | "tight" | "free"; value: number };
/** What patterns of one duration come to together, and the word for how; `whole` once all of them are in. */
export type Together = Reading & { word: string; whole: boolean };
/** Figures by storm, and the one that governs: the highest value, or the least margin. together: by each storm of a
 * duration whose patterns are judged together. */
export type Readings = {
  name: string;
  of: Map<string, Reading>;
  together: Map<string, Together>;
  governs: string | null;
  least: boolean;
};

export function marginReadings(verdict: Verdict | undefined): Readings {
  const of = new Map<string, Reading>();
  const together = new Map<string, Together>();
  const reading = (value: number, scale: number): Reading => {
    const { text, unit } = showMargin(value, verdict?.unit ?? "m");
    return {
      text: unit === "mm" || unit === "in" ? `${text} ${unit}` : text,
      tone: toneOf(value, scale),
      state: value < 0 ? "over" : value < 0.1 * scale ? "tight" : "free",
      value,
    };
  };
  for (const [key, [value, scale]] of Object.entries(verdict?.margins ?? {})) of.set(key, reading(value, scale));
  for (const { storms, value, scale, whole } of verdict?.cells ?? []) {
    if (value === null || scale === null) continue;
    const cell = { ...reading(value, scale), word: verdict?.over ?? "", whole };
    for (const key of storms) {
      together.set(key, cell);
      const own = of.get(key);
      // a pattern beyond the limit breaks nothing where their mean is judged: the cell's tone is the mean's
      if (own) of.set(key, { ...own, tone: cell.tone });
    }
  }
  const name = `margin of ${verdict?.name ?? "no rule"}`;
  return { name, of, together, governs: verdict?.storm ?? null, least: true };
}

const SHARES: [number, string][] = [
  [0.9, "var(--color-water3)"],
  [0.65, "var(--color-water2)"],
  [0, "var(--color-water1)"],
];

/** Peaks of a measure; `limit` and `scale` make a tone of what is left below a limit, else the share of the greatest does. */
export function peakReadings(
  name: string,
  peaks: Record<string, { value: number; limit?: number; scale?: number }>,
  quantity: Quantity,
  storms: StormInfo[],
): Readings {
  const keys = storms.map((s) => s.key).filter((key) => peaks[key]);
  const over = (key: string) => (peaks[key]?.value ?? 0) - (peaks[key]?.limit ?? 0);
  const most = Math.max(...keys.map((key) => peaks[key]?.value ?? 0), 1e-12);
  const governs = keys.reduce<string | null>(
    (best, key) => (best === null || over(key) > over(best) ? key : best),
    null,
  );
  const of = new Map(
    keys.map((key): [string, Reading] => {
      const { value = 0, limit, scale = 1 } = peaks[key] ?? {};
      const left = limit === undefined ? null : limit - value;
      const share = value / most;
      const tone =
        left !== null
          ? toneOf(left, scale)
          : value <= 1e-9
            ? "var(--color-paper)"
            : (SHARES.find(([s]) => share >= s)?.[1] ?? "");
      return [
        key,
        {
          text: show(value, quantity, quantity === "level" ? 2 : undefined),
          tone,
          state: left === null ? "free" : left < 0 ? "over" : left < 0.1 * scale ? "tight" : "free",
          value: limit === undefined ? value : value - limit,
        },
      ];
    }),
  );
  return { name: `${name}, ${unitOf(quantity)}`, of, together: new Map(), governs, least: false };
}

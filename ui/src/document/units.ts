/** The one place that turns SI numbers into what people read, and back. */
export type Quantity =
  | "level"
  | "length"
  | "diameter"
  | "flow"
  | "area"
  | "volume"
  | "roughness"
  | "shaft"
  | "years"
  | "speed"
  | "share"
  | "rain"
  | "duration"
  | "minutes"
  | "slope"
  | "soaking"
  | "hours"
  | "sharp"
  | "plain"
  | "third"
  | "rate"
  | "percent"
  | "count";

type Rule = { unit: string; factor: number; digits: number; typed?: Record<string, number> };

const RULES: Record<Quantity, Rule> = {
  level: { unit: "m", factor: 1, digits: 3 },
  length: { unit: "m", factor: 1, digits: 2 },
  diameter: { unit: "mm", factor: 1000, digits: 0 },
  flow: { unit: "L/s", factor: 1000, digits: 1 },
  area: { unit: "m²", factor: 1, digits: 0 },
  volume: { unit: "m³", factor: 1, digits: 1 },
  roughness: { unit: "n", factor: 1, digits: 4 },
  speed: { unit: "m/s", factor: 1, digits: 2 },
  shaft: { unit: "m²", factor: 1, digits: 3 },
  years: { unit: "yr", factor: 1, digits: 0 },
  share: { unit: "%", factor: 100, digits: 0, typed: { "%": 0.01 } },
  // rain is kept in mm and min, as its tables are written
  rain: { unit: "mm", factor: 1, digits: 1, typed: { mm: 1, cm: 10, in: 25.4 } },
  duration: { unit: "min", factor: 1, digits: 0, typed: { min: 1, h: 60, hr: 60 } },
  minutes: { unit: "min", factor: 1 / 60, digits: 1, typed: { s: 1, min: 60, h: 3600, hr: 3600 } },
  slope: { unit: "1:", factor: 1, digits: 2, typed: {} },
  soaking: { unit: "mm/h", factor: 3.6e6, digits: 1, typed: { "mm/h": 1 / 3.6e6, "m/s": 1 } },
  hours: { unit: "h", factor: 1 / 3600, digits: 2, typed: { s: 1, min: 60, h: 3600 } },
  sharp: { unit: "mm", factor: 1000, digits: 2 },
  plain: { unit: "", factor: 1, digits: 2 },
  third: { unit: "", factor: 1, digits: 3 },
  // losses are kept in mm/h, as their tables are written
  rate: { unit: "mm/h", factor: 1, digits: 1, typed: { "mm/h": 1, "in/h": 25.4 } },
  percent: { unit: "%", factor: 100, digits: 2, typed: { "%": 0.01 } },
  count: { unit: "", factor: 1, digits: 0 },
};

/** Other units that may be typed after a number, as factors to the SI unit. */
const TYPED: Record<string, number> = {
  mm: 0.001,
  cm: 0.01,
  m: 1,
  in: 0.0254,
  ft: 0.3048,
  "l/s": 0.001,
  "m3/s": 1,
  "m³/s": 1,
  m2: 1,
  "m²": 1,
  ha: 10_000,
};

export const unitOf = (quantity: Quantity) => RULES[quantity].unit;

/** A number as text, without its unit; a true minus sign. */
export function show(value: number | null | undefined, quantity: Quantity, digits = RULES[quantity].digits): string {
  if (value === null || value === undefined || !Number.isFinite(value)) return "–";
  const text = (value * RULES[quantity].factor).toFixed(digits);
  return Number(text) === 0 ? text.replace("-", "") : text.replace("-", "−");
}

/** A typed text as an SI number, or null where it is none: "450", "450mm", "1.2 m", "18 in". */
export function parse(text: string, quantity: Quantity): number | null {
  const match = /^\s*([−-]?(?:\d+[.,]?\d*|[.,]\d+)(?:e-?\d+)?)\s*([a-z³²/23%]*)\s*$/i.exec(text);
  if (!match) return null;
  const value = Number((match[1] ?? "").replace("−", "-").replace(",", "."));
  const unit = (match[2] ?? "").toLowerCase();
  const factor = unit === "" ? 1 / RULES[quantity].factor : (RULES[quantity].typed ?? TYPED)[unit];
  return factor === undefined || !Number.isFinite(value) ? null : value * factor;
}

/** A margin with its sign, in the unit that its criterion is read in. */
export function showMargin(value: number | null | undefined, unit: string): { text: string; unit: string } {
  const shown = unit === "m3/s" ? "L/s" : unit === "m3" ? "m³" : unit;
  if (value === null || value === undefined) return { text: "–", unit: shown };
  const signed = (size: number, digits: number) => `${value < 0 ? "−" : "+"}${size.toFixed(digits)}`;
  // a margin that would round to nothing is told in millimetres: its sign decides
  if (unit === "m" && value !== 0 && Math.abs(value) < 0.005)
    return { text: signed(Math.abs(value) * 1000, 0), unit: "mm" };
  return { text: signed(Math.abs(value) * (unit === "m3/s" ? 1000 : 1), unit === "m" ? 2 : 1), unit: shown };
}

/** Seconds as 06:00 (hours and minutes). */
export function clock(seconds: number): string {
  const minutes = Math.round(seconds / 60);
  return `${String(Math.floor(minutes / 60)).padStart(2, "0")}:${String(minutes % 60).padStart(2, "0")}`;
}

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

export type System = "metric" | "us";
type Rule = { unit: string; factor: number; digits: number; typed?: Record<string, number> };

const FOOT = 0.3048;
const INCH = 0.0254;
const GALLON = 231 * INCH ** 3; // US liquid
/** Units of flow: how each is written, its factor from m³/s, and the digits that read well. */
export const FLOW_UNITS: Record<string, Rule> = {
  "L/s": { unit: "L/s", factor: 1000, digits: 1 },
  "m3/s": { unit: "m³/s", factor: 1, digits: 4 },
  "m3/h": { unit: "m³/h", factor: 3600, digits: 1 },
  "ML/d": { unit: "ML/d", factor: 86.4, digits: 2 },
  "ft3/s": { unit: "ft³/s", factor: 1 / FOOT ** 3, digits: 3 },
  "gal/min": { unit: "gal/min", factor: 60 / GALLON, digits: 1 },
  "Mgal/d": { unit: "Mgal/d", factor: 86_400 / (GALLON * 1e6), digits: 3 },
};

const METRIC: Record<Quantity, Rule> = {
  level: { unit: "m", factor: 1, digits: 3 },
  length: { unit: "m", factor: 1, digits: 2 },
  diameter: { unit: "mm", factor: 1000, digits: 0 },
  flow: FLOW_UNITS["L/s"] as Rule,
  area: { unit: "m²", factor: 1, digits: 0 },
  volume: { unit: "m³", factor: 1, digits: 1 },
  roughness: { unit: "n", factor: 1, digits: 4 },
  speed: { unit: "m/s", factor: 1, digits: 2 },
  shaft: { unit: "m²", factor: 1, digits: 3 },
  years: { unit: "yr", factor: 1, digits: 0 },
  share: { unit: "%", factor: 100, digits: 0, typed: { "%": 0.01 } },
  // rain is kept in mm and min, losses in mm/h, as their tables are written
  rain: { unit: "mm", factor: 1, digits: 1, typed: { mm: 1, cm: 10, in: 25.4 } },
  duration: { unit: "min", factor: 1, digits: 0, typed: { min: 1, h: 60, hr: 60 } },
  minutes: { unit: "min", factor: 1 / 60, digits: 1, typed: { s: 1, min: 60, h: 3600, hr: 3600 } },
  slope: { unit: "1:", factor: 1, digits: 2, typed: {} },
  soaking: { unit: "mm/h", factor: 3.6e6, digits: 1, typed: { "mm/h": 1 / 3.6e6, "in/h": 25.4 / 3.6e6, "m/s": 1 } },
  hours: { unit: "h", factor: 1 / 3600, digits: 2, typed: { s: 1, min: 60, h: 3600 } },
  sharp: { unit: "mm", factor: 1000, digits: 2 },
  plain: { unit: "", factor: 1, digits: 2 },
  third: { unit: "", factor: 1, digits: 3 },
  rate: { unit: "mm/h", factor: 1, digits: 1, typed: { "mm/h": 1, "in/h": 25.4 } },
  percent: { unit: "%", factor: 100, digits: 2, typed: { "%": 0.01 } },
  count: { unit: "", factor: 1, digits: 0 },
};

const feet = (digits: number): Partial<Rule> => ({ unit: "ft", factor: 1 / FOOT, digits });
const square = (digits: number): Partial<Rule> => ({ unit: "ft²", factor: 1 / FOOT ** 2, digits });
/** What differs in US customary units. */
const US: Partial<Record<Quantity, Partial<Rule>>> = {
  level: feet(2),
  length: feet(1),
  diameter: { unit: "in", factor: 1 / INCH, digits: 1 },
  sharp: { unit: "in", factor: 1 / INCH, digits: 2 },
  area: square(0),
  shaft: square(2),
  volume: { unit: "ft³", factor: 1 / FOOT ** 3, digits: 0 },
  speed: { unit: "ft/s", factor: 1 / FOOT, digits: 2 },
  rain: { unit: "in", factor: 1 / 25.4, digits: 2 },
  rate: { unit: "in/h", factor: 1 / 25.4, digits: 2 },
  soaking: { unit: "in/h", factor: 3.6e6 / 25.4, digits: 2 },
};

let rules: Record<Quantity, Rule> = METRIC;

/** The units in which everything is read and typed from now on. Kept numbers do not change. */
export function readIn(system: System, flow: string | null) {
  const base = { ...METRIC };
  if (system === "us")
    for (const [quantity, rule] of Object.entries(US))
      base[quantity as Quantity] = { ...base[quantity as Quantity], ...rule };
  base.flow = FLOW_UNITS[flow ?? (system === "us" ? "ft3/s" : "L/s")] ?? METRIC.flow;
  rules = base;
}

/** Other units that may be typed after a number, as factors to the SI unit. */
const TYPED: Record<string, number> = {
  mm: 0.001,
  cm: 0.01,
  m: 1,
  in: INCH,
  ft: FOOT,
  "l/s": 0.001,
  "m3/s": 1,
  "m³/s": 1,
  "m3/h": 1 / 3600,
  "ft3/s": FOOT ** 3,
  "ft³/s": FOOT ** 3,
  cfs: FOOT ** 3,
  "gal/min": GALLON / 60,
  gpm: GALLON / 60,
  "ft/s": FOOT,
  "m/s": 1,
  m2: 1,
  "m²": 1,
  ha: 10_000,
  ft2: FOOT ** 2,
  "ft²": FOOT ** 2,
  acre: 43_560 * FOOT ** 2,
  m3: 1,
  "m³": 1,
  ft3: FOOT ** 3,
};

export const unitOf = (quantity: Quantity) => rules[quantity].unit;

/** A number as text, without its unit; a true minus sign. */
export function show(value: number | null | undefined, quantity: Quantity, digits = rules[quantity].digits): string {
  if (value === null || value === undefined || !Number.isFinite(value)) return "–";
  const text = (value * rules[quantity].factor).toFixed(digits);
  return Number(text) === 0 ? text.replace("-", "") : text.replace("-", "−");
}

/** A typed text as an SI number, or null where it is none: "450", "450mm", "1.2 m", "18 in". */
export function parse(text: string, quantity: Quantity): number | null {
  const match = /^\s*([−-]?(?:\d+[.,]?\d*|[.,]\d+)(?:e-?\d+)?)\s*([a-z³²/23%]*)\s*$/i.exec(text);
  if (!match) return null;
  const value = Number((match[1] ?? "").replace("−", "-").replace(",", "."));
  const unit = (match[2] ?? "").toLowerCase();
  const factor = unit === "" ? 1 / rules[quantity].factor : (rules[quantity].typed ?? TYPED)[unit];
  return factor === undefined || !Number.isFinite(value) ? null : value * factor;
}

/** A margin with its sign, in the unit that its criterion is read in. */
export function showMargin(value: number | null | undefined, unit: string): { text: string; unit: string } {
  const quantity = unit === "m3/s" ? "flow" : unit === "m3" ? "volume" : "length";
  const { factor, unit: shown } = rules[quantity];
  if (value === null || value === undefined) return { text: "–", unit: shown };
  const signed = (size: number, digits: number) => `${value < 0 ? "−" : "+"}${size.toFixed(digits)}`;
  // a margin that would round to nothing is told in millimetres or inches: its sign decides
  if (unit === "m" && value !== 0 && Math.abs(value) < 0.005)
    return shown === "ft"
      ? { text: signed(Math.abs(value) / INCH, 2), unit: "in" }
      : { text: signed(Math.abs(value) * 1000, 0), unit: "mm" };
  const digits = quantity === "length" ? 2 : quantity === "flow" ? Math.min(rules.flow.digits, 2) : 1;
  return { text: signed(Math.abs(value) * factor, digits), unit: shown };
}

/** Seconds as 06:00 (hours and minutes). */
export function clock(seconds: number): string {
  const minutes = Math.round(seconds / 60);
  return `${String(Math.floor(minutes / 60)).padStart(2, "0")}:${String(minutes % 60).padStart(2, "0")}`;
}

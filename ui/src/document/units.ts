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
  | "interval"
  | "minutes"
  | "slope"
  | "gradient"
  | "infiltrating"
  | "hours"
  | "sharp"
  | "plain"
  | "third"
  | "rate"
  | "percent"
  | "count"
  | "weir"
  | "formula";

export type System = "metric" | "us";
/** What a number measures; units are typed within one of them alone. */
export type Dimension =
  | "length"
  | "area"
  | "volume"
  | "flow"
  | "speed"
  | "time"
  | "rate"
  | "share"
  | "slope"
  | "gradient"
  | "weir"
  | "formula"
  | "number";
/** kept: how many of what is kept make one of the dimension's base unit, where it is not that unit itself. */
type Rule = { unit: string; factor: number; digits: number; of: Dimension; kept?: number };

export const FOOT = 0.3048; // m
const INCH = 0.0254;
const GALLON = 231 * INCH ** 3; // US liquid
const flow = (unit: string, factor: number, digits: number): Rule => ({ unit, factor, digits, of: "flow" });
/** Units of flow: how each is written, its factor from m³/s, and the digits that read well. */
export const FLOW_UNITS: Record<string, Rule> = {
  "L/s": flow("L/s", 1000, 1),
  "m3/s": flow("m³/s", 1, 4),
  "m3/h": flow("m³/h", 3600, 1),
  "ML/d": flow("ML/d", 86.4, 2),
  "ft3/s": flow("ft³/s", 1 / FOOT ** 3, 3),
  "gal/min": flow("gal/min", 60 / GALLON, 1),
  "Mgal/d": flow("Mgal/d", 86_400 / (GALLON * 1e6), 3),
};

const METRIC: Record<Quantity, Rule> = {
  level: { unit: "m", factor: 1, digits: 3, of: "length" },
  length: { unit: "m", factor: 1, digits: 2, of: "length" },
  diameter: { unit: "mm", factor: 1000, digits: 0, of: "length" },
  flow: FLOW_UNITS["L/s"] as Rule,
  area: { unit: "m²", factor: 1, digits: 0, of: "area" },
  volume: { unit: "m³", factor: 1, digits: 1, of: "volume" },
  roughness: { unit: "n", factor: 1, digits: 4, of: "number" },
  speed: { unit: "m/s", factor: 1, digits: 2, of: "speed" },
  shaft: { unit: "m²", factor: 1, digits: 3, of: "area" },
  years: { unit: "yr", factor: 1, digits: 0, of: "number" },
  share: { unit: "%", factor: 100, digits: 0, of: "share" },
  // rain is kept in mm and min, losses in mm/h, as their tables are written
  rain: { unit: "mm", factor: 1, digits: 1, of: "length", kept: 1000 },
  duration: { unit: "min", factor: 1, digits: 0, of: "time", kept: 1 / 60 },
  interval: { unit: "min", factor: 1, digits: 1, of: "time", kept: 1 / 60 },
  minutes: { unit: "min", factor: 1 / 60, digits: 1, of: "time" },
  slope: { unit: "1:", factor: 1, digits: 2, of: "slope" },
  // kept as fall over length, read as 1 in so many
  gradient: { unit: "", factor: 1, digits: 0, of: "gradient" },
  infiltrating: { unit: "mm/h", factor: 3.6e6, digits: 1, of: "rate" },
  hours: { unit: "h", factor: 1 / 3600, digits: 2, of: "time" },
  sharp: { unit: "mm", factor: 1000, digits: 2, of: "length" },
  plain: { unit: "", factor: 1, digits: 2, of: "number" },
  third: { unit: "", factor: 1, digits: 3, of: "number" },
  rate: { unit: "mm/h", factor: 1, digits: 1, of: "rate", kept: 3.6e6 },
  percent: { unit: "%", factor: 100, digits: 2, of: "share" },
  count: { unit: "", factor: 1, digits: 0, of: "number" },
  // C of Q = C L h^1.5, and a of the intensity a/(t+b)^c: their numbers are those of a system of units
  weir: { unit: "m½/s", factor: 1, digits: 3, of: "weir" },
  formula: { unit: "mm/h", factor: 1, digits: 1, of: "formula" },
};

const feet = (digits: number): Partial<Rule> => ({ unit: "ft", factor: 1 / FOOT, digits });
const square = (digits: number): Partial<Rule> => ({ unit: "ft²", factor: 1 / FOOT ** 2, digits });
/** What differs in US customary units. */
const US: Partial<Record<Quantity, Partial<Rule>>> = {
  level: feet(2),
  length: feet(1),
  diameter: { unit: "in", factor: 1 / INCH, digits: 1 },
  sharp: { unit: "in", factor: 1 / INCH, digits: 4 },
  area: square(0),
  shaft: square(2),
  volume: { unit: "ft³", factor: 1 / FOOT ** 3, digits: 0 },
  speed: { unit: "ft/s", factor: 1 / FOOT, digits: 2 },
  rain: { unit: "in", factor: 1 / 25.4, digits: 2 },
  rate: { unit: "in/h", factor: 1 / 25.4, digits: 2 },
  infiltrating: { unit: "in/h", factor: 3.6e6 / 25.4, digits: 2 },
  weir: { unit: "ft½/s", factor: FOOT ** -0.5, digits: 3 },
  formula: { unit: "in/h", factor: 1 / 25.4, digits: 2 },
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

export const ruleOf = (quantity: Quantity): Rule => rules[quantity];
export const unitOf = (quantity: Quantity) => rules[quantity].unit;

/** A number as text, without its unit; a true minus sign. */
export function show(value: number | null | undefined, quantity: Quantity, digits?: number): string {
  if (value === null || value === undefined || !Number.isFinite(value)) return "–";
  if (quantity === "gradient") return oneIn(value);
  const size = value * rules[quantity].factor;
  const usual = quantity === "flow" ? flowDigits(size) : rules[quantity].digits;
  // what floods is never shown as nothing
  const small = quantity === "volume" && Math.abs(size) >= LEAST && Number(size.toFixed(usual)) === 0;
  const text = size.toFixed(digits ?? (small ? firstDigit(Math.abs(size)) : usual));
  return Number(text) === 0 ? text.replace("-", "") : text.replace("-", "−");
}

/** A share in per cent, with its sign after the figure; nothing known is a dash. */
export function percentOf(share: number | null | undefined, digits = 0): string {
  return share == null || !Number.isFinite(share) ? "–" : `${show(share, "percent", digits)} %`;
}

/** Below it a figure is a rounding of the computation, and is shown as nothing. */
const LEAST = 1e-4;

/** Places after the point of a flow: three figures of a small one, since rates of half a litre are permitted. */
function flowDigits(size: number): number {
  const usual = rules.flow.digits;
  return Math.abs(size) < LEAST ? usual : Math.max(usual, Math.min(firstDigit(Math.abs(size)) + 2, usual + 2));
}

/** A gradient as the trade writes it, to three digits at least: 1:350, 1:12.5, −1:80 where it runs uphill. */
function oneIn(gradient: number): string {
  if (gradient === 0) return "level";
  const length = Math.abs(1 / gradient);
  const digits = length >= 99.95 ? 0 : length >= 9.995 ? 1 : 2;
  return `${gradient < 0 ? "−" : ""}1:${Number(length.toFixed(digits))}`;
}

/** In which quantity a margin is read, by the unit of its rule. */
const MARGINS: Record<string, Quantity> = {
  "m3/s": "flow",
  m3: "volume",
  m: "length",
  "m of size": "diameter",
  s: "hours",
  "m/s": "speed",
  "m/m": "percent",
};
const MARGIN_DIGITS: Partial<Record<Quantity, number>> = {
  length: 2,
  diameter: 1,
  volume: 1,
  hours: 1,
  speed: 2,
  percent: 2,
};

/** A margin with its sign, in the unit that its criterion is read in. */
export function showMargin(value: number | null | undefined, unit: string): { text: string; unit: string } {
  const quantity = MARGINS[unit] ?? "length";
  const { factor, unit: shown } = rules[quantity];
  if (value === null || value === undefined) return { text: "–", unit: shown };
  const signed = (size: number, digits: number) => `${value < 0 ? "−" : "+"}${size.toFixed(digits)}`;
  // a margin that would round to nothing is told in millimetres or inches: its sign decides
  if (unit === "m" && value !== 0 && Math.abs(value) < 0.005)
    return shown === "ft"
      ? { text: signed(Math.abs(value) / INCH, 2), unit: "in" }
      : { text: signed(Math.abs(value) * 1000, 0), unit: "mm" };
  const size = Math.abs(value) * factor;
  const usual = MARGIN_DIGITS[quantity] ?? Math.min(rules.flow.digits, 2);
  // four digits say enough of a margin, and a very small one tells its first
  const fewer = size >= 1000 ? 2 : size >= 100 ? 1 : 0;
  const digits = size > 0 && Number(size.toFixed(usual)) === 0 ? firstDigit(size) : Math.max(usual - fewer, 0);
  return { text: signed(size, digits), unit: shown };
}

/** By how much a margin may be wrong, to one digit and never too little, in the unit it is read in: "± 4 mm". */
export function showBand(value: number, unit: string): string {
  const quantity = MARGINS[unit] ?? "length";
  const { factor, unit: long } = rules[quantity];
  const short = quantity === "length";
  const size = short ? (long === "ft" ? value / INCH : value * 1000) : value * factor;
  const shown = short ? (long === "ft" ? "in" : "mm") : long;
  if (size <= 0) return `± 0 ${shown}`;
  const digits = firstDigit(size);
  const step = 10 ** -digits;
  return `± ${(Math.ceil(size / step - 1e-9) * step).toFixed(Math.min(Math.max(digits, 0), 6))} ${shown}`;
}

/** A figure of a rule (its limit, or what is measured) in the unit that its margin is read in, without a sign. */
export const showOf = (value: number | null | undefined, unit: string) => {
  const quantity = MARGINS[unit] ?? "length";
  return show(value, quantity, MARGIN_DIGITS[quantity]);
};
export const unitOfMargin = (unit: string) => rules[MARGINS[unit] ?? "length"].unit;

/** Place of the first digit of a size after the point; negative before it. */
const firstDigit = (size: number) => Math.min(-Math.floor(Math.log10(size)), 6);

/** Seconds as 06:00 (hours and minutes), or as 06:00:15. */
export function clock(seconds: number, precise = false): string {
  const two = (n: number) => String(n).padStart(2, "0");
  if (precise) {
    const whole = Math.round(seconds);
    return `${two(Math.floor(whole / 3600))}:${two(Math.floor(whole / 60) % 60)}:${two(whole % 60)}`;
  }
  const minutes = Math.round(seconds / 60);
  return `${two(Math.floor(minutes / 60))}:${two(minutes % 60)}`;
}

/** Numbers as people type and paste them, with or without a unit, into what is kept; or why they cannot be read. */
import { type Dimension, FOOT, type Quantity, ruleOf } from "./units";

export type Typed = { value: number } | { wrong: string };

const INCH = 0.0254;
const GALLON = 231 * INCH ** 3; // US liquid

/** Units that may be typed, by dimension, as factors to its base unit (m, m², m³, m³/s, m/s, s). */
const UNITS: Record<Dimension, Record<string, number>> = {
  length: { mm: 1e-3, cm: 0.01, m: 1, km: 1000, in: INCH, '"': INCH, ft: FOOT, "'": FOOT },
  area: { m2: 1, ha: 1e4, km2: 1e6, ft2: FOOT ** 2, sqft: FOOT ** 2, acre: 43_560 * FOOT ** 2, ac: 43_560 * FOOT ** 2 },
  volume: { l: 1e-3, m3: 1, ml: 1000, ft3: FOOT ** 3, cf: FOOT ** 3, gal: GALLON, mgal: GALLON * 1e6 },
  flow: {
    "l/s": 1e-3,
    lps: 1e-3,
    "l/min": 1e-3 / 60,
    "m3/s": 1,
    "m3/h": 1 / 3600,
    "ml/d": 1000 / 86_400,
    "ft3/s": FOOT ** 3,
    cfs: FOOT ** 3,
    "gal/min": GALLON / 60,
    gpm: GALLON / 60,
    "mgal/d": (GALLON * 1e6) / 86_400,
    mgd: (GALLON * 1e6) / 86_400,
  },
  speed: { "m/s": 1, "ft/s": FOOT, fps: FOOT, "km/h": 1 / 3.6 },
  time: { s: 1, sec: 1, min: 60, h: 3600, hr: 3600, d: 86_400 },
  rate: {
    "mm/h": 1e-3 / 3600,
    "mm/hr": 1e-3 / 3600,
    "in/h": INCH / 3600,
    "in/hr": INCH / 3600,
    "m/s": 1,
    "m/d": 1 / 86_400,
  },
  share: { "%": 0.01 },
  slope: {},
  gradient: {},
  weir: { "m½/s": 1, "m^0.5/s": 1, "m0.5/s": 1, "ft½/s": FOOT ** 0.5, "ft^0.5/s": FOOT ** 0.5, "ft0.5/s": FOOT ** 0.5 },
  formula: { "mm/h": 1, "mm/hr": 1, "in/h": 25.4, "in/hr": 25.4 },
  number: { yr: 1, n: 1 },
};

const SAID: Record<Dimension, string> = {
  length: "a length",
  area: "an area",
  volume: "a volume",
  flow: "a flow",
  speed: "a velocity",
  time: "a time",
  rate: "a rate of depth",
  share: "a share",
  slope: "a slope",
  gradient: "a gradient",
  weir: "a weir coefficient",
  formula: "an intensity",
  number: "a bare number",
};

const plainUnit = (text: string) =>
  text.toLowerCase().replaceAll("²", "2").replaceAll("³", "3").replaceAll("″", '"').replaceAll("′", "'");

/** Digits with separators into a number: 1.5, 1,5, 1 234.5, 1,234.5, 1.234,5. What may be read two ways is refused. */
export function number(text: string): Typed {
  const said = text.trim();
  const bare = said.replace("−", "-").replace(/^\+/, "");
  const grouped = (by: string, point: string) =>
    new RegExp(`^-?[1-9]\\d{0,2}(?:${by}\\d{3})+(?:${point}\\d*)?$`).test(bare);
  const made = (digits: string): Typed =>
    Number.isFinite(Number(digits)) ? { value: Number(digits) } : { wrong: `“${said}” is too large` };
  if (/^-?(?:\d+\.?\d*|\.\d+)(?:e[+-]?\d+)?$/i.test(bare)) return made(bare);
  if (grouped("[\\s\u00a0\u2009\u202f'’]", "[.,]"))
    return made(bare.replace(/[\s\u00a0\u2009\u202f'’]/g, "").replace(",", "."));
  if (/^-?[1-9]\d{0,2},\d{3}$/.test(bare))
    return {
      wrong: `“${said}” may be ${Number(bare.replace(",", "."))} or ${bare.replace(",", "")}: type it without a comma`,
    };
  if (grouped(",", "\\.")) return made(bare.replaceAll(",", ""));
  if (grouped("\\.", ",")) return made(bare.replaceAll(".", "").replace(",", "."));
  if (/^-?\d*,\d+(?:e[+-]?\d+)?$/i.test(bare) || /^-?\d+,$/.test(bare)) return made(bare.replace(",", "."));
  return { wrong: said === "" ? "a number is needed" : `“${said}” is no number` };
}

/** A typed text as a number of what is kept: "450", "450mm", "1.2 m", "18 in", "1:142", "1/142"; or what is wrong with it. */
export function read(text: string, quantity: Quantity): Typed {
  const rule = ruleOf(quantity);
  const typed = text.trim();
  if (rule.of === "gradient") return gradient(typed);
  // a slope in a field of per cents
  if (rule.of === "share" && /^[−-]?\s*1\s*(?::|\/|in(?![a-z]))/i.test(typed)) return gradient(typed);
  if (rule.of === "slope") return number(typed.replace(/^1\s*(?::|\/|in\b)/i, ""));
  const match = /^(.*?[\d.,])\s*([a-z%"'″′^½²³/][a-z0-9%"'″′^½²³/.]*)?$/i.exec(
    typed.replace(/(\d)(e[+-]?\d+)/i, "$1$2"),
  );
  const exponent = /^([−+-]?[\d.,]+e[+-]?\d+)\s*(.*)$/i.exec(typed);
  const [digits, unit] = exponent ? [exponent[1] ?? "", exponent[2] ?? ""] : [match?.[1] ?? typed, match?.[2] ?? ""];
  const found = number(digits);
  if ("wrong" in found) return found;
  if (unit === "") return { value: found.value / rule.factor };
  const key = plainUnit(unit);
  const factor = UNITS[rule.of][key];
  if (factor !== undefined) {
    // the base unit of a share, a coefficient or a bare number is what is kept
    return { value: found.value * factor * (rule.kept ?? 1) };
  }
  const other = (Object.keys(UNITS) as Dimension[]).find((of) => of !== rule.of && key in UNITS[of]);
  const here = rule.unit ? `in ${rule.unit}` : "without a unit";
  return {
    wrong: other
      ? `“${typed}” is ${SAID[other]}, and this is ${SAID[rule.of]}: type it ${here}`
      : `“${unit}” is no unit that is known here: type it ${here}`,
  };
}

/** A gradient as fall over length: "1:350", "1/350", "1 in 350", "0.3 %", "3 ‰", "level", or 350 alone. */
function gradient(typed: string): Typed {
  if (/^level$/i.test(typed)) return { value: 0 };
  const share = /^(.*?)\s*([%‰])$/.exec(typed);
  if (share) {
    const found = number(share[1] ?? "");
    return "wrong" in found ? found : { value: found.value * (share[2] === "%" ? 0.01 : 0.001) };
  }
  const ratio = /^([−-]?)\s*1\s*(?::|\/|in(?![a-z]))(.*)$/i.exec(typed);
  const found = number(ratio ? (ratio[2] ?? "") : typed);
  if ("wrong" in found) return found;
  if (Math.abs(found.value) < (ratio ? 1e-9 : 1))
    return { wrong: `“${typed}” may be a share or a ratio: type it as 1:350 or as 0.3 %` };
  return { value: (ratio?.[1] ? -1 : 1) / found.value };
}

/** The number alone, null where it cannot be read. */
export function numberIn(text: string, quantity: Quantity): number | null {
  const found = read(text, quantity);
  return "value" in found ? found.value : null;
}

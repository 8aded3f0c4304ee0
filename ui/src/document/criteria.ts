/** The rules of the brief, each at each return period that it names: in the order in which the server judges them. */
import type { Limit, Project, Rule } from "./types";
import type { Quantity } from "./units";

/** place, row: of the rule in the brief, and of the limit in the rule; limit: null of a rule without a storm. */
export type Criterion = { place: number; row: number; rule: Rule; limit: Limit | null };

export const criteriaOf = (project: Project | null | undefined): Criterion[] =>
  (project?.brief.rules ?? []).flatMap((rule: Rule, place): Criterion[] =>
    "limits" in rule
      ? rule.limits.map((limit, row) => ({ place, row, rule, limit }))
      : [{ place, row: 0, rule, limit: null }],
  );

type Kind = Rule["kind"];

/** A kind of rule in the sentence that it is read as: words before its limit and after it. */
type Told = { label: string; name: string; before: string; after: string; quantity: Quantity; start: number };

export const RULES: Record<Kind, Told> = {
  surcharge: tell("no surcharge", "No surcharge", "Water stays", "below the soffit of", "length", 0),
  cover: tell("below cover", "Below cover", "Water stays", "below the cover of", "length", 0),
  freeboard: tell("freeboard", "Freeboard", "Water stays", "below the bank of", "length", 0.3),
  flood_volume: tell("flood volume", "Contained", "At most", "floods at", "volume", 0),
  flood_depth: tell("flood depth", "Shallow floods", "A flood stands at most", "deep at", "length", 0.1),
  outflow: tell("outflow", "Outflow", "At most", "leaves by", "flow", 0.01),
  volume: tell("volume", "Volume", "At most", "leaves by", "volume", 100),
  half_drain: tell(
    "half-drain time",
    "Half empty in a day",
    "Within",
    "of the peak half is gone from",
    "hours",
    86_400,
  ),
  velocity_least: tell("least velocity", "Cleans itself", "Water reaches at least", "in", "speed", 0.75),
  velocity_most: tell("greatest velocity", "Does not wear", "Water runs at most at", "in", "speed", 3),
  pipe_size: tell("least diameter", "Least diameter", "At least", "high is", "diameter", 0.15),
  gradient: tell("least gradient", "Least gradient", "A gradient of at least", "has", "gradient", 1 / 300),
  conduit_cover: tell("least cover", "Least cover", "At least", "of ground lies over", "length", 0.9),
  invert_depth: tell("greatest depth", "Greatest depth", "At most", "below its cover lies", "length", 5),
  none_smaller: tell(
    "none smaller",
    "No pipe smaller than above",
    "By at most",
    "smaller than above is",
    "diameter",
    0,
  ),
};

function tell(label: string, name: string, before: string, after: string, quantity: Quantity, start: number): Told {
  return { label, name, before, after, quantity, start };
}

/** What a rule of a kind is asked of, where nothing is left out. */
export const EVERY: Record<Kind, string> = {
  surcharge: "every conduit",
  cover: "every node",
  freeboard: "every store",
  flood_volume: "every node",
  flood_depth: "every node",
  outflow: "",
  volume: "",
  half_drain: "every store",
  velocity_least: "every conduit",
  velocity_most: "every conduit",
  pipe_size: "every pipe",
  gradient: "every conduit",
  conduit_cover: "every pipe",
  invert_depth: "every node",
  none_smaller: "every pipe",
};

/** Kinds that are asked of one outfall or link. */
export const isPlaced = (rule: Rule): rule is Extract<Rule, { element: string }> => "element" in rule;
export const DRAWING: Kind[] = ["pipe_size", "gradient", "conduit_cover", "invert_depth", "none_smaller"];

type Rarity = { return_period: number; allowance: number };

/** The return period and allowance of the ensemble that a new rule begins with: pipes are asked of the commonest storms,
 * floods, stores and outflows of the rarest, covers of those between. */
function rarityFor(kind: Kind, own: readonly Rarity[]): Rarity {
  const rising = [...own].sort((a, b) => a.return_period - b.return_period || a.allowance - b.allowance);
  const commonest = ["surcharge", "velocity_least", "velocity_most"].includes(kind);
  const between = kind === "cover" || kind === "half_drain";
  const at = commonest ? 0 : between ? Math.floor((rising.length - 1) / 2) : rising.length - 1;
  return rising[at] ?? { return_period: 30, allowance: 0 };
}

/** A new rule of a kind. element: the outfall or link of one that needs it; own: what the ensemble runs. */
export function newRule(kind: Kind, element: string, own: readonly Rarity[]): Partial<Rule> {
  const { name, start } = RULES[kind];
  if (DRAWING.includes(kind)) return { kind, name, limit: start } as Partial<Rule>;
  const placed = kind === "outflow" || kind === "volume" ? { element } : {};
  const { return_period, allowance } = rarityFor(kind, own);
  return { kind, name, limits: [{ return_period, allowance, value: start }], ...placed } as Partial<Rule>;
}

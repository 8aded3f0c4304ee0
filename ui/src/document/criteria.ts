/** The rules of the brief, each at each return period that it names: in the order in which the server judges them. */
import { RULE_KINDS } from "../api/rules";
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
type RuleKind = (typeof RULE_KINDS)[keyof typeof RULE_KINDS];

/** What the core says of each kind of rule; its sentence, its unit, what it is asked of and what can mend it. */
export const RULES: Record<Kind, RuleKind> = RULE_KINDS;

/** How the numbers of a rule are shown and read. */
const QUANTITIES: Record<RuleKind["unit"], Quantity> = {
  m: "length",
  m3: "volume",
  "m3/s": "flow",
  s: "hours",
  "m/s": "speed",
  "m/m": "gradient",
  "m of size": "diameter",
};
export const quantityOf = (kind: Kind): Quantity => QUANTITIES[RULES[kind].unit];

const EVERY: Record<RuleKind["looksAt"], string> = {
  conduits: "every conduit",
  pipes: "every pipe",
  nodes: "every node",
  stores: "every store",
  place: "",
};
/** What a rule of a kind is asked of, where nothing is left out. */
export const everyOf = (kind: Kind) => EVERY[RULES[kind].looksAt];

/** Whether what breaks a rule of a kind can be made larger to meet it. */
export const mendedBy = (kind: string, what: "pipes" | "stores") =>
  (RULES[kind as Kind].mendedBy as readonly string[]).includes(what);

/** Kinds that are asked of one outfall or link. */
export const isPlaced = (rule: Rule): rule is Extract<Rule, { element: string }> => "element" in rule;

type Rarity = { return_period: number; allowance: number };

/** The return period and allowance of the ensemble that a new rule begins with. */
function rarityFor(storms: RuleKind["storms"], own: readonly Rarity[]): Rarity {
  const rising = [...own].sort((a, b) => a.return_period - b.return_period || a.allowance - b.allowance);
  const at = storms === "commonest" ? 0 : storms === "middle" ? Math.floor((rising.length - 1) / 2) : rising.length - 1;
  return rising[at] ?? { return_period: 30, allowance: 0 };
}

/** A new rule of a kind. element: the outfall or link of one that needs it; own: what the ensemble runs. */
export function newRule(kind: Kind, element: string, own: readonly Rarity[]): Partial<Rule> {
  const { name, limit, storms, looksAt } = RULES[kind];
  if (storms === null) return { kind, name, limit } as Partial<Rule>;
  const placed = looksAt === "place" ? { element } : {};
  return { kind, name, limits: [{ ...rarityFor(storms, own), value: limit }], ...placed } as Partial<Rule>;
}

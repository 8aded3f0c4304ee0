import { afterEach, describe, expect, it } from "vitest";
import { criteriaOf, everyOf, mendedBy, newRule, quantityOf, RULES } from "../src/document/criteria";

const RUN = [
  { return_period: 100, allowance: 0.4 },
  { return_period: 2, allowance: 0 },
  { return_period: 30, allowance: 0.1 },
];

import { read } from "../src/document/numbers";
import type { Network, Project, Rule } from "../src/document/types";
import { readIn, show, showBand, showMargin, showOf } from "../src/document/units";
import { idsOf, scopeWord } from "../src/stages/brief/ScopeFields";
import { asFile, fitted } from "../src/stages/brief/StartingSets";

const network = {
  nodes: { n1: { kind: "manhole", name: "M1" }, n2: { kind: "outfall", name: "O1" } },
  links: { l1: { kind: "pipe", name: "M1–O1" } },
} as unknown as Network;

const limits = [{ return_period: 2 }, { return_period: 30 }];
const brief = {
  rules: [
    { kind: "surcharge", limits },
    { kind: "pipe_size", limit: 0.15 },
    { kind: "cover", limits },
  ],
};

afterEach(() => readIn("metric", null));

describe("criteria", () => {
  it("are told in the order in which the server judges them: each limit of each rule", () => {
    const told = criteriaOf({ brief } as unknown as Project).map((c) => [c.place, c.row, c.limit?.return_period]);
    expect(told).toEqual([
      [0, 0, 2],
      [0, 1, 30],
      [1, 0, undefined],
      [2, 0, 2],
      [2, 1, 30],
    ]);
    expect(criteriaOf(null)).toEqual([]);
  });

  it("have words for every kind, and a new one has what its kind needs", () => {
    const kinds = Object.keys(RULES) as (keyof typeof RULES)[];
    expect(kinds.filter((kind) => everyOf(kind) === "")).toEqual(["outflow", "volume"]);
    expect(kinds.filter((kind) => !quantityOf(kind) || !RULES[kind].label)).toEqual([]);
    expect(kinds.filter((kind) => mendedBy(kind, "stores"))).toEqual(["freeboard", "outflow", "volume", "half_drain"]);
    expect(newRule("pipe_size", "n2", RUN)).not.toHaveProperty("limits");
    expect(newRule("volume", "n2", RUN)).toMatchObject({
      element: "n2",
      limits: [{ return_period: 100, allowance: 0.4 }],
    });
    expect(newRule("surcharge", "", RUN)).toMatchObject({ limits: [{ return_period: 2, allowance: 0 }] });
    expect(newRule("cover", "", RUN)).toMatchObject({ limits: [{ return_period: 30, allowance: 0.1 }] });
    expect(newRule("cover", "", [])).toMatchObject({ limits: [{ return_period: 30, allowance: 0 }] });
    expect(newRule("cover", "n2", RUN)).not.toHaveProperty("element");
  });
});

describe("scopes", () => {
  const scope = (of: string, elements: string[] = []) => ({ of, elements, selection: "row", reason: "" }) as never;
  it("read as people say them", () => {
    expect(scopeWord(scope("all"), "every pipe", network)).toBe("every pipe");
    expect(scopeWord(scope("all but", ["l1", "gone"]), "every pipe", network)).toBe("every pipe but M1–O1, (gone)");
    expect(scopeWord(scope("elements", ["l1", "n1", "n2", "l1"]), "", network)).toBe("M1–O1, M1 and 2 more");
    expect(scopeWord(scope("selection"), "", network)).toBe("selection “row”");
    expect(scopeWord(scope("network", ["n2"]), "", network)).toBe("the network of O1");
  });

  it("are typed or pasted as names, whatever their case, and an unknown name is told", () => {
    expect(idsOf(network, " m1, O1\nM1 ;")).toEqual({ ids: ["n1", "n2"] });
    expect(idsOf(network, "M1, M9")).toEqual({ unknown: "M9" });
  });
});

describe("files of rules", () => {
  const all = { of: "all", elements: [], selection: "", reason: "" };
  const rules = [
    { kind: "outflow", element: "elsewhere", scope: all, limits },
    { kind: "outflow", element: "l1", scope: all, limits },
    { kind: "cover", scope: { ...all, of: "all but", elements: ["n1"], reason: "dry" }, limits },
    { kind: "cover", scope: { ...all, of: "all but", elements: ["elsewhere"], reason: "dry" }, limits },
    { kind: "cover", scope: { ...all, of: "selection", selection: "row" }, limits },
  ] as unknown as Rule[];
  it("fit another project: places that are not there become its outfall, scopes all", () => {
    const own = fitted(rules, network);
    expect(own.map((rule) => ("element" in rule ? rule.element : rule.scope.of))).toEqual([
      "n2",
      "l1",
      "all but",
      "all",
      "all",
    ]);
    expect(own[3]?.scope.reason).toBe("");
    const none = fitted(rules, { nodes: {}, links: {} } as unknown as Network);
    expect(none.map((rule) => rule.kind)).toEqual(["cover", "cover", "cover"]);
  });

  it("say what they are", () => {
    const file = JSON.parse(asFile({ units: "us", brief } as unknown as Project, "Ours"));
    expect(file).toMatchObject({ format: "madidus-rules", version: 1, name: "Ours", units: "us" });
    expect(file.rules).toHaveLength(3);
  });
});

describe("gradients", () => {
  it("are shown as one in so many, to three digits", () => {
    const shown = [1 / 350, 1 / 99.9, 1 / 12.5, 0.5, 0, -1 / 80, 0.01].map((g) => show(g, "gradient"));
    expect(shown).toEqual(["1:350", "1:99.9", "1:12.5", "1:2", "level", "−1:80", "1:100"]);
  });

  it("are typed as the trade writes them", () => {
    const typed = (text: string) => read(text, "gradient");
    for (const text of ["1:350", "1/350", "1 in 350", "350", "1 : 350", "1in350"])
      expect(typed(text), text).toEqual({ value: 1 / 350 });
    for (const text of ["0.3 %", "0,3%", "3 ‰"])
      expect((typed(text) as { value: number }).value).toBeCloseTo(0.003, 12);
    expect(typed("level")).toEqual({ value: 0 });
    expect(typed("-1:80")).toEqual({ value: -1 / 80 });
    expect(typed("0.3")).toHaveProperty("wrong");
    expect(typed("1:0")).toHaveProperty("wrong");
    expect(typed("steep")).toHaveProperty("wrong");
  });
});

describe("margins of every unit", () => {
  it("are told in what people read", () => {
    const told = (value: number, unit: string) => Object.values(showMargin(value, unit)).join(" ");
    expect(told(43_200, "s")).toBe("+12.0 h");
    expect(told(-0.0016, "m/m")).toBe("−0.16 %");
    expect(told(0.35, "m/s")).toBe("+0.35 m/s");
    expect(told(-644, "m3")).toBe("−644 m³");
    expect(told(5.06, "m3")).toBe("+5.1 m³");
    expect(showOf(86_400, "s")).toBe("24.0");
    expect(showBand(720, "s")).toBe("± 0.2 h");
    readIn("us", null);
    expect(told(0.3048, "m/s")).toBe("+1.00 ft/s");
  });
});

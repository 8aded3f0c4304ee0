import { describe, expect, it } from "vitest";
import type { Answer } from "../src/api/client";
import type { Network } from "../src/document/types";
import { byPeriod, overStorms, type RowResults, stateWord } from "../src/views/results/elementResults";

const network = {
  nodes: { n: { kind: "manhole", name: "M1" }, t: { kind: "storage", name: "T1" }, o: { kind: "outfall", name: "O" } },
  links: { l: { kind: "pipe", name: "M1–T1" } },
} as unknown as Network;
const storm = (key: string, row: string, duration: number, beyond: unknown[] = []) => ({
  key,
  row,
  duration,
  season: "winter",
  given: "",
  label: `${row}, ${duration} min, winter`,
  beyond,
});
const answer = {
  storms: [storm("a", "2 yr", 15), storm("b", "100 yr", 60, [1])],
  worth: { level: { n: 0.012 }, flow: {} },
} as unknown as Answer;
const told = { network, answer };

const node = { state: "ok", level: 10, depth: 1, left: 2, flooded: 0, storm: "a", time: 60, why: null, by: null };
const link = {
  state: "ok",
  flow: 0.01,
  share: 0.5,
  speed: 1,
  clearance: 0.1,
  clearance_storm: "a",
  storm: "a",
  time: 30,
  why: null,
  by: null,
};
const store = {
  capacity: 100,
  volume: 120,
  share: 1.2,
  top: 11,
  freeboard: -0.1,
  entering: 0.2,
  leaving: 0.05,
  lag: 1800,
  half_drain: null,
  infiltrated: null,
  storm: "b",
  time: 90,
};
const pump = {
  starts: 12,
  most_in_hour: 4,
  running: 7200,
  beyond: 0,
  volume: 90,
  energy: 5.4e6,
  counted: false,
  storm: "b",
};
const outfall = { flow: 0.05, storm: "b", time: 99, volume: 300, volume_storm: "a" };
const row = (name: string, more: object, missing = ""): RowResults =>
  ({
    name,
    rules: name === "2 yr" ? ["No surcharge"] : ["Contained", "Outflow"],
    elements: {
      missing,
      nodes: { n: { ...node, ...more } },
      links: { l: link },
      stores: { t: store },
      outfalls: { o: outfall },
      pumps: { p: pump },
    },
  }) as unknown as RowResults;
const flooded = { state: "flooded", flooded: 6.3, left: -0.15, storm: "b", why: "backwater", by: "t" };

describe("states in words", () => {
  it("tell the cause of a surcharge, the volume of a flood, and nothing of what is within", () => {
    expect(stateWord("ok", null, "")).toBe("within");
    expect(stateWord("surcharged", "capacity", "M1–T1")).toBe("surcharged, own capacity");
    expect(stateWord("surcharged", "backwater", "T1")).toBe("surcharged, backed up by T1");
    expect(stateWord("surcharged", null, "")).toBe("surcharged");
    expect(stateWord("flood risk", "capacity", "")).toBe("flood risk");
    expect(stateWord("flooded", "backwater", "T1", 6.3)).toBe("floods 6.3 m³");
    expect(stateWord("flooded", null, "", 0.01)).toBe("floods 0.01 m³");
    expect(stateWord("flooded", null, "", 1e-7)).toBe("floods under 0.0001 m³");
  });
});

describe("results by return period", () => {
  const { columns, results } = byPeriod(told, [row("2 yr", {}), row("100 yr", flooded, "1 of 2 storms are in")]);
  it("stand side by side under their rules, and say what is not in", () => {
    expect(columns.nodes?.map((c) => c.label)).toEqual(["state", "left m", "storm", "state", "left m", "storm"]);
    expect(columns.nodes?.[0]?.group).toEqual({ name: "2 yr", note: "rule: No surcharge" });
    expect(columns.nodes?.[3]?.group?.note).toBe("1 of 2 storms are in, so far; rules: Contained; Outflow");
  });

  it("mark floods, and each cell leads to its own storm", () => {
    const cells = results.nodes?.[0]?.cells ?? {};
    expect(cells.state0).toMatchObject({ text: "within", storm: "a", moment: 60 });
    expect(cells.state1).toMatchObject({ text: "floods 6.3 m³", bad: true, mark: "over", storm: "b" });
    expect(cells.left1).toMatchObject({ text: "−0.15", bad: true });
    expect(cells.storm1?.text).toBe("60 winter ?");
    expect(results.storage?.[0]?.cells.used0).toMatchObject({ text: "120 %", mark: 1.2 });
    expect(results.outfalls?.[0]?.cells.volume0?.note).toBe("2 yr, 15 min, winter");
    expect(results.links?.[0]?.cells.share0?.text).toBe("50 %");
  });
});

describe("results over storms", () => {
  it("tell every figure with its governing storm, and what the grid may have wrong", () => {
    const { columns, results } = overStorms(told, row("all storms", {}), false);
    expect(columns.nodes?.[0]?.label).toBe("governing storm");
    expect(results.nodes?.[0]?.cells.level).toMatchObject({ text: "10.00", note: "± 20 mm by the grid" });
    const own = results.storage?.[0]?.cells ?? {};
    expect([own.attenuation?.text, own.lag?.text, own.half?.text]).toEqual(["75 %", "0.50", "not seen"]);
    expect(own.soaked).toBeUndefined();
    expect(results.outfalls?.[0]?.cells.most?.text).toBe("2 yr, 15 winter");
    const pumps = results.pumps?.[0]?.cells ?? {};
    expect([pumps.starts?.text, pumps.hour?.text, pumps.run?.text, pumps.volume?.text, pumps.energy?.text]).toEqual([
      "≥ 12",
      "≥ 4",
      "2.00",
      "90.0",
      "1.5",
    ]);
    expect(pumps.beyond?.bad).toBe(false);
  });

  it("of one storm name none", () => {
    const { columns, results } = overStorms(told, row("x", {}), true);
    expect(columns.nodes?.some((c) => c.key === "storm")).toBe(false);
    expect(results.nodes?.[0]?.cells.level?.note).toBeUndefined();
    expect(results.nodes?.[0]?.storm).toBe("a");
  });
});

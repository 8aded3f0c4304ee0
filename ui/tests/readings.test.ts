import { beforeEach, describe, expect, it } from "vitest";
import type { StormInfo, Verdict } from "../src/api/client";
import type { Network } from "../src/document/types";
import { readIn } from "../src/document/units";
import { qualityOf, wordsOf, worstFirst } from "../src/inspector/Quality";
import { stateOf } from "../src/primitives/tone";
import { lanesOf } from "../src/views/results/lanes";
import { marginReadings, peakReadings } from "../src/views/results/readings";

beforeEach(() => readIn("metric", null));

const verdict = (margins: Record<string, [number, number]>, storm: string) =>
  ({ name: "Contained", unit: "m3", storm, margins }) as unknown as Verdict;
const storms = ["a", "b", "c"].map((key) => ({ key }) as StormInfo);

describe("margins as readings", () => {
  it("tell what is over, tight and free, and which governs", () => {
    const found = marginReadings(verdict({ a: [-1, 5], b: [0.3, 5], c: [4, 5] }, "a"));
    expect([...found.of.values()].map((r) => r.state)).toEqual(["over", "tight", "free"]);
    expect(found.governs).toBe("a");
    expect(found.least).toBe(true);
    expect(found.of.get("a")?.tone).toBe("url(#over)");
  });
  it("are none without a rule", () => {
    expect(marginReadings(undefined).of.size).toBe(0);
  });
});

describe("patterns that are judged together", () => {
  const patterns = (over: string, whole: boolean, value: number) =>
    ({
      ...verdict({ a: [-0.2, 1], b: [0.7, 1], c: [0.7, 1] }, "b"),
      over,
      cells: [{ storms: ["a", "b", "c"], value, scale: 1, storm: "b", whole }],
    }) as unknown as Verdict;

  it("are told by their mean, and one beyond the limit does not make the cell look broken", () => {
    const found = marginReadings(patterns("mean", true, 0.4));
    expect(found.together.get("c")).toMatchObject({ word: "mean", whole: true, state: "free", text: "+0.4" });
    expect(found.of.get("a")?.state).toBe("over");
    expect(found.of.get("a")?.tone).toBe(found.together.get("a")?.tone);
    expect(found.governs).toBe("b");
  });
  it("say that they are not whole, and count each for itself where every one is judged", () => {
    expect(marginReadings(patterns("median", false, 0.4)).together.get("a")?.whole).toBe(false);
    expect(marginReadings(verdict({ a: [-0.2, 1] }, "a")).together.size).toBe(0);
  });
});

describe("verdicts", () => {
  const state = (over: Partial<Verdict>) => stateOf({ tight: false, ...over } as Verdict);
  it("are the server's: what it did not judge is never met, whatever the margin so far", () => {
    expect(state({ state: "not judged", value: 3, scale: 1 })).toBe("not judged");
    expect(state({ state: "meets", tight: true })).toBe("tight");
    expect(stateOf(undefined)).toBe("not judged");
  });
});

describe("peaks as readings", () => {
  it("take their tone from what is left under a limit", () => {
    const peaks = {
      a: { value: 10.2, limit: 10, scale: 2 },
      b: { value: 9.9, limit: 10, scale: 2 },
      c: { value: 8, limit: 10, scale: 2 },
    };
    const found = peakReadings("highest level", peaks, "level", storms);
    expect([...found.of.values()].map((r) => r.state)).toEqual(["over", "tight", "free"]);
    expect(found.of.get("a")?.text).toBe("10.20");
    expect(found.governs).toBe("a");
    expect(found.name).toBe("highest level, m");
  });
  it("find the worst under limits of their own, not the highest of all", () => {
    const peaks = { a: { value: 20, limit: 22, scale: 2 }, b: { value: 9.9, limit: 10, scale: 2 } };
    expect(peakReadings("level", peaks, "level", storms).governs).toBe("b");
  });
  it("take it from their share of the greatest where there is none", () => {
    const found = peakReadings("flow", { a: { value: 0.1 }, b: { value: 0.07 }, c: { value: 0 } }, "flow", storms);
    const tones = [...found.of.values()].map((r) => r.tone);
    expect(new Set(tones).size).toBe(3);
    expect(tones[2]).toBe("var(--color-paper)");
    expect(found.of.get("a")?.text).toBe("100.0");
    expect([...found.of.values()].every((r) => r.state === "free")).toBe(true);
  });
  it("leave out storms that are not in", () => {
    expect(peakReadings("flow", { b: { value: 1 } }, "flow", storms).of.size).toBe(1);
    expect(peakReadings("flow", {}, "flow", storms).governs).toBeNull();
  });
});

describe("lanes of runs", () => {
  const node = (name: string) => ({ kind: "manhole", name });
  const NETWORK = {
    nodes: Object.fromEntries("ABCDXYO".split("").map((n) => [n, node(n)])),
    links: {
      1: { upstream: "A", downstream: "B" },
      2: { upstream: "B", downstream: "C" },
      3: { upstream: "C", downstream: "O" },
      4: { upstream: "X", downstream: "C" },
      5: { upstream: "Y", downstream: "X" },
      6: { upstream: "D", downstream: "X" },
    },
    catchments: {},
  } as unknown as Network;
  it("put a branch one lane beside the run that it joins", () => {
    const lanes = lanesOf(NETWORK);
    const of = (id: string) => lanes.get(id)?.lane;
    expect([of("O"), of("C")]).toEqual([0, 0]);
    // of two feeders with as much above them one goes on; what joins it stands beside
    expect([of("B"), of("X")].sort()).toEqual([0, 1]);
    expect(Math.max(...[...lanes.values()].map((l) => l.lane))).toBeLessThanOrEqual(2);
  });
  it("keep the flow order, heads before what they drain to", () => {
    const order = (id: string) => lanesOf(NETWORK).get(id)?.order ?? -1;
    expect(order("A")).toBeLessThan(order("B"));
    expect(order("Y")).toBeLessThan(order("X"));
    expect(order("X")).toBeLessThan(order("C"));
    expect(order("O")).toBe(6);
  });
});

describe("beyond", () => {
  const beyond = (kind: string, value: number, limit: number, name = "") => ({
    kind,
    value,
    limit,
    element: null,
    name,
  });
  it("are told with place and limit in the units that are read", () => {
    expect(wordsOf(beyond("level", 0.031, 0.02, "pipe A1"))).toBe("a level oscillates by 31 mm at pipe A1, over 20");
    expect(wordsOf(beyond("flow", 0.182, 0.05, "pipe A1"))).toContain("18 % of its peak at pipe A1");
    expect(wordsOf(beyond("balance", 2e-4, 1e-4))).toContain("0.020 % continuity error");
    expect(wordsOf(beyond("curve", 3660, 0, "pump P"))).toBe("pump P acts beyond its curve from 01:01");
    readIn("us", null);
    expect(wordsOf(beyond("level", 0.0254, 0.02))).toContain("1 in");
  });
  it("put to be checked storms first, then the rougher ones; what is not in is left out", () => {
    const storm = (key: string, oscillation: number | null, beyond: unknown[] = []) =>
      ({ key, oscillation, beyond }) as unknown as StormInfo;
    const found = worstFirst([storm("calm", 0.001), storm("rough", 0.01), storm("bad", 0, [1]), storm("out", null)]);
    expect(found.map((s) => s.key)).toEqual(["bad", "rough", "calm"]);
  });
});

describe("trust in all storms", () => {
  const storm = (state: string, beyond: number) => ({ state, beyond: Array(beyond).fill({}) }) as unknown as StormInfo;
  it("says of a storm that is not in nothing good", () => {
    expect(qualityOf([])).toBe("no storm is in");
    expect(qualityOf([storm("due", 0), storm("failed", 0)])).toBe("no storm is in");
    expect(qualityOf([storm("in", 0), storm("due", 0)])).toBe("none of the 1 storms in is to be checked");
    expect(qualityOf([storm("in", 0), storm("in", 2), storm("due", 0)])).toBe("1 of 2 storms to be checked");
    expect(qualityOf([storm("in", 0), storm("in", 0)])).toBe("no storm is to be checked");
  });
});

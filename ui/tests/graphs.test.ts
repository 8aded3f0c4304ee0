import { describe, expect, it } from "vitest";
import type { StormInfo } from "../src/api/client";
import type { Network } from "../src/document/types";
import { paired } from "../src/views/graphs/Against";
import { csvOf, spreadCsv } from "../src/views/graphs/out";
import { marksOf, rangeOf, together } from "../src/views/graphs/Panels";
import { measureOf } from "../src/views/graphs/Spreads";
import { interval, stormsOf, type Trace, valueAt } from "../src/views/graphs/traces";

const trace = (element: string, quantity: Trace["quantity"], values: number[], storm = "s"): Trace => ({
  storm,
  element,
  quantity,
  tolerance: 0.002,
  times: Float32Array.from(values, (_, k) => 60 * k),
  values: Float32Array.from(values),
});

describe("the interval of graphs", () => {
  it("is the least and the most of all lines", () => {
    const fine = { ...trace("a", "flow", [1, 2, 3]), times: Float32Array.from([0, 0.5, 90]), tolerance: 0.004 };
    expect(interval([trace("b", "flow", [1, 2]), fine])).toEqual({ least: 0.5, most: 89.5, tolerance: 0.004 });
  });
});

describe("graphs as CSV", () => {
  it("has a row for each moment of each storm in the units that are read", () => {
    const traces = [
      trace("a", "flow", [0.01, 0.02]),
      trace("b", "flow", [0, -0.001]),
      trace("b", "fill", [0.5, 1]),
      trace("a", "flow", [0.03], "long"),
    ];
    const text = csvOf(
      traces,
      (id) => ({ a: "A1–A2", b: 'B "x"' })[id] ?? "",
      (key) => key,
    );
    expect(text.split("\n")).toEqual([
      'storm,time s,"A1–A2 flow L/s","B ""x"" flow L/s","B ""x"" fill %"',
      '"s",0.0,10.0000,0.0000,50.0000',
      '"s",60.0,20.0000,-1.0000,100.0000',
      '"long",0.0,30.0000,,',
    ]);
  });
  it("keeps the same storm of another option apart", () => {
    const text = csvOf(
      [trace("a", "flow", [0.01]), { ...trace("a", "flow", [0.02]), beside: "B" }],
      () => "P",
      (key) => key,
    );
    expect(text.split("\n").slice(1)).toEqual(['"s",0.0,10.0000', '"s, B",0.0,20.0000']);
  });
  it("lets no name begin a formula", () => {
    const text = csvOf(
      [trace("a", "flow", [0])],
      () => "=1+1",
      () => "s",
    );
    expect(text.split("\n")[0]).toBe('storm,time s,"\'=1+1 flow L/s"');
  });
});

describe("peaks by duration", () => {
  const network = {
    nodes: { m: { kind: "manhole" }, o: { kind: "outfall" } },
    links: { p: { kind: "pipe" } },
  } as unknown as Network;

  it("are read of what has a peak, and of nothing else", () => {
    expect(measureOf(network, "m", "level")).toBe("level");
    expect(measureOf(network, "m", "flow")).toBeNull();
    expect(measureOf(network, "o", "flow")).toBe("outflow");
    expect(measureOf(network, "p", "speed")).toBe("speed");
    expect(measureOf(network, "p", "level")).toBeNull();
  });

  it("go out with every figure of their spread in the units that are read", () => {
    const one = {
      duration: 15,
      mean: 0.02,
      median: 0.019,
      quartiles: [0.018, 0.022] as [number, number],
      whiskers: [0.016, 0.024] as [number, number],
      lowest: 0.015,
      highest: 0.03,
      outliers: [0.03, 0.015],
      peaks: { a: 0.015, b: 0.019, c: 0.03 },
    };
    const spreads = [{ element: "p", quantity: "flow" as const, word: "peak flow", durations: [one] }];
    const [heads, row] = spreadCsv(spreads, () => "A1–A2").split("\n");
    expect(heads?.split(",").length).toBe(12);
    expect(row).toBe('"A1–A2","peak flow, L/s",15,3,20.0000,15.0000,16.0000,18.0000,19.0000,22.0000,24.0000,30.0000');
  });
});

describe("what enters a store and what leaves it", () => {
  it("share one panel, and stand alone where only one is asked for", () => {
    expect(together(["volume", "leaving", "entering"])).toEqual([["volume"], ["entering", "leaving"]]);
    expect(together(["leaving", "flow"])).toEqual([["leaving"], ["flow"]]);
  });
});

describe("axes of graphs", () => {
  it("have even steps", () => {
    expect(marksOf(0.13, 0.97, 4, "length")).toEqual([0.2, 0.4, 0.6, 0.8].map((v) => expect.closeTo(v)));
    // of flow in L/s, not in m3/s
    expect(marksOf(0, 0.0012, 3, "flow")).toEqual([0, 0.0005, 0.001].map((v) => expect.closeTo(v, 6)));
  });
  it("begin at nought for all but levels", () => {
    expect(rangeOf([trace("a", "flow", [2, 3])], "flow")).toEqual([0, 3]);
    expect(rangeOf([trace("a", "level", [2, 3])], "level")).toEqual([2, 3]);
    expect(rangeOf([trace("a", "level", [2, 2])], "level")).toEqual([2, 2.05]);
  });
});

describe("one quantity against another", () => {
  it("is of the same element where it has both, and of two where each has one", () => {
    const pipe = [trace("p", "level", [1]), trace("p", "flow", [2])];
    expect(paired(pipe, "level", "flow")).toEqual([{ up: pipe[0], over: pipe[1] }]);
    const two = [trace("pond", "level", [1]), trace("orifice", "flow", [2]), trace("orifice", "flow", [3], "other")];
    expect(paired(two, "level", "flow")).toEqual([{ up: two[0], over: two[1] }]);
    expect(paired([two[0] as Trace], "level", "flow")).toEqual([]);
  });
});

describe("traces", () => {
  it("are read between frames, and stay after the last one", () => {
    const one = trace("a", "flow", [0, 1, 3]);
    expect(valueAt(one, 90)).toBe(2);
    expect(valueAt(one, 1e6)).toBe(3);
    expect(valueAt(trace("a", "flow", [5]), 30)).toBe(5);
  });
  it("are of the storms that the picked one stands for", () => {
    const storm = (key: string, row: string, duration: number, more = {}) =>
      ({ key, row, duration, given: null, state: "in", ...more }) as unknown as StormInfo;
    const all = [
      storm("a", "2 yr", 15),
      storm("b", "2 yr", 15),
      storm("c", "2 yr", 30),
      storm("d", "30 yr", 15),
      storm("e", "2 yr", 15, { state: "waiting" }),
    ];
    expect(stormsOf(all, "b", "picked")).toEqual(["b"]);
    expect(stormsOf(all, "b", "duration")).toEqual(["b", "a"]);
    expect(stormsOf(all, "b", "row")).toEqual(["b", "a", "c"]);
    expect(stormsOf(all, "b", "all")).toEqual(["b", "a", "c", "d"]);
    expect(stormsOf(all, null, "all")).toEqual([]);
  });
});

import { describe, expect, it } from "vitest";
import { between, StormSeries } from "../src/document/series";
import type { Control } from "../src/document/types";
import { phaseOf } from "../src/inspector/RatingCurve";
import { stream } from "./stream";

const series = new StormSeries(
  stream({ time: [0, 60, 180], "level:n": [1, 3, 2], "level:d": [0, 0, 1.5], "flow:c": [0, 0.04, 0.02] }),
);

describe("series of a storm", () => {
  it("come as one array and are found by name", () => {
    expect([...(series.column("level:n") ?? [])]).toEqual([1, 3, 2]);
    expect(series.rain).toEqual({ times: [0, 300], intensity: [10] });
    expect([...series.time]).toEqual([0, 60, 180]);
    expect(series.end).toBe(180);
    expect(series.tolerance).toBe(0.002);
    expect(series.peakTime("level:n")).toBe(60);
    expect(series.peakTime("level:x")).toBeUndefined();
    expect(series.column("level:x")).toBeUndefined();
  });
  it("are read between frames and held at both ends", () => {
    expect(series.at("level:n", 30)).toBeCloseTo(2);
    expect(series.at("level:n", 120)).toBeCloseTo(2.5);
    expect(series.at("level:n", 60)).toBe(3);
    expect(series.at("level:n", -5)).toBe(1);
    expect(series.at("level:n", 1e6)).toBe(2);
    expect(series.at("level:x", 30)).toBeNaN();
    expect(between(Float32Array.of(7), 0)).toBe(7);
  });
  it("know their highest value", () => {
    expect(series.highest("level:n")).toBe(3);
    expect(series.highest("level:n")).toBe(3); // found once, kept
    expect(series.highest("level:x")).toBeNaN();
  });
});

describe("the way of a control on its curve", () => {
  const control = (more: object) => ({ upstream: "n", downstream: "d", name: "C", flap: false, ...more }) as Control;
  it("is head over its sill against flow, while water stands over it", () => {
    const orifice = control({ kind: "orifice", invert: 1.5 });
    expect(phaseOf(series, "c", orifice)).toEqual([
      { flow: expect.closeTo(0.04), head: 1.5 },
      { flow: expect.closeTo(0.02), head: 0.5 },
    ]);
  });
  it("is the static lift of a pump, up to where its main pours out", () => {
    const units = [{ on: 2, off: 1 }];
    const pump = control({ kind: "pump", units, main: { discharge_level: 4 } });
    expect(phaseOf(series, "c", pump).map((p) => p.head)).toEqual([3, 1, 2]);
    const free = control({ kind: "pump", units, main: null });
    // without a main it lifts to the water below; where that stands lower there is nothing to lift
    expect(phaseOf(series, "c", free)).toEqual([]);
  });
  it("is nothing where the storm has no such link", () => {
    expect(phaseOf(series, "x", control({ kind: "orifice", invert: 0 }))).toEqual([]);
  });
});

import { describe, expect, it } from "vitest";
import { frameAt, type StormSeries } from "../src/document/series";
import { marks, mostlyPeaked, moved, stormSpan, zoomed } from "../src/document/span";
import { clock } from "../src/document/units";

const peaking = (...times: number[]) =>
  ({
    peakTime: (k: string) => times[Number(k)],
    highest: (k: string) => (times[Number(k)] ? 1 : 0),
  }) as unknown as StormSeries;

describe("the part of a storm that is shown", () => {
  it("opens on rain and peak, whichever is later, and never beyond the run", () => {
    expect(stormSpan(900, [1200], 50_000)).toEqual([0, 1500]);
    expect(stormSpan(900, [600], 50_000)).toEqual([0, 1125]);
    expect(stormSpan(900, [950], 1000)).toEqual([0, 1000]);
  });
  it("waits for most conduits, not for what a pond holds back, nor for dry ones", () => {
    expect(mostlyPeaked(peaking(600, 700, 800, 20_000), ["0", "1", "2", "3"])).toBe(800);
    expect(mostlyPeaked(peaking(600, 0, 0, 0), ["0", "1", "2", "3"])).toBe(600);
    expect(mostlyPeaked(peaking(), [])).toBe(0);
  });
  it("comes closer about a moment that stays where it is", () => {
    const [from, to] = zoomed([0, 1000], 250, 0.5, 4000);
    expect((250 - from) / (to - from)).toBeCloseTo(0.25);
    expect(to - from).toBe(500);
    expect(zoomed([0, 1000], 500, 100, 4000)).toEqual([0, 4000]);
    expect(zoomed([0, 1000], 500, 1e-6, 4000)[1] - zoomed([0, 1000], 500, 1e-6, 4000)[0]).toBe(20);
  });
  it("moves along and stops at the ends", () => {
    expect(moved([100, 200], 50, 1000)).toEqual([150, 250]);
    expect(moved([100, 200], -500, 1000)).toEqual([0, 100]);
    expect(moved([100, 200], 5000, 1000)).toEqual([900, 1000]);
  });
  it("is marked at round moments, with seconds where it is short", () => {
    expect(marks([0, 3600], 8)).toEqual({ at: [0, 600, 1200, 1800, 2400, 3000, 3600], seconds: false });
    expect(marks([65, 95], 8)).toEqual({ at: [65, 70, 75, 80, 85, 90, 95], seconds: true });
    expect(clock(3725, true)).toBe("01:02:05");
    expect(clock(59.7, true)).toBe("00:01:00");
  });
});

describe("frames at uneven times", () => {
  it("are found with the part of the way to the next", () => {
    const time = [0, 10, 40, 41];
    expect([-1, 0, 5, 10, 25, 40.5, 41, 99].map((t) => frameAt(time, t))).toEqual([0, 0, 0.5, 1, 1.5, 2.5, 3, 3]);
    expect(frameAt([], 3)).toBe(0);
  });
});

import { describe, expect, it } from "vitest";
import { fitting, moved, zoomed } from "../src/views/section/stretch";

describe("the stretch of a run in sight", () => {
  it("comes nearer about the link under the pointer, which stays where it is", () => {
    const near = zoomed(null, 400, 200, 0.5);
    expect(near).toEqual({ first: 100, count: 200 });
    expect(zoomed(near, 400, 100, 0.5)).toEqual({ first: 100, count: 100 });
    expect(zoomed(near, 400, 299, 0.5)?.first).toBeGreaterThan(190);
  });

  it("never leaves the run, nor sees fewer than three links of it", () => {
    let seen = zoomed(null, 400, 399, 0.5);
    for (let k = 0; k < 20; k++) seen = zoomed(seen, 400, 399, 0.5);
    expect(seen).toEqual({ first: 397, count: 3 });
    expect(zoomed(null, 2, 1, 0.5)).toBeNull();
    expect(moved({ first: 10, count: 20 }, 400, 1000)).toEqual({ first: 380, count: 20 });
    expect(moved({ first: 10, count: 20 }, 400, -1000)).toEqual({ first: 0, count: 20 });
  });

  it("is the whole run again when far enough", () => {
    expect(zoomed({ first: 100, count: 300 }, 400, 200, 2)).toBeNull();
  });
});

describe("figures along a run", () => {
  const row = (count: number, apart: number) =>
    Array.from({ length: count }, (_, k) => ({ at: k * apart, width: 38, rank: k === 0 || k === count - 1 ? 0 : 3 }));

  it("of 300 nodes are thinned so that none lies over another, and both ends are kept", () => {
    const wanted = row(300, 3);
    const fits = fitting(wanted);
    expect([fits[0], fits.at(-1)]).toEqual([true, true]);
    const kept = wanted.filter((_, k) => fits[k]).map(({ at }) => at);
    expect(kept.length).toBeGreaterThan(15);
    for (const [k, at] of kept.slice(1).entries()) expect(at - (kept[k] ?? 0)).toBeGreaterThanOrEqual(43);
  });

  it("of a few nodes are all there", () => {
    expect(fitting(row(8, 60))).toEqual(Array(8).fill(true));
  });
});

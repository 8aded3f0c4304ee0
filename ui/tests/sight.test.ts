import { describe, expect, it } from "vitest";
import type { Network } from "../src/document/types";
import { fitting } from "../src/views/section/fitting";
import { frameOf } from "../src/views/section/frame";
import { moved, type Sight, zoomed } from "../src/views/section/sight";

const WHOLE: Sight = { from: 0, to: 400, low: 5, high: 15 };

describe("the part of a run in sight", () => {
  it("comes nearer about the place under the pointer, along and upward, which stays where it is", () => {
    const near = zoomed(null, WHOLE, 100, 7.5, 0.5) as Sight;
    expect(near).toEqual({ from: 50, to: 250, low: 6.25, high: 11.25 });
    expect((100 - near.from) / (near.to - near.from)).toBeCloseTo(0.25);
    expect((7.5 - near.low) / (near.high - near.low)).toBeCloseTo(0.25);
  });

  it("reaches one manhole both ways, and no nearer; never leaves the run", () => {
    let seen = zoomed(null, WHOLE, 399, 14.9, 0.75);
    for (let k = 0; k < 60; k++) seen = zoomed(seen, WHOLE, 399, 14.9, 0.75);
    const { from, to, low, high } = seen as Sight;
    expect(to - from).toBeCloseTo(2);
    expect(high - low).toBeCloseTo(0.2);
    expect([from <= 399, 399 <= to, to <= 400, low <= 14.9, 14.9 <= high, high <= 15]).not.toContain(false);
    const away = moved(seen as Sight, WHOLE, 1e6, -1e6);
    expect([away.to, away.low]).toEqual([400, 5]);
    expect(away.to - away.from).toBeCloseTo(2);
  });

  it("is the whole run again when far enough", () => {
    expect(zoomed({ from: 100, to: 300, low: 7, high: 12 }, WHOLE, 200, 10, 4)).toBeNull();
  });
});

const node = (name: string) => ({ kind: "manhole", name, x: 0, y: 0, cover: 12, invert: 9 });
const pipe = (upstream: string, downstream: string) => ({
  kind: "pipe",
  name: `${upstream}${downstream}`,
  upstream,
  downstream,
  length: 100,
  bends: [],
  upstream_invert: 10,
  downstream_invert: 9.5,
  section: { shape: "circular", diameter: 0.3 },
});
const NETWORK = {
  nodes: { a: node("A"), b: node("B"), c: node("C"), d: node("D") },
  links: { ab: pipe("a", "b"), bc: pipe("b", "c"), cd: pipe("c", "d") },
  catchments: {},
} as unknown as Network;

describe("the frame of a part in sight", () => {
  const path = ["ab", "bc", "cd"];
  it.each([null, 1, 20])("shows one manhole whatever the vertical factor is (%s)", (factor) => {
    const sight = { from: 99, to: 101, low: 9, high: 9.4 };
    const frame = frameOf(NETWORK, path, 500, 300, 4, factor, sight);
    expect(frame?.ids).toEqual(["a", "b", "c"]);
    expect(frame?.chainage).toEqual([0, 100, 200]);
    expect(frame?.x(100)).toBeCloseTo(62 + (500 - 62 - 28) / 2);
    expect(frame?.alongAt(frame?.x(99.5) ?? 0)).toBeCloseTo(99.5);
    expect(frame?.levelAt(frame?.y(9.3) ?? 0)).toBeCloseTo(9.3);
    expect(frame?.exaggeration).toBeCloseTo(factor ?? frame?.exaggeration ?? 0);
    // the middle of the levels in sight is in the middle of the drawing
    expect(frame?.y(9.2)).toBeCloseTo(34 + (300 - 16 - 64 - 34) / 2);
  });

  it("has a factor of its own over the whole run", () => {
    const frame = frameOf(NETWORK, path, 500, 300, 4, 10);
    expect(frame?.exaggeration).toBeCloseTo(10);
    expect(frame?.links.length).toBe(3);
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

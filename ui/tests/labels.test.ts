import { describe, expect, it } from "vitest";
import { type Stands, standing, type Wanted } from "../src/views/plan/labels";

const name = (x: number, y: number, rank = 2, gap = 8): Wanted => ({ at: [x, y], gap, width: 30, height: 9, rank });
const SIGHT: [number, number] = [400, 300];
type Box = [number, number, number, number];
const boxOf = (stands: Stands): Box => [stands.x, stands.y - 9, stands.x + 30, stands.y];
const overlap = (a: Box, b: Box) => a[0] < b[2] && b[0] < a[2] && a[1] < b[3] && b[1] < a[3];

describe("names on the plan", () => {
  it("stand right above their node where there is room", () => {
    const [at] = standing([name(100, 100)], [], SIGHT);
    expect(at?.x).toBeGreaterThan(108);
    expect(at?.y).toBeLessThan(100);
  });

  it("never lie over each other or over a symbol, however close the nodes are", () => {
    const wanted = Array.from({ length: 120 }, (_, k) => name(60 + (k % 12) * 24, 60 + Math.floor(k / 12) * 18));
    const stands = standing(wanted, [], SIGHT);
    const boxes = stands.flatMap((at) => (at ? [boxOf(at)] : []));
    expect(boxes.length).toBeGreaterThan(3);
    expect(boxes.length).toBeLessThan(120);
    for (const [k, box] of boxes.entries()) {
      for (const other of boxes.slice(k + 1)) expect(overlap(box, other)).toBe(false);
      for (const { at } of wanted) expect(overlap(box, [at[0] - 7, at[1] - 7, at[0] + 7, at[1] + 7])).toBe(false);
    }
  });

  it("of what matters more are placed first", () => {
    const crowd = Array.from({ length: 9 }, (_, k) => name(100 + (k % 3) * 10, 100 + Math.floor(k / 3) * 10));
    const stands = standing([...crowd, name(110, 110, 0)], [], SIGHT);
    expect(stands[9]).not.toBeNull();
    expect(stands.filter(Boolean).length).toBeLessThan(10);
  });

  it("keep off pipes where another place is free", () => {
    const line: [number, number][] = [
      [100, 100],
      [200, 92],
    ];
    const [at] = standing([name(100, 100)], [line], SIGHT);
    const [x0 = 0, y0 = 0, x1 = 0, y1 = 0] = at ? boxOf(at) : [];
    for (let s = 0; s <= 100; s++) {
      const [x, y] = [100 + s, 100 - 0.08 * s];
      expect(x > x0 && x < x1 && y > y0 && y < y1).toBe(false);
    }
    expect(at).not.toBeNull();
  });

  it("of an outline stand upon it, or a line off where a node does", () => {
    expect(standing([name(100, 100, 3, 0)], [], SIGHT)[0]).toEqual({ x: 85, y: 104.5 });
    const [, moved] = standing([name(100, 100, 0), name(100, 100, 3, 0)], [], SIGHT);
    expect(moved).not.toBeNull();
    expect(moved?.y).not.toBe(104.5);
  });

  it("stay within the sight", () => {
    const [at] = standing([name(395, 5)], [], SIGHT);
    const [x0 = 0, y0 = 0, x1 = 0] = at ? boxOf(at) : [];
    expect([x0 >= 0, y0 >= 0, x1 <= 400]).toEqual([true, true, true]);
  });
});

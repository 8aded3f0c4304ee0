import { describe, expect, it } from "vitest";
import { EDGE, moved, resized, sizeOf, snappedTo } from "../src/deliver/sheet";

const SHEET = { paper: "A3", wide: true } as const;
const box = { x: 50, y: 60, wide: 100, high: 80 };

describe("a box on paper", () => {
  it("has a paper of the right size, lying and upright", () => {
    expect(sizeOf(SHEET)).toEqual([420, 297]);
    expect(sizeOf({ paper: "Letter", wide: false })).toEqual([215.9, 279.4]);
  });
  it("is moved and sized to half a millimetre, and never off the paper or to nothing", () => {
    expect(moved(box, [1.3, -2.2])).toEqual({ ...box, x: 51.5, y: 58 });
    expect(moved(box, [-500, -500])).toEqual({ ...box, x: 0, y: 0 });
    expect(resized(box, [-500, 3])).toEqual({ ...box, wide: 10, high: 83 });
  });
  it("snaps to the frame, to the title block and to the edges of others where they are near", () => {
    expect(snappedTo({ ...box, x: EDGE + 2 }, [], SHEET, false).x).toBe(EDGE);
    expect(snappedTo({ ...box, x: EDGE + 3 }, [], SHEET, false).x).toBe(EDGE + 3);
    expect(snappedTo({ ...box, y: 297 - EDGE - 17 - 80 + 1 }, [], SHEET, false).y).toBe(297 - EDGE - 17 - 80);
    const other = { x: 200, y: 10, wide: 50, high: 50 };
    expect(snappedTo({ ...box, x: 98.5 }, [other], SHEET, false).x).toBe(100); // its right edge to the other's left
    expect(snappedTo({ ...box, x: 251 }, [other], SHEET, false).x).toBe(250);
  });
  it("snaps the corner alone while it is sized", () => {
    const snapped = snappedTo({ ...box, wide: 148.6 }, [{ x: 200, y: 0, wide: 9, high: 9 }], SHEET, true);
    expect(snapped).toEqual({ ...box, wide: 150 });
  });
});

import { describe, expect, it } from "vitest";
import { refinement } from "../src/views/ByDuration";

describe("refining round a critical duration", () => {
  it("adds the middle by ratio on both sides, in whole five minutes", () => {
    expect(refinement([15, 60, 240, 1440], 240)).toEqual([120, 590]);
  });
  it("stops where the neighbours are near enough", () => {
    expect(refinement([180, 240, 300], 240)).toEqual([]);
    expect(refinement([180, 240, 360], 240)).toEqual([295]);
  });
  it("looks one way at the end of the range", () => {
    expect(refinement([15, 60], 15)).toEqual([30]);
    expect(refinement([15], 15)).toEqual([]);
  });
});

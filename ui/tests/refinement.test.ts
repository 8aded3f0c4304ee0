import { describe, expect, it } from "vitest";
import { refinement } from "../src/inspector/ByDuration";

describe("refining round a critical duration", () => {
  it("adds the middle by ratio on both sides, in whole five minutes", () => {
    expect(refinement([15, 60, 240, 1440], 240, 1.4)).toEqual([120, 590]);
  });
  it("stops where the neighbours are near enough", () => {
    expect(refinement([180, 240, 300], 240, 1.4)).toEqual([]);
    expect(refinement([180, 240, 360], 240, 1.4)).toEqual([295]);
  });
  it("goes on until the wanted ratio, and ends where whole minutes do", () => {
    expect(refinement([180, 240, 300], 240, 1.1)).toEqual([210, 270]);
    expect(refinement([15, 16, 17], 16, 1.05)).toEqual([]);
  });
  it("looks one way at the end of the range", () => {
    expect(refinement([15, 60], 15, 1.4)).toEqual([30]);
    expect(refinement([15], 15, 1.4)).toEqual([]);
  });
});

import { describe, expect, it } from "vitest";
import { readBlock, readDepthTable, readNumber } from "../src/document/block";

describe("blocks from a spreadsheet", () => {
  it("splits lines and cells", () => {
    expect(readBlock("1\t2\r\n3\t4\r\n")).toEqual([
      ["1", "2"],
      ["3", "4"],
    ]);
    expect(readBlock("1;2")).toEqual([["1", "2"]]);
  });
  it("reads numbers of several habits and nothing else", () => {
    expect(readNumber("12,5")).toBe(12.5);
    expect(readNumber("1 200")).toBe(1200);
    expect(readNumber("−3")).toBe(-3);
    expect(readNumber("")).toBeNull();
    expect(readNumber("12 mm")).toBeNull();
    expect(readNumber("1.2.3")).toBeNull();
  });
  it("takes a depth table with its headings", () => {
    expect(readDepthTable("yr\t15\t60\n2\t8,1\t14\n30\t17\t29.5\n")).toEqual({
      durations: [15, 60],
      return_periods: [2, 30],
      depths: [
        [8.1, 14],
        [17, 29.5],
      ],
    });
  });
  it("names the cell that is wrong", () => {
    expect(readDepthTable("yr\t15\t60\n2\t8.1\t\n")).toBe("row 2, column 3: “” is no number");
    expect(readDepthTable("yr\t15\tlong\n2\t8.1\t9\n")).toContain("row 1, column 3");
    expect(readDepthTable("15")).toContain("paste at least one row");
  });
});

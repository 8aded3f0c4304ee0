import { describe, expect, it } from "vitest";
import { readBlock, readNumber } from "../src/document/pastedBlock";

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
});

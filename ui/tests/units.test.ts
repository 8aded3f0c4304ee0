import { describe, expect, it } from "vitest";
import { clock, parse, show, showMargin } from "../src/document/units";

describe("units", () => {
  it("shows SI numbers as people read them", () => {
    expect(show(0.45, "diameter")).toBe("450");
    expect(show(0.0142, "flow")).toBe("14.2");
    expect(show(-0.5, "level")).toBe("−0.500");
    expect(show(-0.00001, "level")).toBe("0.000");
    expect(show(null, "level")).toBe("–");
  });
  it("takes numbers with and without units", () => {
    expect(parse("450", "diameter")).toBeCloseTo(0.45);
    expect(parse("450mm", "diameter")).toBeCloseTo(0.45);
    expect(parse("0,45 m", "diameter")).toBeCloseTo(0.45);
    expect(parse("18 in", "diameter")).toBeCloseTo(0.4572);
    expect(parse("14", "flow")).toBeCloseTo(0.014);
    expect(parse("−1.5", "level")).toBeCloseTo(-1.5);
  });
  it("refuses what is no number", () => {
    for (const text of ["", "forty", "1.2.3", "5 furlongs", "NaN"]) expect(parse(text, "length")).toBeNull();
  });
  it("comes back from what it shows", () => {
    for (const value of [0.225, 1.5, 12.345]) expect(parse(show(value, "level"), "level")).toBeCloseTo(value, 3);
  });
  it("signs margins", () => {
    expect(showMargin(-0.00094, "m3/s")).toEqual({ text: "−0.9", unit: "L/s" });
    expect(showMargin(-0.0042, "m")).toEqual({ text: "−4", unit: "mm" });
    expect(showMargin(0, "m")).toEqual({ text: "+0.00", unit: "m" });
  });
  it("tells the time in hours", () => {
    expect(clock(0)).toBe("00:00");
    expect(clock(90_000)).toBe("25:00");
  });
});

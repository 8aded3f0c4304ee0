import { afterEach, describe, expect, it } from "vitest";
import { clock, FLOW_UNITS, parse, readIn, show, showMargin, unitOf } from "../src/document/units";

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

describe("US customary units", () => {
  afterEach(() => readIn("metric", null));
  it("are read and typed; the kept number is SI", () => {
    readIn("us", null);
    expect(show(0.3048, "length")).toBe("1.0");
    expect(show(0.4572, "diameter")).toBe("18.0");
    expect(show(25.4, "rain")).toBe("1.00");
    expect(parse("18", "diameter")).toBeCloseTo(0.4572, 12);
    expect(parse("2.5", "rain")).toBeCloseTo(63.5, 12);
    expect(parse("450 mm", "diameter")).toBeCloseTo(0.45, 12);
    expect(unitOf("flow")).toBe("ft³/s");
    expect(showMargin(-0.3048, "m")).toEqual({ text: "−1.00", unit: "ft" });
    expect(showMargin(0.00254, "m")).toEqual({ text: "+0.10", unit: "in" });
  });
  it("have every unit of flow, exact both ways", () => {
    for (const [key, rule] of Object.entries(FLOW_UNITS)) {
      readIn("us", key);
      expect(unitOf("flow")).toBe(rule.unit);
      const typed = parse("12.5", "flow") ?? 0;
      expect(typed * rule.factor).toBeCloseTo(12.5, 12);
    }
    readIn("metric", "gal/min");
    expect(parse("1000", "flow")).toBeCloseTo(0.0630901964, 9);
    readIn("metric", "ML/d");
    expect(parse("86.4", "flow")).toBeCloseTo(1, 12);
  });
  it("leave metric as it was", () => {
    readIn("us", "Mgal/d");
    readIn("metric", null);
    expect(show(0.45, "diameter")).toBe("450");
    expect(unitOf("flow")).toBe("L/s");
  });
});

import { afterEach, describe, expect, it } from "vitest";
import { number, numberIn, read } from "../src/document/numbers";
import {
  clock,
  FLOW_UNITS,
  percentOf,
  readIn,
  show,
  showBand,
  showMargin,
  showOf,
  unitOf,
} from "../src/document/units";

describe("units", () => {
  it("shows SI numbers as people read them", () => {
    expect(show(0.45, "diameter")).toBe("450");
    expect(show(0.0142, "flow")).toBe("14.2");
    expect(show(-0.5, "level")).toBe("−0.500");
    expect(show(-0.00001, "level")).toBe("0.000");
    expect(show(null, "level")).toBe("–");
  });
  it("tells shares in per cent, and what is not known as a dash", () => {
    expect([0.123, 1, -0.25, -0.001].map((share) => percentOf(share))).toEqual(["12 %", "100 %", "−25 %", "0 %"]);
    expect(percentOf(0.0567, 1)).toBe("5.7 %");
    expect([null, undefined, Number.NaN].map((share) => percentOf(share))).toEqual(["–", "–", "–"]);
  });
  it("takes numbers with and without units", () => {
    expect(numberIn("450", "diameter")).toBeCloseTo(0.45);
    expect(numberIn("450mm", "diameter")).toBeCloseTo(0.45);
    expect(numberIn("0,45 m", "diameter")).toBeCloseTo(0.45);
    expect(numberIn("18 in", "diameter")).toBeCloseTo(0.4572);
    expect(numberIn("14", "flow")).toBeCloseTo(0.014);
    expect(numberIn("−1.5", "level")).toBeCloseTo(-1.5);
  });
  it("refuses what is no number", () => {
    for (const text of ["", "forty", "1.2.3", "5 furlongs", "NaN"]) expect(numberIn(text, "length")).toBeNull();
  });
  it("comes back from what it shows", () => {
    for (const value of [0.225, 1.5, 12.345]) expect(numberIn(show(value, "level"), "level")).toBeCloseTo(value, 3);
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
    expect(numberIn("18", "diameter")).toBeCloseTo(0.4572, 12);
    expect(numberIn("2.5", "rain")).toBeCloseTo(63.5, 12);
    expect(numberIn("450 mm", "diameter")).toBeCloseTo(0.45, 12);
    expect(unitOf("flow")).toBe("ft³/s");
    expect(showMargin(-0.3048, "m")).toEqual({ text: "−1.00", unit: "ft" });
    expect(showMargin(0.00254, "m")).toEqual({ text: "+0.10", unit: "in" });
  });
  it("have every unit of flow, exact both ways", () => {
    for (const [key, rule] of Object.entries(FLOW_UNITS)) {
      readIn("us", key);
      expect(unitOf("flow")).toBe(rule.unit);
      const typed = numberIn("12.5", "flow") ?? 0;
      expect(typed * rule.factor).toBeCloseTo(12.5, 12);
    }
    readIn("metric", "gal/min");
    expect(numberIn("1000", "flow")).toBeCloseTo(0.0630901964, 9);
    readIn("metric", "ML/d");
    expect(numberIn("86.4", "flow")).toBeCloseTo(1, 12);
  });
  it("leave metric as it was", () => {
    readIn("us", "Mgal/d");
    readIn("metric", null);
    expect(show(0.45, "diameter")).toBe("450");
    expect(unitOf("flow")).toBe("L/s");
  });
});

describe("typed numbers", () => {
  afterEach(() => readIn("metric", null));

  it("understand thousands separators, and refuse what may be read two ways", () => {
    const value = (text: string) => {
      const found = number(text);
      return "value" in found ? found.value : found.wrong;
    };
    expect(
      ["1,234.5", "1.234,5", "1 234.5", "1 234,5", "1\u202f234", "12'500", "1,234,567", "1.234.567"].map(value),
    ).toEqual([1234.5, 1234.5, 1234.5, 1234.5, 1234, 12500, 1234567, 1234567]);
    expect(["0,125", "12,5", "1.234", ".5", "1e3", "−3"].map(value)).toEqual([0.125, 12.5, 1.234, 0.5, 1000, -3]);
    expect(value("12,500")).toBe("“12,500” may be 12.5 or 12500: type it without a comma");
    expect(value("1,2,3")).toBe("“1,2,3” is no number");
    expect(value("1.2.3")).toBe("“1.2.3” is no number");
    expect(value("12 34")).toBe("“12 34” is no number");
    expect(value("")).toBe("a number is needed");
  });

  it("take no unit of another dimension", () => {
    expect(read("7 L/s", "volume")).toEqual({ wrong: "“7 L/s” is a flow, and this is a volume: type it in m³" });
    expect(read("3 ha", "length")).toEqual({ wrong: "“3 ha” is an area, and this is a length: type it in m" });
    expect(read("5 m", "plain")).toEqual({
      wrong: "“5 m” is a length, and this is a bare number: type it without a unit",
    });
    expect(read("4 furlongs", "length")).toEqual({ wrong: "“furlongs” is no unit that is known here: type it in m" });
    // ML is a volume in a volume's field, and mL/d a flow in a flow's
    expect(numberIn("2 ML", "volume")).toBe(2000);
    expect(numberIn("86.4 ML/d", "flow")).toBeCloseTo(1, 12);
    expect(numberIn("1 h", "duration")).toBe(60);
    expect(numberIn("90 s", "interval")).toBeCloseTo(1.5, 12);
    expect(numberIn("1 in/h", "infiltrating")).toBeCloseTo(0.0254 / 3600, 15);
    expect(numberIn("2 in", "rain")).toBeCloseTo(50.8, 12);
    expect(numberIn("1:142", "slope")).toBe(142);
    expect(numberIn("1,250 mm", "diameter")).toBeNull();
  });

  it("keep coefficients that have units by the units of the project", () => {
    readIn("us", null);
    expect(unitOf("weir")).toBe("ft½/s");
    // 2.7 ft½/s is 1.49 m½/s, not 2.7
    expect(numberIn("2.7", "weir")).toBeCloseTo(2.7 * Math.sqrt(0.3048), 12);
    expect(numberIn("1.7 m½/s", "weir")).toBeCloseTo(1.7, 12);
    expect(show(1.7, "weir")).toBe("3.079");
    expect(numberIn("60", "formula")).toBeCloseTo(1524, 9);
    expect(numberIn("0.0007", "sharp")).toBeCloseTo(0.0007 * 0.0254, 12);
  });

  it("come back as they are shown, in every unit", () => {
    for (const system of ["metric", "us"] as const)
      for (const quantity of [
        "level",
        "flow",
        "area",
        "volume",
        "rain",
        "rate",
        "infiltrating",
        "weir",
        "formula",
        "minutes",
      ] as const) {
        readIn(system, null);
        expect(read(`${show(1.25, quantity, 9)} ${unitOf(quantity)}`, quantity)).toEqual({
          value: expect.closeTo(1.25, 6),
        });
      }
  });
});

it("what a margin may have wrong is told to one digit, and never too little", () => {
  readIn("metric", null);
  expect(showBand(0.0031, "m")).toBe("± 4 mm");
  expect(showBand(0.004, "m")).toBe("± 4 mm");
  expect(showBand(0.0238, "m3")).toBe("± 0.03 m³");
  expect(showBand(3.7e-7, "m3/s")).toBe("± 0.0004 L/s");
  expect(showBand(0.112, "m")).toBe("± 200 mm");
  expect(showBand(0, "m3")).toBe("± 0 m³");
  readIn("us", null);
  expect(showBand(0.0254, "m")).toBe("± 1 in");
  readIn("metric", null);
});

it("a margin that would round to nothing keeps its first digit", () => {
  expect(showMargin(0.008, "m3").text).toBe("+0.008");
  expect(showMargin(-0.00000312, "m3/s").text).toBe("−0.003");
  expect(showMargin(0, "m3").text).toBe("+0.0");
  expect(showMargin(0.91, "m3").text).toBe("+0.9");
});

it("small flows have three figures, and what floods is never nothing", () => {
  readIn("metric", null);
  expect(show(0.000502, "flow")).toBe("0.502");
  expect(show(0.0005, "flow")).toBe("0.500");
  expect(show(0.014, "flow")).toBe("14.0");
  expect(show(0, "flow")).toBe("0.0");
  expect(showOf(0.000502, "m3/s")).toBe("0.502");
  expect(show(0.0376, "volume")).toBe("0.04");
  expect(show(0.0004, "volume")).toBe("0.0004");
  expect(show(0, "volume")).toBe("0.0");
  expect(show(1e-12, "volume")).toBe("0.0"); // what is left of a sum
  expect(show(1e-12, "flow")).toBe("0.0");
});

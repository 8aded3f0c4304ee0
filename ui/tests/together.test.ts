import { tableFromArrays, tableToIPC } from "apache-arrow";
import { describe, expect, it } from "vitest";
import { StormSeries } from "../src/document/series";
import { csvOf } from "../src/views/Together";

describe("several elements as CSV", () => {
  const bytes = tableToIPC(
    tableFromArrays({
      time: Float32Array.of(0, 60),
      rain: Float32Array.of(0, 0),
      "flow:a": Float32Array.of(0.01, 0.02),
      "flow:b": Float32Array.of(0, -0.001),
    }),
  );
  const series = new StormSeries(bytes.buffer as ArrayBuffer);
  it("has a row for each moment in the units that are read", () => {
    const text = csvOf(series, ["a", "b"], "flow", (id) => ({ a: "A1–A2", b: 'B "x"' })[id] ?? "");
    expect(text.split("\n")).toEqual([
      'time s,"A1–A2 flow L/s","B ""x"" flow L/s"',
      "0.0,10.0000,0.0000",
      "60.0,20.0000,-1.0000",
    ]);
  });
  it("lets no name begin a formula", () => {
    expect(csvOf(series, ["a"], "flow", () => "=1+1").split("\n")[0]).toBe('time s,"\'=1+1 flow L/s"');
  });
});

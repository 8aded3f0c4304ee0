import { describe, expect, it } from "vitest";
import { blocksOf, countOf, freshName } from "../src/document/stormBlocks";
import type { Rain, StormBlock } from "../src/document/types";

const BLOCK: StormBlock = {
  durations: [15, 60, 360],
  probabilities: [
    { return_period: 2, allowance: 0 },
    { return_period: 100, allowance: 0.4 },
  ],
  seasons: [{ name: "winter", shape: { kind: "block" } }],
  patterns: [
    { duration: 60, name: "1", increments: [1] },
    { duration: 60, name: "2", increments: [1] },
    { duration: 720, name: "1", increments: [1] },
  ],
  pattern_source: "",
};

describe("blocks of storms", () => {
  it("count seasons in every duration and patterns in theirs alone", () => {
    expect(countOf(BLOCK)).toBe(2 * (3 + 2));
    expect(countOf({ ...BLOCK, durations: [] })).toBe(0);
  });
  it("say where they and their rainfall are kept", () => {
    const table = { kind: "formula", rows: [], source: "hill" } as const;
    const valley = { kind: "formula", rows: [], source: "valley" } as const;
    const rain = {
      rainfall: valley,
      ensemble: { ...BLOCK, labels: "years" },
      further: [
        { ...BLOCK, name: "hill", rainfall: table },
        { ...BLOCK, name: "more", rainfall: null },
      ],
    } as unknown as Rain;
    const [main, hill, more] = blocksOf(rain);
    expect([main?.path, main?.rainfallPath, main?.rainfall]).toEqual(["/rain/ensemble", "/rain/rainfall", valley]);
    expect([hill?.path, hill?.rainfallPath, hill?.rainfall]).toEqual([
      "/rain/further/0",
      "/rain/further/0/rainfall",
      table,
    ]);
    expect([more?.inherits, more?.rainfallPath, more?.rainfall]).toEqual([true, "/rain/rainfall", valley]);
  });
  it("take a name that is not taken", () => {
    expect(freshName("storm", ["storm 1", "storm 3"])).toBe("storm 2");
  });
});

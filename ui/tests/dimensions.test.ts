import { describe, expect, it } from "vitest";
import type { Basin, Storage } from "../src/document/types";
import { dimensionsOf, scaled } from "../src/fields/Dimensions";

const storage = (form: "pond" | "tank", areas: [number, number][]) =>
  ({
    kind: "storage",
    form,
    invert: 1,
    cover: 3,
    table: areas.map(([depth, area]) => ({ depth, area })),
  }) as unknown as Storage;

describe("a store by its dimensions", () => {
  it("begins with what its table says: a square whose sides rise as the areas do", () => {
    const found = dimensionsOf(
      storage("pond", [
        [0, 100],
        [2, 484],
      ]),
    );
    expect(found).toMatchObject({ at: "base", length: 10, width: 10, slope: 3, depth: 2, unknown: "volume" });
  });

  it("of a tank has upright sides", () => {
    expect(dimensionsOf(storage("tank", [[0, 81]]))).toMatchObject({ length: 9, width: 9, slope: 0, depth: 2 });
  });

  it("of a basin keeps its outline", () => {
    const base = [
      [0, 0],
      [10, 0],
      [10, 6],
    ];
    const basin = { kind: "basin", invert: 1, cover: 2.5, side_slope: 4, base } as unknown as Basin;
    expect(dimensionsOf(basin)).toMatchObject({ ring: base, slope: 4, depth: 1.5 });
  });

  it("grows about its middle", () => {
    const ring: [number, number][] = [
      [0, 0],
      [4, 0],
      [4, 2],
      [0, 2],
    ];
    expect(scaled(ring, 2)).toEqual([
      [-2, -1],
      [6, -1],
      [6, 3],
      [-2, 3],
    ]);
  });
});

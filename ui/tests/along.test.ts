import { describe, expect, it } from "vitest";
import { AlongSeries, type Station, valueAt } from "../src/document/along";
import { surfaceOf } from "../src/views/section/surface";
import { stream } from "./stream";

const TIME = [0, 10];
const series = new AlongSeries(
  stream(
    {
      time: TIME,
      "water:p:0": [10.1, 10.3],
      "water:p:1": [10, 10.2],
      "water:p:2": [9.9, 10],
      "energy:p:0": [10.2, 10.4],
      "energy:p:1": [10.1, 10.3],
      "energy:p:2": [10, 10.1],
    },
    { chainage: JSON.stringify({ p: [0, 25, 50] }) },
  ),
);

describe("what stands along a conduit", () => {
  it("is told at its ends and the middles of its cells, between frames", () => {
    const water = series.at("water", "p", 5);
    expect(water.map(([c]) => c)).toEqual([0, 25, 50]);
    for (const [k, z] of [10.2, 10.1, 9.95].entries()) expect(water[k]?.[1]).toBeCloseTo(z, 5);
    expect(series.highest("p")[2]?.[1]).toBeCloseTo(10, 5);
    expect(series.at("energy", "p", 0)[0]?.[1]).toBeCloseTo(10.2, 5);
    expect(series.at("water", "unknown", 0)).toEqual([]);
  });

  it("is straight between them", () => {
    const stations: Station[] = [
      [0, 2],
      [25, 1],
      [50, 0.5],
    ];
    expect([0, 12.5, 25, 40, 50, 60].map((c) => valueAt(stations, c))).toEqual([2, 1.5, 1, 0.7, 0.5, 0.5]);
    expect(valueAt([], 1)).toBeNaN();
  });
});

describe("a surface over a run", () => {
  const conduit = (id: string) => ({ id, link: { kind: "pipe" } });
  const frame = {
    links: [conduit("p"), conduit("q"), { id: "w", link: { kind: "weir" } }, conduit("r")],
    ids: ["a", "b", "c", "d", "o"],
    nodes: ["manhole", "manhole", "storage", "manhole", "outfall"].map((kind) => ({ kind })),
    chainage: [0, 50, 100, 106, 156],
  } as unknown as Parameters<typeof surfaceOf>[0];
  const of = (levels: Record<string, Station[]>) =>
    surfaceOf(
      frame,
      (id) => levels[id] ?? [],
      () => 7,
    );

  it("runs on through a node that both conduits meet at one level, to the outfall", () => {
    const lines = of({
      p: [
        [0, 9],
        [25, 8.5],
        [50, 8],
      ],
      q: [
        [0, 8],
        [50, 7],
      ],
      r: [
        [0, 7],
        [50, 6.5],
      ],
    });
    expect(lines).toEqual([
      [
        [0, 9],
        [25, 8.5],
        [50, 8],
        [100, 7],
      ],
      [
        [106, 7],
        [156, 6.5],
      ],
    ]);
  });

  it("is broken where water pours down into a node, and across a control", () => {
    const lines = of({
      p: [
        [0, 9],
        [50, 8.4],
      ],
      q: [
        [0, 8],
        [50, 7],
      ],
      r: [
        [0, 7],
        [50, 6.5],
      ],
    });
    expect(lines.map((line) => line[0])).toEqual([
      [0, 9],
      [50, 8],
      [106, 7],
    ]);
  });

  it("is a level of its own at a node that no conduit of the run joins; an outfall has none", () => {
    expect(of({})).toEqual([[[0, 7]], [[50, 7]], [[100, 7]], [[106, 7]]]);
    expect(
      of({
        p: [
          [0, 9],
          [50, 8],
        ],
      }).slice(1),
    ).toEqual([[[100, 7]], [[106, 7]]]);
  });
});

import { describe, expect, it } from "vitest";
import type { Network } from "../src/document/types";
import { offsetOf, turned } from "../src/views/three/Camera";
import { pointOf } from "../src/views/three/Panel";
import {
  controlsOf,
  floodRadius,
  groundAt,
  piecesOf,
  radiusAt,
  ringsOf,
  type Surface,
  sceneOf,
} from "../src/views/three/place";

const manhole = (x: number, y: number, invert: number) => ({
  kind: "manhole",
  name: "M",
  x,
  y,
  cover: 12,
  invert,
  ponded_area: 100,
});
const pond = {
  kind: "storage",
  form: "pond",
  name: "P",
  x: 200,
  y: 0,
  invert: 8,
  cover: 10,
  table: [
    { depth: 0, area: Math.PI * 100 },
    { depth: 2, area: Math.PI * 400 },
  ],
};
const NETWORK = {
  nodes: { a: manhole(0, 0, 10), b: manhole(100, 100, 9), p: pond },
  links: {
    ab: {
      kind: "pipe",
      name: "AB",
      upstream: "a",
      downstream: "b",
      length: 200,
      bends: [[0, 100]],
      upstream_invert: 10,
      downstream_invert: 9,
      section: { shape: "circular", diameter: 0.4 },
    },
    bp: { kind: "orifice", name: "BP", upstream: "b", downstream: "p", invert: 9 },
  },
  catchments: {},
} as unknown as Network;

describe("a network in 3D", () => {
  it("stands round its middle, over its lowest bed, drawn higher on request", () => {
    const scene = sceneOf(NETWORK, 10);
    expect(scene.middle).toEqual([100, 50]);
    expect(scene.base).toBe(8);
    expect(scene.span).toBe(200);
    expect(scene.at(100, 50, 9)).toEqual([0, 0, 10]);
    expect(sceneOf(NETWORK, 1).at(0, 0, 12)).toEqual([-100, -50, 4]);
  });
  it("has a piece for each stretch between bends, its bed going on evenly", () => {
    const pieces = piecesOf(NETWORK);
    expect(pieces.map((p) => [p.id, p.beds, p.along])).toEqual([
      ["ab", [10, 9.5], [0, 0.5]],
      ["ab", [9.5, 9], [0.5, 1]],
    ]);
    expect(pieces[0]?.height).toBe(0.4);
    expect(controlsOf(NETWORK).map((c) => c.id)).toEqual(["bp"]);
  });
});

describe("a store in 3D", () => {
  it("is a bowl of equal areas", () => {
    const rings = ringsOf(pond as never);
    expect(rings).toEqual([
      { level: 8, radius: expect.closeTo(10) },
      { level: 10, radius: expect.closeTo(20) },
    ]);
    expect(radiusAt(rings, 9)).toBeCloseTo(15);
    expect(radiusAt(rings, 7)).toBeCloseTo(10);
    expect(radiusAt(rings, 11)).toBeCloseTo(20);
  });
  it("opens by its side slope, goes up straight with one area, holds stone in a box", () => {
    const square = [
      [0, 0],
      [10, 0],
      [10, 10],
      [0, 10],
    ];
    const basin = ringsOf({ ...pond, kind: "basin", base: square, side_slope: 3 } as never);
    expect((basin[1]?.radius ?? 0) - (basin[0]?.radius ?? 0)).toBeCloseTo(6);
    const shaft = ringsOf({ ...pond, table: [{ depth: 0, area: 50 }] } as never);
    expect(shaft.map((r) => r.level)).toEqual([8, 10]);
    expect(shaft[0]?.radius).toBe(shaft[1]?.radius);
    const stone = ringsOf({ ...pond, kind: "stone", length: 20, width: 5 } as never);
    expect(Math.PI * (stone[0]?.radius ?? 0) ** 2).toBeCloseTo(100);
  });
});

describe("a flood in 3D", () => {
  it("is as wide as its ground, and never too small to see", () => {
    expect(Math.PI * floodRadius(NETWORK.nodes.a as never) ** 2).toBeCloseTo(100);
    expect(Math.PI * floodRadius({ ...NETWORK.nodes.a, ponded_area: 0 } as never) ** 2).toBeCloseTo(12);
    expect(floodRadius(pond as never)).toBeCloseTo(20);
    expect(floodRadius({ kind: "outfall" } as never)).toBe(0);
  });
});

describe("the ground in 3D", () => {
  const surface: Surface = {
    west: 0,
    south: 0,
    cell: 10,
    levels: [
      [1, 2],
      [3, 4],
    ],
  };
  it("is between its meshes, and unknown beyond", () => {
    expect(groundAt(surface, 5, 5)).toBeCloseTo(2.5);
    expect(groundAt(surface, 0, 9.999)).toBeCloseTo(3, 2);
    expect(groundAt(surface, 50, 5)).toBeNaN();
  });
});

describe("the sight", () => {
  it("turns by arrow keys, within what can be seen", () => {
    expect(turned({ from: 355, tilt: 30 }, "ArrowLeft")).toEqual({ from: 5, tilt: 30 });
    expect(turned({ from: 5, tilt: 30 }, "ArrowRight")).toEqual({ from: 355, tilt: 30 });
    expect(turned({ from: 0, tilt: 87 }, "ArrowUp")?.tilt).toBe(89);
    expect(turned({ from: 0, tilt: -14 }, "ArrowDown")?.tilt).toBe(-15);
    expect(turned({ from: 0, tilt: 0 }, "x")).toBeNull();
  });
  it("stands off by its distance, south of what it looks at when seen from the south", () => {
    const [x, y, z] = offsetOf({ from: 180, tilt: 30 }, 100);
    expect(x).toBeCloseTo(0);
    expect(y).toBeCloseTo(-100 * Math.cos(Math.PI / 6));
    expect(z).toBeCloseTo(50);
  });
  it("is named by the nearest point of the compass", () => {
    expect([0, 44, 46, 193, 359, -90].map(pointOf)).toEqual(["N", "NE", "NE", "S", "N", "W"]);
  });
});

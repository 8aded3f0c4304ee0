import { expect, test } from "vitest";
import { snapped } from "../src/document/snap";
import type { Network, Point, Project } from "../src/document/types";

const project = {
  backdrop: [
    {
      kind: "path",
      name: "",
      points: [
        [0, 0],
        [100, 0],
      ],
    },
    {
      kind: "path",
      name: "",
      points: [
        [50, -50],
        [50, 50],
      ],
    },
    {
      kind: "building",
      name: "",
      points: [
        [10, 10],
        [30, 10],
        [30, 30],
      ],
    },
  ],
} as unknown as Project;
const network = {
  nodes: {
    n: { kind: "manhole", x: 80, y: 1 },
    p: {
      kind: "basin",
      base: [
        [200, 0],
        [220, 0],
        [220, 20],
      ],
      rim: [],
    },
  },
  links: {},
  catchments: {
    c: {
      polygon: [
        [300, 0],
        [310, 0],
        [310, 10],
      ],
    },
  },
} as unknown as Network;
const at = (place: Point, but: string | null = null) =>
  snapped(project, network, place, 2, but).map((v) => Number(v.toFixed(6)));

test("a place is drawn to a node or a corner first, then to a crossing, then to an edge", () => {
  expect(at([80.4, 0.2])).toEqual([80, 1]); // the path is nearer, the node goes before it
  expect(at([29, 11])).toEqual([30, 10]);
  expect(at([50.9, 1.1])).toEqual([50, 0]); // both paths cross here, and neither has a corner
  expect(at([20, 8.5])).toEqual([20, 10]);
  expect(at([20.5, 19])).toEqual([19.75, 19.75]); // the building is closed
  expect(at([20, 5])).toEqual([20, 5]);
});

test("ponds and catchments draw it too, but not the one whose corner it is", () => {
  expect(at([219, 1])).toEqual([220, 0]);
  expect(at([309.5, 9])).toEqual([310, 10]);
  expect(at([219, 1], "p")).toEqual([219, 1]);
});

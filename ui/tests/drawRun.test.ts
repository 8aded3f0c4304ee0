import { describe, expect, it } from "vitest";
import { drawRun, nextName } from "../src/document/drawRun";
import type { Change } from "../src/document/store";
import type { Catalogue, Defaults, Network } from "../src/document/types";

const DEFAULTS: Defaults = { gradient: 0.01, diameter: 0.225, material: "clay", roughness: 0.013, cover: 1 };
const PARTS: Catalogue = {
  pipes: [
    { name: "clay", roughness: 0.012, diameters: [0.15, 0.225, 0.3] },
    { name: "concrete", roughness: 0.013, diameters: [0.3, 0.45] },
  ],
  manholes: [
    { largest_pipe: 0.3, deepest: 1.5, diameter: 0.6 },
    { largest_pipe: 0.45, deepest: 3, diameter: 1.2 },
  ],
};

function network(): Network {
  const manhole = (name: string, x: number, invert: number, cover: number) => ({
    kind: "manhole",
    name,
    x,
    y: 0,
    invert,
    cover,
  });
  return {
    nodes: {
      a: manhole("A1", 0, 8.6, 10),
      b: manhole("A2", 50, 8.1, 9.8),
      o: { kind: "outfall", name: "O1", x: 90, y: 0, invert: 7.2, ground: 9 },
    },
    links: {
      p: {
        kind: "pipe",
        name: "A1–A2",
        upstream: "a",
        downstream: "b",
        length: 50,
        upstream_invert: 8.6,
        downstream_invert: 8.1,
        section: { shape: "circular", diameter: 0.3 },
      },
    },
    catchments: {},
  } as unknown as Network;
}

const ids = () => {
  let k = 0;
  return () => `new${++k}`;
};
const value = (changes: Change[], part: string) =>
  changes.find((c) => c.path.includes(part))?.value as Record<string, unknown>;

describe("a run of pipes", () => {
  it("begins with a manhole under enough ground", () => {
    const { changes, at } = drawRun(network(), "/n", DEFAULTS, PARTS, null, { x: 10, y: 40 }, null, ids());
    expect(at).toBe("new1");
    expect(changes).toHaveLength(1);
    expect(value(changes, "nodes")).toMatchObject({ cover: 10, invert: 8.775 });
  });
  it("goes on by the gradient, numbers on, and never lays a smaller pipe", () => {
    const { changes } = drawRun(network(), "/n", DEFAULTS, PARTS, "b", { x: 50, y: 30 }, null, ids());
    expect(value(changes, "nodes")).toMatchObject({ name: "A3", invert: 7.8 });
    expect(value(changes, "links")).toMatchObject({
      name: "A2–A3",
      length: 30,
      upstream_invert: 8.1,
      downstream_invert: 7.8,
      section: { shape: "circular", diameter: 0.3 },
    });
  });
  it("digs deeper where the ground over the pipe would be too little", () => {
    const { changes } = drawRun(network(), "/n", { ...DEFAULTS, cover: 2 }, PARTS, "b", { x: 50, y: 30 }, null, ids());
    expect(value(changes, "nodes")).toMatchObject({ invert: 7.5 });
  });
  it("takes the ground from a terrain where one tells it", () => {
    const { changes } = drawRun(network(), "/n", DEFAULTS, PARTS, "b", { x: 50, y: 30 }, 8.5, ids());
    expect(value(changes, "nodes")).toMatchObject({ cover: 8.5, invert: 7.2 });
  });
  it("ends on a node that is there, not below its invert", () => {
    const { changes, at } = drawRun(network(), "/n", DEFAULTS, PARTS, "b", { node: "o" }, null, ids());
    expect(at).toBe("o");
    expect(changes).toHaveLength(1);
    expect(value(changes, "links")).toMatchObject({ downstream: "o", downstream_invert: 7.7 });
  });
  it("begins at a node without changing it", () => {
    expect(drawRun(network(), "/n", DEFAULTS, PARTS, null, { node: "b" }, null, ids())).toEqual({
      changes: [],
      at: "b",
    });
  });
  it("follows a pipe that is there without drawing another", () => {
    expect(drawRun(network(), "/n", DEFAULTS, PARTS, "a", { node: "b" }, null, ids())).toEqual({
      changes: [],
      at: "b",
    });
  });
  it("names on behind those that are taken", () => {
    expect(nextName(network(), "A1")).toBe("A3");
    expect(nextName(network(), "Head")).toBe("Head2");
  });
});

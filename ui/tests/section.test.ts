import { describe, expect, it } from "vitest";
import { joining, passing } from "../src/document/beside";
import { ladderOf, nextSize, ringFor } from "../src/document/catalogue";
import type { Catalogue, Network, Pipe } from "../src/document/types";
import { wayThrough } from "../src/kinds/path";
import { frameOf } from "../src/views/section/frame";
import { stretchOf } from "../src/views/section/RunShape";

const node = (name: string, x: number, y: number) => ({ kind: "manhole", name, x, y, cover: 12, invert: 9 });
const pipe = (upstream: string, downstream: string, up: number, down: number, d = 0.3) => ({
  kind: "pipe",
  name: `${upstream}${downstream}`,
  upstream,
  downstream,
  length: 100,
  bends: [],
  upstream_invert: up,
  downstream_invert: down,
  section: { shape: "circular", diameter: d },
});
const NETWORK = {
  nodes: {
    a: node("A", 0, 0),
    b: node("B", 100, 0),
    c: node("C", 200, 0),
    side: node("S", 100, 60),
    n: node("N", 150, 50),
    s: node("T", 150, -50),
  },
  links: {
    ab: pipe("a", "b", 10, 9.5),
    bc: pipe("b", "c", 9.5, 9),
    sb: pipe("side", "b", 10.5, 10),
    ns: pipe("n", "s", 8, 7),
  },
  catchments: {},
} as unknown as Network;

describe("a way through nodes", () => {
  it("goes with the water, in whatever order they were picked", () => {
    expect(wayThrough(NETWORK, ["c", "a"])).toEqual(["ab", "bc"]);
    expect(wayThrough(NETWORK, ["b", "c", "side"])).toEqual(["sb", "bc"]);
    expect(wayThrough(NETWORK, ["a", "side"])).toBeNull();
    expect(wayThrough(NETWORK, ["a"])).toBeNull();
  });
});

describe("beside a run", () => {
  const frame = frameOf(NETWORK, ["ab", "bc"], 600, 300, 4);
  it("stands what joins its nodes", () => {
    expect(joining(NETWORK, ["ab", "bc"], frame?.ids ?? [], frame?.chainage ?? [])).toEqual([
      { id: "sb", name: "sideb", chainage: 100, bed: 10, height: 0.3 },
    ]);
  });
  it("stands what passes, at its level where they cross", () => {
    expect(passing(NETWORK, ["ab", "bc"], frame?.chainage ?? [])).toEqual([
      { id: "ns", name: "ns", chainage: 150, bed: 7.5, height: 0.3 },
    ]);
  });
  it("has a frame only while all of it is there", () => {
    expect(frame?.chainage).toEqual([0, 100, 200]);
    expect(frameOf({ ...NETWORK, nodes: {} }, ["ab"], 600, 300, 4)).toBeNull();
    expect(frameOf(NETWORK, [], 600, 300, 4)).toBeNull();
  });
});

describe("the stretch whose levels are set", () => {
  const path = ["ab", "bc"];
  it("is what is picked in a row, or all around the picked one", () => {
    expect(stretchOf(NETWORK, path, "bc", new Set(["bc"]))).toEqual(["ab", "bc"]);
    expect(stretchOf(NETWORK, path, "ab", new Set(["ab", "bc"]))).toEqual(["ab", "bc"]);
  });
  it("ends at a control", () => {
    const weir = { kind: "weir", name: "W", upstream: "b", downstream: "c", crest: 10 };
    const cut = { ...NETWORK, links: { ...NETWORK.links, bc: weir } } as unknown as Network;
    expect(stretchOf(cut, path, "ab", new Set())).toEqual(["ab"]);
  });
});

describe("lists of parts", () => {
  const parts: Catalogue = {
    pipes: [
      { name: "clay", roughness: 0.012, diameters: [0.15, 0.225, 0.3] },
      { name: "concrete", roughness: 0.013, diameters: [0.3, 0.45] },
    ],
    manholes: [
      { largest_pipe: 0.3, deepest: 1.5, diameter: 0.6 },
      { largest_pipe: 0.45, deepest: 3, diameter: 1.2 },
    ],
  };
  const of = (diameter: number, material: string | null) =>
    ({ kind: "pipe", material, section: { shape: "circular", diameter } }) as unknown as Pipe;
  it("step through the sizes of a material, or of all", () => {
    expect(nextSize(parts, of(0.225, "clay"), 1)).toBe(0.3);
    expect(nextSize(parts, of(0.3, "clay"), 1)).toBeNull();
    expect(nextSize(parts, of(0.3, null), 1)).toBe(0.45);
    expect(nextSize(parts, of(0.2, "clay"), -1)).toBe(0.15);
    expect(ladderOf(parts, "iron")).toEqual([0.15, 0.225, 0.3, 0.45]);
    for (const { name, diameters } of parts.pipes) expect(ladderOf(parts, ` ${name.toUpperCase()}`)).toEqual(diameters);
  });
  it("give the first ring that suits pipe and depth", () => {
    expect(ringFor(parts, 0.3, 1.5)).toBe(0.6);
    expect(ringFor(parts, 0.3, 2)).toBe(1.2);
    expect(ringFor(parts, 0.6, 1)).toBeNull();
  });
});

import { describe, expect, it } from "vitest";
import { readClip, writeClip } from "../src/document/clip";
import { areaOf, courseOf, lengthOf, linkNear, nearestOn } from "../src/document/course";
import { centred, copied, goesAlso, middleOf, mirrored, moved, touched, turned } from "../src/document/selection";
import type { Conduit, Network } from "../src/document/types";
import { walk } from "../src/document/walk";
import { matching } from "../src/tables/query";

const conduit = (
  upstream: string,
  downstream: string,
  name: string,
  length: number,
  bends: [number, number][] = [],
) => ({
  kind: "pipe",
  name,
  upstream,
  downstream,
  length,
  bends,
  upstream_invert: 10,
  downstream_invert: 9,
  entry_loss: 0,
  exit_loss: 0,
  bend_loss: 0,
  flap: false,
  section: { shape: "circular", diameter: name === "A–B" ? 0.3 : 0.225 },
});
const NETWORK = {
  nodes: {
    a: { kind: "manhole", name: "A", x: 0, y: 0, cover: 12, invert: 10 },
    b: { kind: "manhole", name: "B", x: 40, y: 0, cover: 12, invert: 9 },
    c: { kind: "inlet", name: "C", x: 40, y: 30, cover: 12, invert: 8, capacity: 0.1, bypass: "a" },
  },
  links: { p: conduit("a", "b", "A–B", 40), q: conduit("b", "c", "B–C", 55, [[60, 15]]) },
  catchments: {
    r: {
      name: "Roof",
      area: 100,
      node: "b",
      polygon: [
        [0, 0],
        [10, 0],
        [10, 10],
        [0, 10],
      ],
    },
  },
} as unknown as Network;
describe("courses", () => {
  it("run over their bends", () => {
    const course = courseOf(NETWORK, NETWORK.links.q as Conduit);
    expect(course).toEqual([
      [40, 0],
      [60, 15],
      [40, 30],
    ]);
    expect(lengthOf(course)).toBe(50);
    expect(nearestOn(course, 60, 16)).toMatchObject({ segment: 1, share: expect.closeTo(0.512, 3) });
  });
  it("enclose an area either way round", () => {
    const ring: [number, number][] = [
      [0, 0],
      [4, 0],
      [4, 3],
    ];
    expect(areaOf(ring)).toBe(6);
    expect(areaOf([...ring].reverse())).toBe(6);
  });
  it("are found beneath a click, not at their ends", () => {
    expect(linkNear(NETWORK, 10, 1.5, 2)).toEqual({ id: "p", share: 0.25 });
    expect(linkNear(NETWORK, 10, 2.5, 2)).toBeNull();
    expect(linkNear(NETWORK, 0.1, 0, 2)).toBeNull();
  });
});

describe("what is picked", () => {
  it("is shown where it is dragged; bends go along where both ends do", () => {
    const both = moved(NETWORK, new Set(["b", "c"]), 5, 5);
    expect(both.links.q).toMatchObject({ bends: [[65, 20]] });
    expect(both.nodes.c).toMatchObject({ x: 45, y: 35 });
    expect(moved(NETWORK, new Set(["c"]), 5, 5).links.q).toBe(NETWORK.links.q);
    expect(moved(NETWORK, new Set(["r"]), 1, 0).catchments.r?.polygon[0]).toEqual([1, 0]);
    expect(Object.keys(touched(NETWORK, new Set(["a"])).nodes)).toEqual(["a", "b"]);
  });
  it("says which links go with it", () => {
    expect(goesAlso(NETWORK, new Set(["a"]))).toEqual(["A–B"]);
    expect(goesAlso(NETWORK, new Set(["b", "p"]))).toEqual(["B–C"]);
    expect(goesAlso(NETWORK, new Set(["r"]))).toEqual([]);
  });
  it("is copied with the nodes of its links, to the middle of a place", () => {
    const clip = readClip(writeClip(copied(NETWORK, new Set(["p", "r"])))) as Network;
    expect(Object.keys(clip.nodes)).toEqual(["a", "b"]);
    expect(clip.catchments.r?.node).toBe("b");
    expect(centred(clip, 100, 50).nodes.a).toMatchObject({ x: 80, y: 45 });
  });
  it("lets go of what a copy names outside itself", () => {
    expect(copied(NETWORK, new Set(["c"])).nodes.c).toMatchObject({ bypass: null });
    expect(copied(NETWORK, new Set(["r"])).catchments.r).toMatchObject({ node: null, over: null });
    expect(copied(NETWORK, new Set(["a", "c"])).nodes.c).toMatchObject({ bypass: "a" });
  });
  it("is mirrored and turned about its middle", () => {
    const middle = middleOf(NETWORK);
    expect(middleOf(mirrored(NETWORK))).toEqual(middle);
    expect(mirrored(NETWORK).nodes.a).toMatchObject({ x: 40, y: 0 });
    expect(turned(NETWORK, 180).nodes.a?.x).toBeCloseTo(40, 9);
    expect(turned(NETWORK, 180).nodes.a?.y).toBeCloseTo(30, 9);
  });
  it("is not read from a foreign clipboard", () => {
    for (const text of ["", "3\t4", '{"format":"madidus-elements"}', "madidus-elements {"])
      expect(typeof readClip(text)).toBe("string");
  });
});

describe("a question of a kind of element", () => {
  const ask = (relation: string, value: string, column = "section") =>
    matching(NETWORK, { table: "pipes", column, relation: relation as "<", value });
  it("compares in the unit that is typed", () => {
    expect(ask("<", "300")).toEqual(["q"]);
    expect(ask("≥", "0.3 m")).toEqual(["p"]);
    expect(ask("=", "225")).toEqual(["q"]);
    expect(ask(">", "12 in")).toEqual([]);
  });
  it("looks for words", () => {
    expect(ask("contains", "a–", "name")).toEqual(["p"]);
    expect(ask("=", "B", "upstream")).toEqual(["q"]);
    expect(ask("<", "")).toEqual([]);
  });
});

describe("arrows on the plan", () => {
  it("go with the water, against it and to links beside", () => {
    expect(walk(NETWORK, "a", "ArrowRight")).toBe("p");
    expect(walk(NETWORK, "p", "ArrowRight")).toBe("b");
    expect(walk(NETWORK, "b", "ArrowLeft")).toBe("p");
    expect(walk(NETWORK, "p", "ArrowDown")).toBe("p");
    expect(walk(NETWORK, "r", "ArrowLeft")).toBe("b");
    expect(walk(NETWORK, null, "ArrowLeft")).toBe("a");
  });
});

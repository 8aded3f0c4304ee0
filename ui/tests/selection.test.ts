import { applyPatch } from "fast-json-patch";
import { describe, expect, it } from "vitest";
import { readClip, writeClip } from "../src/document/clip";
import { areaOf, courseOf, lengthOf, nearestOn } from "../src/document/course";
import { matching } from "../src/document/query";
import { redraw, reroute, split } from "../src/document/reshape";
import { centred, copied, middleOf, mirrored, move, pasted, removal, turned } from "../src/document/selection";
import type { Change } from "../src/document/store";
import type { Conduit, Network } from "../src/document/types";
import { walk } from "../src/document/walk";

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
const applied = (changes: Change[]) =>
  (
    applyPatch({ n: NETWORK } as never, structuredClone(changes) as never, true, false).newDocument as unknown as {
      n: Network;
    }
  ).n;
const numbered = () => {
  let k = 0;
  return () => `new${k++}`;
};

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
  it("are redrawn: a length that follows goes on, a typed one overrules", () => {
    const bent = applied(redraw(NETWORK, "/n", "p", [[20, 15]]));
    expect(bent.links.p).toMatchObject({ bends: [[20, 15]], length: 50 });
    expect(applied(redraw(NETWORK, "/n", "q", [])).links.q).toMatchObject({ bends: [], length: 55 });
  });
  it("keep their bends on either side of a cut", () => {
    const cut = applied(split(NETWORK, "/n", { id: "q", share: 0.75 }, { name: "N" }, numbered()).changes);
    expect(cut.nodes.new0).toMatchObject({ x: 50, y: 22.5 });
    expect(cut.links.q).toMatchObject({ bends: [[60, 15]], length: 41.25 });
    expect(cut.links.new1).toMatchObject({ bends: [], length: 13.75 });
  });
  it("lead elsewhere: name, length and the invert at a node's bottom follow", () => {
    const led = applied(reroute(NETWORK, "/n", "p", "downstream", "c"));
    expect(led.links.p).toMatchObject({ downstream: "c", name: "A–C", length: 50, downstream_invert: 8 });
  });
});

describe("what is picked", () => {
  it("moves with its pipes; bends go along where both ends do", () => {
    const one = applied(move(NETWORK, "/n", new Set(["a"]), -10, 0));
    expect(one.links.p).toMatchObject({ length: 50 });
    const both = applied(move(NETWORK, "/n", new Set(["b", "c"]), 5, 5));
    expect(both.links.q).toMatchObject({ bends: [[65, 20]], length: 55 });
    expect(both.nodes.c).toMatchObject({ x: 45, y: 35 });
    const ground = applied(move(NETWORK, "/n", new Set(["r"]), 1, 0));
    expect(ground.catchments.r?.polygon[0]).toEqual([1, 0]);
  });
  it("goes with the links of its nodes; what names it elsewhere is let go", () => {
    const { changes, also } = removal(NETWORK, "/n", ["a"]);
    expect(also).toEqual(["A–B"]);
    expect(changes).toEqual([
      { op: "remove", path: "/n/links/p" },
      { op: "replace", path: "/n/nodes/c/bypass", value: null },
      { op: "remove", path: "/n/nodes/a" },
    ]);
    const all = applied(removal(NETWORK, "/n", ["a", "b", "c", "r"]).changes);
    expect(all).toEqual({ nodes: {}, links: {}, catchments: {} });
  });
  it("is copied with the nodes of its links and pasted under names of its own", () => {
    const clip = readClip(writeClip(copied(NETWORK, new Set(["p", "r"])))) as Network;
    expect(Object.keys(clip.nodes)).toEqual(["a", "b"]);
    const { changes, ids } = pasted(NETWORK, "/n", centred(clip, 100, 50), numbered());
    const after = applied(changes);
    expect(ids).toHaveLength(4);
    const pipe = Object.values(after.links).find((link) => link.name === "A2–B2") as Conduit;
    expect(after.nodes[pipe.upstream]).toMatchObject({ name: "A2", x: 80 });
    expect(Object.values(after.catchments)[1]).toMatchObject({ name: "Roof2", node: pipe.downstream });
  });
  it("lets go of what a copy names outside itself", () => {
    const { changes } = pasted(NETWORK, "/n", copied(NETWORK, new Set(["c"])), numbered());
    expect(changes[0]?.value).toMatchObject({ bypass: null });
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

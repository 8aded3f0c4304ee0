import { describe, expect, it } from "vitest";
import type { Answer } from "../src/api/client";
import { areasAt, doneOf, firstArea, lastOf, outfallAt } from "../src/document/firstRun";
import type { Network, Project } from "../src/document/types";
import { becomes } from "../src/kinds";

const node = (kind: string, name: string) => ({ kind, name, x: 0, y: 0 });
const network = {
  nodes: { a: node("manhole", "M1"), b: node("manhole", "M2"), s: node("storage", "P") },
  links: { l: { kind: "pipe", name: "M1–M2", upstream: "a", downstream: "b" } },
  catchments: { c: { name: "yard", node: "b", over: null }, d: { name: "lost", node: null, over: null } },
} as unknown as Network;
const none = { nodes: {}, links: {}, catchments: {} } as unknown as Network;
const project = (rain: object, rules: object[] = []) =>
  ({
    rain: { rainfall: null, given: [], further: [], ensemble: { durations: [], probabilities: [] }, ...rain },
    brief: { rules },
  }) as unknown as Project;

describe("what a first verdict needs", () => {
  it("is all open on a blank sheet", () => {
    expect(Object.values(doneOf(project({}), none, null)).some(Boolean)).toBe(false);
  });

  it("fills itself as things are put there", () => {
    const done = doneOf(project({}), network, null);
    expect([done.run, done.outfall, done.area]).toEqual([true, false, true]);
    const drained = { ...network, nodes: { ...network.nodes, b: node("outfall", "O") } } as unknown as Network;
    expect(doneOf(project({}), drained, null).outfall).toBe(true);
    const storms = { rainfall: { kind: "table" }, ensemble: { durations: [15], probabilities: [{}] } };
    expect(doneOf(project(storms), none, null).rain).toBe(true);
    expect(doneOf(project({ ...storms, rainfall: null }), none, null).rain).toBe(false);
    expect(doneOf(project({ given: [{}] }), none, null).rain).toBe(true);
    expect(doneOf(project({}, [{ asked: false }]), none, null).rule).toBe(false);
  });

  it("has a verdict only where every rule that is asked was judged", () => {
    const answer = (...states: string[]) =>
      ({ verdicts: states.map((state) => ({ asked: true, state })) }) as unknown as Answer;
    expect(doneOf(project({}), none, answer("meets", "fails")).verdict).toBe(true);
    expect(doneOf(project({}), none, answer("meets", "not judged")).verdict).toBe(false);
    expect(doneOf(project({}), none, answer()).verdict).toBe(false);
  });
});

describe("remedies", () => {
  it("end the network where nothing leaves, and lead what drains there to the node above", () => {
    expect(lastOf(network)).toBe("b");
    expect(lastOf(none)).toBeNull();
    expect(outfallAt(network, "b")).toEqual([
      { edit: "set", element: "c", field: "node", value: "a" },
      { edit: "change kind", element: "b", drawn: "outfall" },
    ]);
  });

  it("give an area to every shaft that nothing drains to", () => {
    expect(firstArea("us")).toBeCloseTo(464.515, 3);
    expect(areasAt(network, firstArea("metric"))).toEqual([
      { edit: "draw catchment", area: 500, fields: { node: "a", impervious: 0.6 } },
    ]);
  });
});

describe("what an element can become", () => {
  it("is of its own family, and not what it is", () => {
    const kinds = (element: object) => becomes(element as never).map(([drawn]) => drawn);
    expect(kinds({ kind: "storage", form: "tank", x: 0 })).toContain("pond");
    expect(kinds({ kind: "storage", form: "tank", x: 0 })).not.toContain("tank");
    expect(kinds({ kind: "pipe" }).sort()).toEqual(["channel", "trench"]);
    expect(kinds({ kind: "weir" })).toContain("orifice");
    expect(kinds({ kind: "weir" })).not.toContain("pipe");
    expect(becomes(undefined)).toEqual([]);
  });
});

import { describe, expect, it } from "vitest";
import type { Network } from "../src/document/types";
import { partedBy, runThrough } from "../src/kinds/path";
import { marginState, toneOf } from "../src/primitives/tone";
import { flowOrder } from "../src/views/results/flowOrder";

const node = (name: string, kind: "manhole" | "outfall" = "manhole") =>
  ({ kind, name, x: 0, y: 0, invert: 0, cover: 2, plan_area: 1, ponded_area: 1 }) as Network["nodes"][string];
const pipe = (upstream: string, downstream: string, length = 10) =>
  ({
    kind: "pipe",
    name: `${upstream}${downstream}`,
    upstream,
    downstream,
    length,
    flap: false,
    roughness: 0.013,
    section: { shape: "circular", diameter: 0.3 },
    upstream_invert: 1,
    downstream_invert: 0,
  }) as Network["links"][string];

const fork: Network = {
  nodes: { a: node("A"), b: node("B"), c: node("C"), d: node("D"), o: node("O", "outfall") },
  links: { ac: pipe("a", "c", 50), bc: pipe("b", "c", 20), cd: pipe("c", "d"), dx: pipe("d", "o") },
  catchments: {},
};

describe("network", () => {
  it("orders nodes along the flow", () => {
    const order = flowOrder(fork);
    for (const link of Object.values(fork.links))
      expect(order.indexOf(link.upstream)).toBeLessThan(order.indexOf(link.downstream));
    expect(order).toHaveLength(5);
  });
  it("follows the longest run through an element", () => {
    expect(runThrough(fork, "d")[0]).toBe("ac");
    expect(runThrough(fork, "bc")[0]).toBe("bc");
    expect(runThrough(fork, null)).toHaveLength(3);
  });
  it("says that two nodes have no way between them, and shows no other one", () => {
    expect(partedBy(fork, new Set(["a", "b"]))).toBe(
      "No way leads with the water from A to B, nor back: pick two nodes of one run.",
    );
    expect(partedBy(fork, new Set(["o", "a"]))).toBe("");
    expect(partedBy(fork, new Set(["a", "ac"]))).toBe("");
    expect(partedBy(fork, new Set(["a", "b", "c"]))).toBe("");
  });
  it("survives a loop and an empty sheet", () => {
    const loop: Network = { ...fork, links: { ...fork.links, da: pipe("d", "a") } };
    expect(flowOrder(loop)).toHaveLength(5);
    const run = runThrough(loop, "c");
    const passed = [loop.links[run[0] ?? ""]?.upstream, ...run.map((id) => loop.links[id]?.downstream)];
    expect(run.length).toBeGreaterThan(0);
    expect(new Set(passed).size).toBe(passed.length);
    expect(runThrough({ nodes: {}, links: {}, catchments: {} }, null)).toEqual([]);
  });
  it("maps margins to states, equal to the limit not failing", () => {
    expect(marginState(0, 1)).toBe("tight");
    expect(marginState(-1e-10, 1)).toBe("tight"); // the last bit decides nothing
    expect(marginState(-1e-6, 1)).toBe("fails");
    expect(marginState(0.2, 1)).toBe("meets");
    expect(marginState(null, 1)).toBe("not judged");
    expect(toneOf(-0.5, 1)).toContain("over");
  });
});

import { describe, expect, it } from "vitest";
import { freshName, LINK_KINDS, makeLink, makeNode, NODE_KINDS } from "../src/document/elements";
import type { Network } from "../src/document/types";

const NETWORK = {
  nodes: {
    a: { kind: "manhole", name: "M1", x: 0, y: 0, cover: 12, invert: 10 },
    b: { kind: "inlet", name: "G1", x: 30, y: 40, cover: 11.5, invert: 9.5, capacity: 0.01, bypass: "a" },
  },
  links: { p: { kind: "pipe", name: "L1", upstream: "a", downstream: "b", length: 50 } },
  catchments: { c: { name: "C", node: "a" } },
} as unknown as Network;

describe("drawing elements", () => {
  it("numbers them by the first free name of their kind", () => {
    expect(freshName(NETWORK, "manhole")).toBe("M2");
    expect(freshName(NETWORK, "pond")).toBe("P1");
  });
  it("takes levels from the nearest node", () => {
    for (const kind of Object.keys(NODE_KINDS) as (keyof typeof NODE_KINDS)[]) {
      const node = makeNode(NETWORK, kind, 29, 41) as { invert: number; cover?: number; ground?: number };
      expect(node.invert).toBe(9.5);
      expect(node.cover ?? node.ground).toBe(11.5);
    }
  });
  it("measures a link and gives it the inverts of its nodes", () => {
    expect(makeLink(NETWORK, "pipe", "a", "b")).toMatchObject({
      length: 50,
      upstream_invert: 10,
      downstream_invert: 9.5,
    });
    for (const kind of Object.keys(LINK_KINDS) as (keyof typeof LINK_KINDS)[])
      expect(makeLink(NETWORK, kind, "a", "b")).toMatchObject({ kind, upstream: "a", downstream: "b" });
  });
});

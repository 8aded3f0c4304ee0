import { describe, expect, it } from "vitest";
import { reach } from "../src/document/reach";
import type { Network } from "../src/document/types";

// a → b → d → e, c → b, and a loop e → d
const link = (upstream: string, downstream: string) => ({ kind: "pipe", upstream, downstream });
const network = {
  nodes: Object.fromEntries([..."abcdef"].map((name) => [name, { kind: "manhole", name }])),
  links: { ab: link("a", "b"), cb: link("c", "b"), bd: link("b", "d"), de: link("d", "e"), ed: link("e", "d") },
  catchments: { r: { node: "a" }, s: { node: "f" }, t: { node: null } },
} as unknown as Network;
const found = (element: string, way: "above" | "below") => [...reach(network, element, way)].sort().join(" ");

describe("what water passes", () => {
  it("above a node: all that drains to it, areas included", () => {
    expect(found("b", "above")).toBe("a ab b c cb r");
    expect(found("f", "above")).toBe("f s");
  });
  it("below a node: all that it drains to, loops once", () => {
    expect(found("b", "below")).toBe("b bd d de e ed");
    expect(found("e", "below")).toBe("d de e ed");
  });
  it("from a link or an area", () => {
    expect(found("bd", "above")).toBe("a ab b bd c cb r");
    expect(found("ab", "below")).toBe("ab b bd d de e ed");
    expect(found("r", "below")).toBe("a ab b bd d de e ed r");
    expect(found("t", "below")).toBe("t");
    expect(found("r", "above")).toBe("r");
  });
});

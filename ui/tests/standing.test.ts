import { describe, expect, it } from "vitest";
import { standingOn } from "../src/document/standing";
import type { Network } from "../src/document/types";

const network = {
  nodes: { a: { invert: 10 }, b: { invert: 9.5 } },
  links: {
    p: { name: "P", upstream: "a", downstream: "b", upstream_invert: 10, downstream_invert: 9.5 },
    high: { name: "H", upstream: "a", downstream: "b", upstream_invert: 10.3, downstream_invert: 9.6 },
    o: { name: "O", kind: "orifice", upstream: "b", downstream: "a", invert: 9.5 },
    w: { name: "W", kind: "weir", upstream: "b", downstream: "a", crest: 9.5 },
  },
  catchments: {},
} as unknown as Network;

describe("what stands on the invert of a node", () => {
  it("is each end there and the bottom of a control, not a crest and nothing above", () => {
    expect(standingOn(network, "a")).toEqual(["P"]);
    expect(standingOn(network, "b")).toEqual(["P", "O"]);
    expect(standingOn(network, "nowhere")).toEqual([]);
  });
});

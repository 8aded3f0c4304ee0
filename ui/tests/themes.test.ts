import { describe, expect, it } from "vitest";
import type { Answer } from "../src/api/client";
import type { Network } from "../src/document/types";
import { readIn } from "../src/document/units";
import { NOT_COMPUTED, themed } from "../src/views/plan/themes";
import type { RowResults } from "../src/views/results/elementResults";

const node = { state: "ok", level: 10, depth: 1, left: 2, flooded: 0, storm: "a", time: 60, why: null, by: null };
const link = {
  state: "ok",
  flow: 0.01,
  share: 0.6,
  speed: 0.9,
  clearance: 0.1,
  clearance_storm: "a",
  storm: "a",
  time: 1,
  why: null,
  by: null,
};
const network = {
  nodes: {
    a: { kind: "manhole", name: "M1" },
    b: { kind: "manhole", name: "M2" },
    o: { kind: "outfall", name: "O" },
  },
  links: { p: { kind: "pipe", name: "P1" }, q: { kind: "pipe", name: "P2" } },
} as unknown as Network;
const answer = {
  storms: [
    { key: "a", duration: 15, given: "" },
    { key: "b", duration: 720, given: "" },
  ],
} as unknown as Answer;
const over = (nodes: object, links: object, missing = ""): RowResults["elements"] =>
  ({ missing, nodes, links, stores: {}, outfalls: { o: {} }, pumps: {} }) as unknown as RowResults["elements"];
const both = over(
  {
    a: { ...node, state: "flooded", flooded: 8, left: -0.1 },
    b: { ...node, state: "flood risk", left: 0.2, storm: "b" },
  },
  { p: { ...link, share: 1.7 }, q: { ...link, storm: "b" } },
);

describe("results on the plan", () => {
  it("tell states with a mark besides the tone, and count each", () => {
    const { nodes, legend } = themed("state", both, network, answer);
    expect(nodes.get("a")).toMatchObject({ mark: "over", text: "8.0 m³" });
    expect(nodes.get("b")).toMatchObject({ mark: "tight", text: "0.20 m left" });
    expect(legend.map(({ text, count }) => [text, count])).toEqual([
      ["within", 2],
      ["surcharged", 0],
      ["flood risk", 1],
      ["floods", 1],
    ]);
  });

  it("class by bounds that a value just reaches", () => {
    const at = (share: number) =>
      themed("full", over({}, { p: { ...link, share } }), network, answer).links.get("p")?.mark;
    expect([at(0.999), at(1), at(1.499), at(1.5)]).toEqual(["", "tight", "tight", "over"]);
    const left = (value: number) =>
      themed("left", over({ a: { ...node, left: value } }, {}), network, answer).nodes.get("a")?.mark;
    expect([left(-1e-6), left(0), left(0.2999), left(0.3)]).toEqual(["over", "tight", "tight", ""]);
  });

  it("class by round numbers of the units that are read", () => {
    const told = () => themed("speed", both, network, answer).legend.map(({ text }) => text);
    expect(told()[1]).toBe("0.6 to 1 m/s");
    readIn("us", null);
    try {
      expect(told()[1]).toBe("2 to 4 ft/s");
      // 0.9 m/s are 2.95 ft/s
      const { legend } = themed("speed", both, network, answer);
      expect(legend[1]?.count).toBe(2);
    } finally {
      readIn("metric", null);
    }
  });

  it("a larger flood has a larger mark; what does not flood has none", () => {
    const { nodes } = themed(
      "flood",
      over({ a: { ...node, flooded: 8 }, b: { ...node, flooded: 2 }, c: node }, {}),
      network,
      answer,
    );
    expect(nodes.get("a")?.heavy).toBeCloseTo(1);
    expect(nodes.get("b")?.heavy).toBeCloseTo(0.5);
    expect(nodes.get("c")?.mark).toBe("");
  });

  it("list governing durations from short to long, each with a tone of its own", () => {
    const { nodes, links, legend } = themed("duration", both, network, answer);
    expect(legend.map(({ text, count }) => [text, count])).toEqual([
      ["15 min", 2],
      ["720 min", 2],
    ]);
    expect(nodes.get("a")?.tone).toBe(links.get("p")?.tone);
    expect(nodes.get("b")?.tone).not.toBe(nodes.get("a")?.tone);
  });

  it("count what no storm has computed by itself, and say that storms are missing", () => {
    const { legend, missing, nodes } = themed(
      "state",
      over({ a: node }, { p: link }, "3 of 54 storms are in"),
      network,
      answer,
    );
    // M2 and P2; the outfall has no cover to be judged by
    expect(legend.at(-1)).toMatchObject({ text: "not computed", count: 2, tone: NOT_COMPUTED });
    expect(nodes.has("b")).toBe(false);
    expect(missing).toBe("3 of 54 storms are in");
  });
});

import { describe, expect, it } from "vitest";
import { merged, rebased, same } from "../src/document/rebase";

const rule = (name: string, value = 0) => ({ name, limits: [{ value }] });

describe("a list that others have changed meanwhile", () => {
  it("takes each added or removed entry once, in order of size where it has one", () => {
    expect(merged([15, 60], [15, 30, 60], [15, 60, 120])).toEqual([15, 30, 60, 120]);
    expect(merged([15, 60], [15], [15, 60, 120])).toEqual([15, 120]);
    expect(merged([15, 60], [15, 60, 120], [15, 60, 120])).toEqual([15, 60, 120]); // both added it: it is there once
    expect(merged([15, 60], [60], [60, 120])).toBeNull(); // it is gone already
  });

  it("keeps its own order, and puts what is new behind what it stood behind", () => {
    const [a, b, c, d] = ["a", "b", "c", "d"].map((name) => rule(name));
    expect(merged([a, b], [a, c, b], [a, b, d])).toEqual([a, c, b, d]);
    expect(merged([a, b, c], [c, a, b], [a, b, c, d])).toEqual([c, a, b, d]);
    expect(merged([a, b], [rule("a", 1), b], [a, b, d])).toEqual([rule("a", 1), b, d]);
  });
});

describe("a change made from an earlier document", () => {
  const base = { rules: [rule("a"), rule("b"), rule("c")], name: "Site", rain: { durations: [15, 60] } };
  it("finds its entry where it has moved to", () => {
    const now = { ...base, rules: [rule("b"), rule("c")] };
    expect(rebased([{ op: "remove", path: "/rules/2" }], base, now)).toEqual([{ op: "remove", path: "/rules/1" }]);
    expect(rebased([{ op: "replace", path: "/rules/1/limits/0/value", value: 3 }], base, now)).toEqual([
      { op: "replace", path: "/rules/0/limits/0/value", value: 3 },
    ]);
  });

  it("goes to the same place where only the entry itself has changed", () => {
    const now = { ...base, rules: [rule("a"), rule("b", 2), rule("c")] };
    const change = { op: "replace", path: "/rules/1/name", value: "B" } as const;
    expect(rebased([change], base, now)).toEqual([change]);
  });

  it("is not made where what it was meant for is gone", () => {
    const now = { ...base, rules: [rule("a"), rule("c")] };
    expect(rebased([{ op: "remove", path: "/rules/1" }], base, now)).toContain("has changed meanwhile");
    const twins = { ...base, rules: [rule("b"), rule("b")] };
    expect(rebased([{ op: "remove", path: "/rules/1" }], base, twins)).toEqual([{ op: "remove", path: "/rules/1" }]);
  });

  it("says of a list what was added to it", () => {
    const now = { ...base, rain: { durations: [15, 30, 60] } };
    expect(rebased([{ op: "replace", path: "/rain/durations", value: [15, 60, 120] }], base, now)).toEqual([
      { op: "replace", path: "/rain/durations", value: [15, 30, 60, 120] },
    ]);
  });

  it("is as it was where nothing else has changed", () => {
    const change = [{ op: "replace", path: "/name", value: "New" } as const];
    expect(rebased(change, base, base)).toBe(change);
    expect(rebased(change, base, { ...base, rules: [] })).toEqual(change);
    expect(rebased([{ op: "add", path: "/rules/-", value: rule("d") }], base, { ...base, rules: [] })).toEqual([
      { op: "add", path: "/rules/-", value: rule("d") },
    ]);
  });

  it("knows what says the same", () => {
    expect(same({ a: [1, { b: null }] }, { a: [1, { b: null }] })).toBe(true);
    expect(same({ a: 1 }, { a: 1, b: undefined })).toBe(false);
    expect(same([1, 2], [2, 1])).toBe(false);
  });
});

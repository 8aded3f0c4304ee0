import { beforeEach, describe, expect, it, test, vi } from "vitest";
import type { Verdict } from "../src/api/client";
import type { Edit } from "../src/document/types";
import { type ViewPart, viewPart } from "../src/document/view";

function view() {
  const state = { id: "p", option: "o" } as ViewPart & { id: string; option: string };
  return Object.assign(
    state,
    viewPart(
      (part) => Object.assign(state, part),
      () => state,
      async () => [],
    ),
  );
}

describe("how things are shown", () => {
  beforeEach(() => localStorage.clear());

  it("begins with the plan, flow and level of the picked elements, and levels as levels", () => {
    const state = view();
    expect([state.view, state.depths]).toEqual(["plan", false]);
    expect(state.graph).toEqual({ title: "", quantities: ["flow", "level"], storms: "picked", against: null });
  });

  it("a graph changes in what is said and keeps the rest", () => {
    const state = view();
    state.drawGraph({ storms: "row" });
    expect(state.graph).toEqual({ title: "", quantities: ["flow", "level"], storms: "row", against: null });
    state.look("3d");
    expect(state.view).toBe("3d");
  });

  it("levels as depths are kept on this machine, and given up again", () => {
    view().showDepths(true);
    expect(view().depths).toBe(true);
    view().showDepths(false);
    expect(view().depths).toBe(false);
  });
});

test("of trials while a hand moves one is under way, and the last that waits follows it", async () => {
  const answers: ((verdicts: Verdict[]) => void)[] = [];
  const asked: Edit[][] = [];
  let part = {} as ViewPart & { id: string; option: string };
  const trial = (_: unknown, edits: Edit[]) => {
    asked.push(edits);
    return new Promise<Verdict[]>((done) => answers.push(done));
  };
  const set = (more: Partial<ViewPart>) => {
    part = { ...part, ...more };
  };
  part = { ...viewPart(set, () => part, trial), id: "p", option: "o" };
  const at = (value: number): Edit[] => [{ edit: "set", element: "x", field: "cover", value }];
  const verdicts = (name: string) => [{ name }] as Verdict[];
  for (const value of [1, 2, 3]) part.tryOut(at(value));
  expect(asked).toEqual([at(1)]);
  answers[0]?.(verdicts("one"));
  await vi.waitFor(() => expect(asked).toEqual([at(1), at(3)]));
  expect(part.trial).toEqual(verdicts("one"));
  // the hand lets go: what is still on its way is of no interest, and the next drag is not kept waiting for ever
  part.endTrial();
  part.tryOut(at(4));
  answers[1]?.(verdicts("three"));
  await vi.waitFor(() => expect(asked).toEqual([at(1), at(3), at(4)]));
  expect(part.trial).toBeNull();
  answers[2]?.(verdicts("four"));
  await vi.waitFor(() => expect(part.trial).toEqual(verdicts("four")));
});

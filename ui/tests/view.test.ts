import { beforeEach, describe, expect, it } from "vitest";
import { type ViewPart, viewPart } from "../src/document/view";

function view() {
  const state = {} as ViewPart;
  return Object.assign(
    state,
    viewPart(
      (part) => Object.assign(state, part),
      () => state,
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

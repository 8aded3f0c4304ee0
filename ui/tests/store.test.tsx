import { act } from "react";
import { createRoot } from "react-dom/client";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { useProject } from "../src/document/store";

Object.assign(globalThis, { IS_REACT_ACT_ENVIRONMENT: true });

let drawn: Record<string, number> = {};
function Clock() {
  const { moment } = useProject();
  drawn.clock = (drawn.clock ?? 0) + 1;
  return <i>{moment}</i>;
}
function Element() {
  const { cursor } = useProject();
  drawn.element = (drawn.element ?? 0) + 1;
  return <b>{cursor.element}</b>;
}
function Picked() {
  const picked = useProject((s) => s.picked.has("a"));
  drawn.picked = (drawn.picked ?? 0) + 1;
  return <u>{String(picked)}</u>;
}

describe("parts of the project", () => {
  const place = document.createElement("div");
  let root: ReturnType<typeof createRoot>;
  beforeEach(() => {
    drawn = {};
    root = createRoot(place);
    act(() =>
      root.render(
        <>
          <Clock />
          <Element />
          <Picked />
        </>,
      ),
    );
  });
  afterEach(() => act(() => root.unmount()));
  const { point, pickAll, look, showChain } = useProject.getState();

  it("a replay draws only what shows the clock", () => {
    const before = { ...drawn };
    for (const moment of [10, 20, 30]) act(() => point({ moment }));
    expect(drawn.clock).toBe((before.clock ?? 0) + 3);
    expect(drawn.element).toBe(before.element);
    expect(drawn.picked).toBe(before.picked);
    expect(place.querySelector("i")?.textContent).toBe("30");
  });
  it("a pick draws what shows it, with what is current", () => {
    act(() => point({ element: "a", moment: 40 }));
    expect(place.querySelector("b")?.textContent).toBe("a");
    expect(place.querySelector("u")?.textContent).toBe("true");
    expect(place.querySelector("i")?.textContent).toBe("40");
    const before = drawn.picked;
    act(() => pickAll(["a", "b"])); // a is picked still
    expect(drawn.picked).toBe(before);
    act(() => look("graphs")); // nobody here shows it
    expect(drawn.element).toBeLessThan(6);
  });
  it("a chain is shown until something else is picked", () => {
    act(() => showChain(["a", "b"]));
    expect(useProject.getState().chain).toEqual(["a", "b"]);
    expect([...useProject.getState().picked]).toEqual(["a", "b"]);
    act(() => point({ moment: 50 }));
    expect(useProject.getState().chain).not.toBeNull();
    act(() => point({ element: "c" }));
    expect(useProject.getState().chain).toBeNull();
  });
});

import { act, createElement as h } from "react";
import { createRoot, type Root } from "react-dom/client";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { read } from "../src/document/numbers";
import { pasted } from "../src/document/rows";
import { curveOf } from "../src/kinds/controls/pump";
import { NumberField } from "../src/primitives/NumberField";
import { Rows } from "../src/primitives/Rows";
import { durationsOf } from "../src/stages/rain/EnsembleFields";

const COLUMNS = [
  { key: "flow" as const, label: "flow", quantity: "flow" as const, trend: true as const },
  { key: "head" as const, label: "head", quantity: "length" as const, trend: true as const },
];
const check = (rows: { flow: number; head: number }[]) => curveOf("Pump 1", rows);

describe("pump curves", () => {
  it("are checked as a whole, by pump, row and remedy", () => {
    const curve = (...rows: [number, number][]) => rows.map(([flow, head]) => ({ flow, head }));
    expect(check(curve([0, 8], [0.01, 7], [0.02, 4]))).toBeNull();
    expect(check(curve([0, 8]))).toContain("two rows at least");
    expect(check(curve([0, 8], [0.01, 8]))).toBe(
      "Pump 1, row 2: its head must be less than that of row 1; a pump lifts less as it passes more",
    );
    expect(check(curve([0, 8], [0.01, 7], [0.01, 4]))).toContain("row 3: its flow must be greater than that of row 2");
    expect(check(curve([0, 8], [0.01, -1]))).toContain("is negative");
  });

  it("are pasted with their columns in either order", () => {
    const rows = [
      { flow: 0, head: 8 },
      { flow: 0.01, head: 7 },
    ];
    const block = (text: string) => text.split("\n").map((line) => line.split("\t"));
    expect(pasted(block("0\t8\n10\t7"), COLUMNS, check)).toEqual(rows);
    expect(pasted(block("8\t0\n7\t10"), COLUMNS, check)).toEqual(rows);
    expect(pasted(block("Head m\tFlow L/s\n8\t0\n7\t10"), COLUMNS, check)).toEqual(rows);
    // headings rule, whatever the check says
    expect(pasted(block("Flow\tHead\n8\t0\n7\t10"), COLUMNS, check)).toEqual([
      { flow: 0.008, head: 0 },
      { flow: 0.007, head: 10 },
    ]);
    expect(pasted(block("0\t8\n10\tx"), COLUMNS, check)).toBe("row 2, column 2: “x” is no number");
  });
});

describe("durations", () => {
  const inside = (d: number) => d >= 5 && d <= 1440;
  it("are typed as a list, with or without units", () => {
    expect(durationsOf("5, 10 ,600", inside)).toEqual([5, 10, 600]);
    expect(durationsOf("5 min; 10 h", inside)).toEqual([5, 600]);
    expect(durationsOf("90 and 100", inside)).toEqual([90, 100]);
  });
  it("that make no sense are told", () => {
    expect(durationsOf("2880", inside)).toContain("outside the rainfall table");
    expect(durationsOf("soon", inside)).toContain("is no number");
    expect(durationsOf("0", inside)).toContain("is no duration");
  });
});

describe("slopes in fields of per cents", () => {
  it("may be typed as ratios", () => {
    expect(read("1:50", "percent")).toEqual({ value: 0.02 });
    expect(read("1 in 350", "percent")).toEqual({ value: 1 / 350 });
    expect(read("2", "percent")).toEqual({ value: 0.02 });
  });
});

describe("fields and short tables on the screen", () => {
  let root: Root;
  let place: HTMLElement;
  beforeEach(() => {
    vi.stubGlobal("IS_REACT_ACT_ENVIRONMENT", true);
    place = document.body.appendChild(document.createElement("div"));
    root = createRoot(place);
  });
  afterEach(() => {
    act(() => root.unmount());
    place.remove();
    vi.unstubAllGlobals();
  });
  const type = async (label: string, text: string) => {
    const field = place.querySelector<HTMLInputElement>(`[aria-label="${label}"]`);
    if (!field) throw new Error(`no field ${label}`);
    await act(async () => {
      Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, "value")?.set?.call(field, text);
      field.dispatchEvent(new Event("input", { bubbles: true }));
    });
    await act(async () => {
      field.dispatchEvent(new KeyboardEvent("keydown", { key: "Enter", bubbles: true }));
    });
    return field;
  };
  const click = async (name: string) => {
    const button = [...place.querySelectorAll("button")].find((one) => one.textContent === name);
    if (!button) throw new Error(`no button ${name}`);
    await act(async () => button.click());
  };

  it("keep a refused value, marked with its reason, until it is dropped", async () => {
    const commit = vi.fn(async () => "the cover is not above the invert");
    await act(async () => root.render(h(NumberField, { label: "Cover", value: 5, quantity: "level", commit })));
    const field = await type("Cover", "1");
    expect(commit).toHaveBeenCalledWith(1);
    expect([field.value, field.getAttribute("aria-invalid")]).toEqual(["1", "true"]);
    expect(place.textContent).toContain("the cover is not above the invert; kept: 5.000 m");
    await click("drop");
    expect([field.value, field.getAttribute("aria-invalid")]).toEqual(["5.000", "false"]);
    await type("Cover", "high");
    expect(place.textContent).toContain("“high” is no number");
    expect(commit).toHaveBeenCalledTimes(1);
  });

  it("hold rows that do not fit together, and commit them as a whole", async () => {
    const commit = vi.fn();
    const rows = [
      { flow: 0, head: 8 },
      { flow: 0.01, head: 7 },
    ];
    await act(async () => root.render(h(Rows, { title: "Curve", columns: COLUMNS, rows, commit, check } as never)));
    await click("add a row");
    expect(commit).toHaveBeenLastCalledWith([...rows, { flow: 0.02, head: 6 }]);
    await type("Curve, row 1, head", "6");
    expect(commit).toHaveBeenCalledTimes(1);
    expect(place.querySelector("[role=alert]")?.textContent).toContain("Pump 1, row 2: its head must be less");
    await type("Curve, row 2, head", "5");
    expect(commit).toHaveBeenLastCalledWith([
      { flow: 0, head: 6 },
      { flow: 0.01, head: 5 },
    ]);
    await type("Curve, row 1, head", "1");
    await click("drop these rows");
    expect(place.querySelector<HTMLInputElement>('[aria-label="Curve, row 1, head"]')?.value).toBe("8.00");
  });
});

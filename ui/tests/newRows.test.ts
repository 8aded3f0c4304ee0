import { describe, expect, it } from "vitest";
import type { Network } from "../src/document/types";
import { asDepths, TABLES, type Table } from "../src/tables/columns";
import { newRows } from "../src/tables/newRows";

const NETWORK = {
  nodes: {
    a: { kind: "manhole", name: "M1", x: 0, y: 0, cover: 12, invert: 10 },
    b: { kind: "manhole", name: "M2", x: 30, y: 40, cover: 11, invert: 9 },
  },
  links: {},
  catchments: {},
} as unknown as Network;
const table = (key: string) => TABLES.find((t) => t.key === key) as Table;
const from = (key: string, first: string, t = table(key)) => {
  const at = t.columns.findIndex((c) => c.key === first);
  return t.columns.slice(at);
};
const make = (key: string, lines: string[][], first = "name", t = table(key)) =>
  newRows(NETWORK, t, from(key, first, t), lines);

describe("rows pasted below the last one", () => {
  it("make manholes with what they state", () => {
    const [row] = make("shafts", [["M9", "", "12,5", "7", "12.4", "10.9"]]);
    expect(row).toEqual({
      name: "M9",
      wrong: "",
      edit: {
        edit: "draw node",
        drawn: "manhole",
        x: 12.5,
        y: 7,
        fields: { name: "M9", cover: 12.4, invert: 10.9 },
      },
    });
  });
  it("are of the kind that a table makes, or none", () => {
    const [inlet, manhole] = make("shafts", [
      ["G9", "Inlet", "12", "7", "12.4", "10.9"],
      ["M9", "Manhole", "12", "7", "12.4", "10.9"],
    ]);
    expect(inlet).toMatchObject({ edit: null, wrong: expect.stringContaining("not “Inlet”") });
    expect(manhole?.edit).not.toBeNull();
  });
  it("make pipes between nodes that are there, as long as drawn unless they say", () => {
    const [row, far] = make("pipes", [
      ["P1", "M1", "M2", "", "375 mm"],
      ["P2", "M1", "M7", "20", "300"],
    ]);
    expect(row?.edit).toEqual({
      edit: "draw link",
      drawn: "pipe",
      upstream: "a",
      downstream: "b",
      fields: { name: "P1", "section/diameter": 0.375 },
    });
    expect(far).toMatchObject({ edit: null, wrong: "“M7” names no node" });
    expect(make("pipes", [["P3", "M1", "M1"]])[0]?.wrong).toBe("both ends are the same node");
  });
  it("read depths where depths are shown", () => {
    const depths = asDepths(table("shafts"));
    const [row] = make("shafts", [["M9", "", "0", "0", "12", "1.5"]], "name", depths);
    expect(row?.edit).toMatchObject({ fields: { cover: 12, invert: 10.5 } });
    const [blind] = make("shafts", [["M9", "", "0", "0", "", "1.5"]], "name", depths);
    expect(blind).toMatchObject({ edit: null, wrong: expect.stringContaining("the ground is not known") });
    const [end] = make("pipes", [["P1", "M1", "M2", "", "", "1.2"]], "name", asDepths(table("pipes")));
    expect(end?.edit).toMatchObject({ fields: { upstream_invert: 10.8 } });
  });
  it("say what keeps them from being made", () => {
    expect(make("areas", [["", "200"]])[0]?.wrong).toBe("a new row needs a name");
    expect(make("areas", [["Roof", "wide"]])[0]?.wrong).toContain("no number");
    expect(make("controls", [["Weir"]])[0]?.wrong).toContain("drawn on the plan");
    expect(make("areas", [["Roof", "200", "50", "M1"]])[0]?.edit).toEqual({
      edit: "draw catchment",
      area: 200,
      fields: { name: "Roof", impervious: 0.5, node: "a" },
    });
  });
});

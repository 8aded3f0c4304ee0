import { describe, expect, it } from "vitest";
import type { Network } from "../src/document/types";
import {
  asDepths,
  type Column,
  cellChange,
  cellText,
  inOrder,
  type Row,
  rowsOf,
  TABLES,
  type Table,
} from "../src/tables/columns";

const shaft = (name: string, x: number) => ({ kind: "manhole", name, x, y: 0, cover: 12, invert: 10, ponded_area: 50 });
const pipe = (name: string, section: object) => ({
  kind: "pipe",
  name,
  upstream: "a",
  downstream: "b",
  length: 40,
  upstream_invert: 10.4,
  downstream_invert: 10,
  roughness: 0.013,
  barrels: 1,
  section,
});
const network = {
  nodes: { a: shaft("M10", 0), b: shaft("M2", 40), c: shaft("twin", 80), d: shaft("twin", 90) },
  links: {
    p: pipe("P", { shape: "circular", diameter: 0.3 }),
    q: pipe("Q", { shape: "egg", height: 0.9 }),
    w: { kind: "weir", name: "W", upstream: "a", downstream: "b", crest: 11.5, length: 2 },
  },
  catchments: { r: { name: "Roof", area: 1234.5, impervious: 0.9, node: null, time_of_entry: null, polygon: [] } },
} as unknown as Network;

const table = (key: string) => TABLES.find((t) => t.key === key) as Table;
const column = (of: Table, key: string) => of.columns.find((c) => c.key === key) as Column;
const row = (of: Table, id: string) => rowsOf(network, of).find((r) => r.id === id) as Row;
const change = (tab: string, id: string, key: string, text: string) =>
  cellChange(table(tab), column(table(tab), key), row(table(tab), id), network, "/o", text);
const text = (tab: string, id: string, key: string) => cellText(column(table(tab), key), row(table(tab), id), network);

describe("tables of elements", () => {
  it("hold every element once", () => {
    const held = TABLES.flatMap((t) => rowsOf(network, t).map((r) => r.id));
    expect(held.sort()).toEqual(["a", "b", "c", "d", "p", "q", "r", "w"]);
  });
  it("show fields in their units, names of nodes, and what follows", () => {
    expect(text("pipes", "p", "section")).toBe("300");
    expect(text("pipes", "q", "section")).toBe("egg");
    expect(text("pipes", "p", "upstream")).toBe("M10");
    expect(text("pipes", "p", "slope")).toBe("100.00");
    // what the server works out; of a pipe that does not fall there is none
    const [p, q] = rowsOf(network, table("pipes"), { p: 0.0967, q: null });
    expect([p, q].map((one) => one && cellText(column(table("pipes"), "full"), one, network))).toEqual(["96.7", ""]);
    expect(text("controls", "w", "level")).toBe("11.500");
    expect(text("areas", "r", "node")).toBe("");
  });
  it("turn a typed text into an edit in SI units", () => {
    expect(change("pipes", "p", "section", "375")).toEqual({
      op: "replace",
      path: "/o/links/p/section/diameter",
      value: 0.375,
    });
    expect(change("pipes", "p", "length", "1 200,5")).toMatchObject({ value: 1200.5 });
    expect(change("pipes", "p", "length", "40 ft")).toMatchObject({ value: 12.192 });
    expect(change("pipes", "p", "downstream", "M10")).toMatchObject({ path: "/o/links/p/downstream", value: "a" });
    expect(change("areas", "r", "time_of_entry", "5")).toMatchObject({ value: 300 });
    expect(change("controls", "w", "level", "11.6")).toMatchObject({ path: "/o/links/w/crest", value: 11.6 });
  });
  it("leave alone what stays the same, and let go what may be empty", () => {
    expect(change("pipes", "p", "length", " 40.00 ")).toBeNull();
    expect(change("areas", "r", "time_of_entry", "")).toBeNull();
    const given = { id: "r", element: { ...network.catchments.r, time_of_entry: 300, node: "a" } };
    const areas = table("areas");
    for (const key of ["time_of_entry", "node"])
      expect(cellChange(areas, column(areas, key), given, network, "/o", "")).toMatchObject({ value: null });
  });
  it("say what is wrong with a text", () => {
    expect(change("pipes", "p", "length", "n/a")).toBe("“n/a” is no number");
    expect(change("pipes", "p", "length", "")).toBe("a number is needed");
    expect(change("pipes", "p", "upstream", "M99")).toBe("“M99” names no node");
    expect(change("pipes", "p", "upstream", "twin")).toBe("“twin” names several nodes");
    expect(change("pipes", "q", "section", "300")).toBe("diameter follows from other fields");
    expect(change("shafts", "a", "name", " ")).toBe("a name is needed");
  });
  it("sort numbers by size and names as people count", () => {
    const shafts = table("shafts");
    const order = (key: string, rising: boolean) =>
      inOrder(rowsOf(network, shafts), column(shafts, key), network, rising).map((r) => r.element.name);
    expect(order("name", true).slice(0, 2)).toEqual(["M2", "M10"]);
    expect(order("x", false)).toEqual(["twin", "twin", "M2", "M10"]);
  });
  it("read and type levels as depths below the ground", () => {
    const shafts = asDepths(table("shafts"));
    const pipes = asDepths(table("pipes"));
    expect(cellText(column(shafts, "invert"), row(shafts, "a"), network)).toBe("2.000");
    expect(cellText(column(shafts, "cover"), row(shafts, "a"), network)).toBe("12.000");
    expect(cellText(column(pipes, "upstream_invert"), row(pipes, "p"), network)).toBe("1.600");
    const typed = cellChange(pipes, column(pipes, "downstream_invert"), row(pipes, "p"), network, "/o", "2.25");
    expect(typed).toEqual({ op: "replace", path: "/o/links/p/downstream_invert", value: 9.75 });
    expect(cellChange(pipes, column(pipes, "downstream_invert"), row(pipes, "p"), network, "/o", "2.000")).toBeNull();
  });
});

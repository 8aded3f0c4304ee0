import { describe, expect, it } from "vitest";
import { readBlock } from "../src/document/pastedBlock";
import type { Network } from "../src/document/types";
import { TABLES, type Table } from "../src/tables/columns";
import { byHeadings, headed, inPlace } from "../src/tables/headings";

const table = (key: string) => TABLES.find((each) => each.key === key) as Table;
const network = {
  nodes: { a: { kind: "manhole", name: "M1" }, b: { kind: "manhole", name: "Cover A" } },
  links: { l: { kind: "pipe", name: "P1" } },
  catchments: {},
} as unknown as Network;
const isHeaded = (key: string, text: string) => headed(readBlock(text), table(key), network);

describe("headings over pasted rows", () => {
  it("are a table's own labels, or words over numbers", () => {
    expect(isHeaded("shafts", "Name\tEast\tNorth\tCover\nM7\t1\t2\t3")).toBe(true);
    expect(isHeaded("pipes", "Diameter mm\n300\n375")).toBe(true);
    expect(isHeaded("pipes", "Ref\tDN\nP1\t300\nP2\t375")).toBe(true);
  });
  it("are no values", () => {
    expect(isHeaded("pipes", "P1\tM1\tM2\nP2\tM2\tM3")).toBe(false);
    expect(isHeaded("pipes", "n/a\n400\n300")).toBe(false);
    expect(isHeaded("shafts", "12.5\tCover\n12.4\tx")).toBe(false);
    expect(isHeaded("shafts", "Cover A\t3\nM1\t4")).toBe(false);
    expect(isHeaded("shafts", "Cover A\tlid\nM1\tlid")).toBe(false); // an element may be called like a heading
    expect(isHeaded("shafts", "Name\tCover")).toBe(false); // no rows under them
  });
  it("need no matching where they are those of the cells that are pasted over", () => {
    const { columns } = table("pipes");
    expect(inPlace(["Length", "Diameter"], columns.slice(3))).toBe(true);
    expect(inPlace(["Diameter", "Length"], columns.slice(3))).toBe(false);
    expect(inPlace(["Name", "From"], columns)).toBe(false); // by name, never over whichever row stands there
  });
  it("belong to the rows pasted over where nothing names these", () => {
    const rows = [{ id: "l", element: {} }];
    const text = (block: string) => byHeadings(readBlock(block), table("pipes"), rows);
    expect(text("Diameter\tLength\n300\t40\n375\t50")).toBe("id\tDiameter\tLength\nl\t300\t40\n\t375\t50");
    expect(text("Diameter\tName\n300\tP1")).toBe("Diameter\tName\n300\tP1");
    expect(text("Diameter\tPipe no\n300\tP1")).toBe("Diameter\tPipe no\n300\tP1");
  });
});

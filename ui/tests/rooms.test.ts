import { readdirSync, readFileSync } from "node:fs";
import { dirname, join, normalize, relative } from "node:path";
import { describe, expect, it } from "vitest";

/** From below: what stands in one row knows its own row and those before it. */
const ROWS = [
  ["api"],
  ["document"],
  ["primitives"],
  ["fields"],
  ["kinds"],
  ["backgrounds", "catalogue", "deliver", "findings", "imports", "inspector", "options", "search", "tables", "views"],
  ["instrument"],
  ["stages"],
  ["App.tsx", "main.tsx"],
];
const src = join(__dirname, "..", "src");
const row = (place: string) => ROWS.findIndex((rooms) => rooms.includes(place.split("/")[0] ?? ""));
const files = readdirSync(src, { recursive: true, encoding: "utf-8" }).filter((file) => /\.tsx?$/.test(file));

function imports(file: string): string[] {
  const found = readFileSync(join(src, file), "utf-8").matchAll(/(?:from|import)\s*\(?\s*"(\.[^"]+)"/g);
  return [...found].map(([, to]) => relative(src, normalize(join(src, dirname(file), to ?? ""))));
}

describe("the rooms of the interface", () => {
  it("are all in the list, and nothing lies loose beside them", () => {
    expect(files.filter((file) => row(file) < 0)).toEqual([]);
    expect(files.length).toBeGreaterThan(200);
  });
  it("know those below them alone", () => {
    const up = files.flatMap((file) =>
      imports(file)
        .filter((to) => !to.endsWith(".css") && row(to) > row(file))
        .map((to) => `${file} -> ${to}`),
    );
    expect(up).toEqual([]);
  });
});

import { describe, expect, it } from "vitest";
import openapi from "../openapi.json";
import { LINK_KINDS, makeLink } from "../src/document/elements";
import type { Control, Network } from "../src/document/types";
import { CONTROL_KINDS, controlKind, levelOf } from "../src/kinds";

type Schema = { properties: Record<string, { const?: string; default?: unknown }>; required?: string[] };
const schemas = openapi.components.schemas as unknown as Record<string, Schema>;
/** Links that the server knows and that are no conduits: they have ends and no length of bed. */
const controls = Object.values(schemas).filter(
  ({ properties }) => properties?.upstream && properties.kind?.const && !properties.upstream_invert,
);

describe("kinds of control", () => {
  it("are those that the server knows, each with a label, a mark and a form", () => {
    expect(Object.keys(CONTROL_KINDS).sort()).toEqual(controls.map((s) => s.properties.kind?.const).sort());
    for (const kind of Object.values(CONTROL_KINDS)) {
      expect(kind.label && kind.mark && kind.Form).toBeTruthy();
      expect(LINK_KINDS[kind.kind]).toBe(kind.label);
    }
  });
  it("begin with fields that the server has, and with every one that it asks for", () => {
    const network = {
      nodes: {
        a: { kind: "manhole", name: "A", x: 0, y: 0, invert: 2, cover: 5 },
        b: { kind: "outfall", name: "B", x: 9, y: 0, invert: 1 },
      },
      links: {},
      catchments: {},
    } as unknown as Network;
    for (const { properties, required = [] } of controls) {
      const kind = properties.kind?.const as Control["kind"];
      const made = makeLink(network, kind, "a", "b") as Record<string, unknown>;
      expect(Object.keys(made).filter((field) => !(field in properties))).toEqual([]);
      // fields with a default are filled in by the server
      const asked = required.filter((field) => properties[field]?.default === undefined && field !== "main");
      expect(asked.filter((field) => !(field in made))).toEqual([]);
      const { level } = controlKind({ kind });
      expect(level === null || level in properties).toBe(true);
      expect(levelOf(made as Control)).toBeGreaterThanOrEqual(2);
    }
  });
  it("that are not known are an error, and no pump", () => {
    expect(() => controlKind({ kind: "siphon" as Control["kind"] })).toThrow("siphon");
  });
});

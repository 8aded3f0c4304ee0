import { describe, expect, it } from "vitest";
import openapi from "../openapi.json";
import { LINK_KINDS } from "../src/document/elements";
import type { Control } from "../src/document/types";
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
  it("act from a level that the server has", () => {
    for (const { properties } of controls) {
      const kind = properties.kind?.const as Control["kind"];
      const { level } = controlKind({ kind });
      expect(level === null || level in properties).toBe(true);
      if (level) expect(levelOf({ kind, [level]: 2.5 } as unknown as Control)).toBe(2.5);
    }
    expect(levelOf({ kind: "pump", units: [{ off: 3 }, { off: 2 }] } as unknown as Control)).toBe(2);
  });
  it("that are not known are an error, and no pump", () => {
    expect(() => controlKind({ kind: "siphon" as Control["kind"] })).toThrow("siphon");
  });
});

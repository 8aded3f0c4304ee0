import { describe, expect, it } from "vitest";
import openapi from "../openapi.json";
import type { Control, NetNode } from "../src/document/types";
import {
  CONDUIT_KINDS,
  CONTROL_KINDS,
  conduitKind,
  controlKind,
  DRAWN_LINKS,
  DRAWN_NODES,
  levelOf,
  NODE_KINDS,
  nodeKind,
} from "../src/kinds";

type Schema = { properties: Record<string, { const?: string; default?: unknown }>; required?: string[] };
const schemas = openapi.components.schemas as unknown as Record<string, Schema>;
/** Links that the server knows and that are no conduits: they have ends and no length of bed. */
const controls = Object.values(schemas).filter(
  ({ properties }) => properties?.upstream && properties.kind?.const && !properties.upstream_invert,
);

/** What the server can draw. */
const drawn = (edit: string) => {
  const found = schemas[edit]?.properties.drawn as { enum?: string[] } | undefined;
  return [...(found?.enum ?? [])].sort();
};

describe("kinds of element", () => {
  it("are those that the server knows, each with a form and in a menu", () => {
    expect(Object.keys(DRAWN_NODES).sort()).toEqual(drawn("DrawNode"));
    expect(Object.keys(DRAWN_LINKS).sort()).toEqual(drawn("DrawLink"));
    for (const kind of [...Object.values(NODE_KINDS), ...Object.values(CONDUIT_KINDS)]) expect(kind.Form).toBeTruthy();
    const keys = [...Object.values(NODE_KINDS).flatMap(({ draws }) => draws), ...Object.values(CONDUIT_KINDS)];
    const taken = keys.flatMap(({ key }) => key ?? []);
    expect(new Set(taken).size).toBe(taken.length);
  });
  it("let be dragged what the server has a field for, and lift over the higher of tail water and main", () => {
    const orifice = { kind: "orifice", section: { shape: "circular", diameter: 0.1 } } as Control;
    const gate = { kind: "gate", opening: 0.3 } as Control;
    const fields = [orifice, gate].map((one) => controlKind(one).opening?.field(one));
    expect(fields).toEqual(["section/diameter", "opening"]);
    expect([orifice, gate].map((one) => controlKind(one).opening?.height(one))).toEqual([0.1, 0.3]);
    const pump = { kind: "pump", main: { discharge_level: 12 } } as Control;
    const head = (control: Control, down: number) => controlKind(control).headOf?.(control, 10, down);
    expect([head(pump, 11), head(pump, 13), head({ ...pump, main: null } as Control, 11)]).toEqual([2, 3, 1]);
  });
  it("tell ponds from tanks, and are an error where they are not known", () => {
    const label = (form: string) => nodeKind({ kind: "storage" }).label({ kind: "storage", form } as NetNode);
    expect([label("pond"), label("tank")]).toEqual(["Pond", "Tank"]);
    expect(() => nodeKind({ kind: "well" as "manhole" })).toThrow("well");
    expect(() => conduitKind({ kind: "siphon" as "pipe" })).toThrow("siphon");
  });
});

describe("kinds of control", () => {
  it("are those that the server knows, each with a label, a mark and a form", () => {
    expect(Object.keys(CONTROL_KINDS).sort()).toEqual(controls.map((s) => s.properties.kind?.const).sort());
    for (const kind of Object.values(CONTROL_KINDS)) {
      expect(kind.label && kind.mark && kind.Form).toBeTruthy();
      expect(DRAWN_LINKS[kind.kind]).toBe(kind.label);
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

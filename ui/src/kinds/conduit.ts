import type { ReactNode } from "react";
import type { Conduit } from "../document/types";

/** What the interface knows of a kind of conduit. Its module says all of it. */
export type ConduitKind<T extends Conduit = Conduit> = {
  kind: T["kind"];
  /** Its place in menus. */
  order: number;
  label: string;
  /** The key that chooses it. */
  key?: string;
  /** Its edges on the plan; null is drawn through. */
  edge: { lineDash: number[]; lineCap: CanvasLineCap } | null;
  /** How it is filled on the section, and how its edge is dashed. */
  body: { fill: string; dash?: string };
  /** What it is as wide and as high as. */
  Section: (props: { id: string; conduit: T }) => ReactNode;
  /** Fields that other kinds do not have. */
  Form: (props: { id: string; conduit: T }) => ReactNode;
};

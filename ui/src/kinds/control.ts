import type { ReactNode } from "react";
import type { Control } from "../document/types";

/** What the interface knows of a kind of control. Its module says all of it, and nothing else names the kind. */
export type ControlKind<T extends Control = Control> = {
  kind: T["kind"];
  /** Its place in menus. */
  order: number;
  label: string;
  /** The field that says from which level it acts; null where no single one does. */
  level: string | null;
  levelOf: (control: T) => number;
  /** Head by which it acts between two levels; left out, that of the upstream one over its own. */
  headOf?: (control: T, up: number, down: number) => number;
  /** The opening that the section lets be dragged: its height over the level, m, and the field that keeps it. */
  opening?: { height: (control: T) => number; field: (control: T) => string };
  /** A path within 5 units of its middle: on the plan and on the section alike. */
  mark: string;
  Form: (props: { id: string; control: T }) => ReactNode;
};

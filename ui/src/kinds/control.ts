import type { ReactNode } from "react";
import type { Control } from "../document/types";

/** What the interface knows of a kind of control. Its module says all of it, and nothing else names the kind. */
export type ControlKind<T extends Control = Control> = {
  kind: T["kind"];
  /** Its place in menus. */
  order: number;
  label: string;
  /** What names of new ones begin with. */
  names: string;
  /** The field that says from which level it acts; null where no single one does. */
  level: string | null;
  levelOf: (control: T) => number;
  /** A path within 5 units of its middle: on the plan and on the section alike. */
  mark: string;
  /** What a new one is given. low, high: of the node that it leaves, m; crest: a height between them. */
  begin: (low: number, high: number, crest: number) => Record<string, unknown>;
  Form: (props: { id: string; control: T }) => ReactNode;
};

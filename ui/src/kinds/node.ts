import type { ReactNode } from "react";
import type { Edit, NetNode } from "../document/types";

/** What a node can be drawn as. */
export type DrawnNode = Extract<Edit, { edit: "draw node" }>["drawn"];
export type Canvas = CanvasRenderingContext2D | OffscreenCanvasRenderingContext2D;

/** What the interface knows of a kind of node. Its module says all of it. */
export type NodeKind<T extends NetNode = NetNode> = {
  kind: T["kind"];
  /** Its place in menus. */
  order: number;
  /** What it can be drawn as: the label in menus, and the key that chooses it. */
  draws: { drawn: DrawnNode; label: string; key?: string }[];
  /** What a card calls it. */
  label: (node: T) => string;
  /** Half the size of its symbol on the plan, in pixels. */
  radius: number;
  /** What tells its symbol apart, around its middle: on a shaft's lid, over a store's water, or an outfall's whole. */
  mark?: (c: Canvas, node: T) => void;
  /** A store's edge on the plan, and how it is dashed. */
  outline?: (c: Canvas, node: T) => number[];
  /** Fields that other kinds do not have. */
  Form: (props: { id: string; node: T }) => ReactNode;
};

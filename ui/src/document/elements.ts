import { CONTROL_KINDS } from "../kinds";
import type { NetLink } from "./types";

/** What can be drawn on the plan: nodes with one click, links with a click on each of their nodes. */
export const NODE_KINDS = {
  manhole: "Manhole",
  junction: "Junction",
  inlet: "Inlet",
  pond: "Pond, by areas",
  basin: "Pond, by side slope",
  tank: "Tank",
  stone: "Stone-filled store",
  outfall: "Outfall",
} as const;
export const CONDUIT_KINDS = {
  pipe: "Pipe",
  channel: "Channel",
  trench: "Filter trench",
} as const;
/** Every kind of link with its label. */
export const LINK_KINDS = {
  ...CONDUIT_KINDS,
  ...Object.fromEntries(Object.values(CONTROL_KINDS).map(({ kind, label }) => [kind, label])),
} as Record<LinkKind, string>;
export type NodeKind = keyof typeof NODE_KINDS;
export type LinkKind = NetLink["kind"];
/** What the plan can be told to draw. */
export type Drawable = NodeKind | LinkKind | "run" | "ground";
export const isNodeKind = (kind: string): kind is NodeKind => kind in NODE_KINDS;
export const isLinkKind = (kind: string): kind is LinkKind => kind in LINK_KINDS;
/** What is drawn corner by corner. */
export const isOutlined = (kind: Drawable): kind is "ground" | "basin" => kind === "ground" || kind === "basin";

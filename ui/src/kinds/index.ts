/** Every kind of element, as their modules tell. */
import type { Conduit, Control, NetLink, NetNode } from "../document/types";
import type { ConduitKind } from "./conduit";
import type { ControlKind } from "./control";
import type { DrawnNode, NodeKind } from "./node";

type Ordered = { kind: string; order: number };

// a module for each kind; whoever adds one names it nowhere else
const kindsOf = <T extends Ordered>(modules: Record<string, { KIND: unknown }>): Record<string, T> =>
  Object.fromEntries(
    Object.values(modules)
      .map(({ KIND }) => KIND as T)
      .sort((a, b) => a.order - b.order)
      .map((kind) => [kind.kind, kind]),
  );

export const NODE_KINDS = kindsOf<NodeKind>(import.meta.glob("./nodes/*.tsx", { eager: true }));
export const CONDUIT_KINDS = kindsOf<ConduitKind>(import.meta.glob("./conduits/*.tsx", { eager: true }));
export const CONTROL_KINDS = kindsOf<ControlKind>(import.meta.glob("./controls/*.tsx", { eager: true }));

/** What is known of a kind. One that this interface does not know is an error, never another kind. */
function known<T>(kinds: Record<string, T>, kind: string): T {
  const found = kinds[kind];
  if (!found) throw new Error(`this interface knows no element of kind “${kind}”; load the page again`);
  return found;
}
export const nodeKind = (node: Pick<NetNode, "kind">) => known(NODE_KINDS, node.kind);
export const conduitKind = (conduit: Pick<Conduit, "kind">) => known(CONDUIT_KINDS, conduit.kind);
export const controlKind = (control: Pick<Control, "kind">) => known(CONTROL_KINDS, control.kind);

/** The level at which a control begins to act. */
export const levelOf = (control: Control) => controlKind(control).levelOf(control);

/** What can be drawn with one click, with its label. */
export const DRAWN_NODES = Object.fromEntries(
  Object.values(NODE_KINDS).flatMap(({ draws }) => draws.map(({ drawn, label }) => [drawn, label])),
) as Record<DrawnNode, string>;
/** What can be drawn with a click on each of two nodes, with its label. */
export const DRAWN_LINKS = Object.fromEntries(
  [...Object.values(CONDUIT_KINDS), ...Object.values(CONTROL_KINDS)].map(({ kind, label }) => [kind, label]),
) as Record<NetLink["kind"], string>;
/** What the plan can be told to draw. */
export type Drawable = DrawnNode | NetLink["kind"] | "run" | "ground";
export const isDrawnNode = (drawn: string): drawn is DrawnNode => drawn in DRAWN_NODES;
export const isDrawnLink = (drawn: string): drawn is NetLink["kind"] => drawn in DRAWN_LINKS;
/** What is drawn corner by corner. */
export const isOutlined = (drawn: Drawable): drawn is "ground" | "basin" => drawn === "ground" || drawn === "basin";

/** What an element can become where it stands: a node another node, a conduit a conduit, a control a control. */
export function becomes(element: NetNode | NetLink | undefined): [DrawnNode | NetLink["kind"], string][] {
  if (!element) return [];
  if ("x" in element) {
    const now = element.kind === "storage" ? element.form : element.kind;
    return (Object.entries(DRAWN_NODES) as [DrawnNode, string][]).filter(([drawn]) => drawn !== now);
  }
  const family = element.kind in CONDUIT_KINDS ? CONDUIT_KINDS : CONTROL_KINDS;
  return Object.values(family)
    .filter(({ kind }) => kind !== element.kind)
    .map(({ kind, label }) => [kind, label]);
}

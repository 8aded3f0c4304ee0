/** Every kind of control, as their modules tell. */
import type { Control } from "../document/types";
import type { ControlKind } from "./control";

// a module for each kind; whoever adds one names it nowhere else
const modules = import.meta.glob<{ KIND: ControlKind<never> }>("./controls/*.tsx", { eager: true });

export const CONTROL_KINDS: Record<string, ControlKind> = Object.fromEntries(
  Object.values(modules)
    .map(({ KIND }) => KIND as unknown as ControlKind)
    .sort((a, b) => a.order - b.order)
    .map((kind) => [kind.kind, kind]),
);

/** What is known of a control's kind. A kind that this interface does not know is an error, never another kind. */
export function controlKind(control: Pick<Control, "kind">): ControlKind {
  const found = CONTROL_KINDS[control.kind];
  if (!found) throw new Error(`this interface knows no control of kind “${control.kind}”; load the page again`);
  return found;
}

/** The level at which a control begins to act. */
export const levelOf = (control: Control) => controlKind(control).levelOf(control);

import type { ReactNode } from "react";
import { useProject } from "../document/store";
import { type Control, type Shaft, type Store, topOf } from "../document/types";
import { FitThis } from "../fields/FitThis";
import { InfiltrationInputs } from "../fields/InfiltrationInputs";
import { LetConvey } from "../fields/LetConvey";
import { QuickEstimate } from "../fields/QuickEstimate";
import { useCommit } from "../fields/useCommit";
import { Choice } from "../primitives/Choice";
import { NumberField } from "../primitives/NumberField";
import type { Canvas } from "./node";

/** The ground over a node, below which depths count. */
export function useTop(node: string): number | null {
  const found = useProject((s) => s.network?.nodes[node]);
  return found ? topOf(found) : null;
}

/** Whether a control lets anything back. */
export function Flap({ id, control }: { id: string; control: Control }) {
  const commit = useCommit("links", id);
  return (
    <Choice
      label="Flap"
      value={control.flap ? "yes" : "no"}
      options={{ no: "none", yes: "lets nothing back" }}
      commit={(value) => commit("flap")(value === "yes")}
    />
  );
}

/** Plan area of a shaft. */
export function PlanArea({ id, shaft }: { id: string; shaft: Shaft }) {
  const commit = useCommit("nodes", id);
  return <NumberField label="Plan area" value={shaft.plan_area} quantity="shaft" commit={commit("plan_area")} />;
}

/** What water loses that passes a shaft. */
export function HeadLoss({ id, shaft }: { id: string; shaft: Shaft }) {
  const commit = useCommit("nodes", id);
  const loss = shaft.head_loss;
  return (
    <>
      <Choice
        label="Head loss"
        value={loss?.kind ?? "none"}
        options={{ none: "none", fixed: "coefficient", angle: "by angle and ratio" }}
        commit={(kind) =>
          commit("head_loss")(kind === "none" ? null : kind === "fixed" ? { kind, coefficient: 0.5 } : { kind })
        }
      />
      {loss?.kind === "fixed" && (
        <NumberField label="K" value={loss.coefficient} quantity="plain" commit={commit("head_loss/coefficient")} />
      )}
    </>
  );
}

/** What stores share, around what each has of its own. */
export function StoreForm({ id, store, children }: { id: string; store: Store; children: ReactNode }) {
  const commit = useCommit("nodes", id);
  return (
    <>
      <NumberField
        label="Permanent water"
        value={store.initial_depth}
        quantity="length"
        commit={commit("initial_depth")}
      />
      {children}
      <InfiltrationInputs value={store.infiltration} commit={commit("infiltration")} />
      <QuickEstimate id={id} />
      {(store.kind === "basin" || (store.kind === "storage" && store.form === "pond")) && (
        <LetConvey id={id} pond={store} />
      )}
      <p className="pt-1">
        <FitThis elements={[id]}>fit its size over all storms</FitThis>
      </p>
    </>
  );
}

/** The edge of a store with corners. */
export function box(c: Canvas): number[] {
  c.rect(-17, -12, 34, 24);
  return [];
}

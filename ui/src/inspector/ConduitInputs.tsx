import { gradientOf } from "../document/gradient";
import { useProject } from "../document/store";
import { type Conduit, topOf } from "../document/types";
import type { show } from "../document/units";
import { LevelField } from "../fields/LevelField";
import { useCommit } from "../fields/useCommit";
import { conduitKind } from "../kinds";
import { Choice } from "../primitives/Choice";
import { Figure } from "../primitives/Figure";
import { NumberField } from "../primitives/NumberField";

/** What a pipe, a channel or a trench is given, and what that implies. */
export function ConduitInputs({ id, run }: { id: string; run: Conduit }) {
  const { network } = useProject();
  const { Section, Form } = conduitKind(run);
  const commit = useCommit("links", id);
  const gradient = gradientOf(run);
  const number = (label: string, field: string, value: number, quantity: Parameters<typeof show>[1]) => (
    <NumberField label={label} value={value} quantity={quantity} commit={commit(field)} testId={field} />
  );
  return (
    <>
      <Section id={id} conduit={run} />
      {number("Length", "length", run.length, "length")}
      {(["upstream", "downstream"] as const).map((end) => {
        const node = network?.nodes[run[end]];
        const field = `${end}_invert` as const;
        return (
          <LevelField
            key={end}
            label={`Invert at ${node?.name}`}
            value={run[field]}
            top={node ? topOf(node) : null}
            commit={commit(field)}
            testId={field}
          />
        );
      })}
      {number("Roughness", "roughness", run.roughness, "roughness")}
      <details>
        <summary className="text-ink2">Losses in velocity heads</summary>
        {number("Entry", "entry_loss", run.entry_loss, "plain")}
        {number("Bends", "bend_loss", run.bend_loss, "plain")}
        <Choice
          label="Exit"
          value={run.exit_loss === null ? "usual" : "typed"}
          options={{ usual: "usual: 1 or 0", typed: "typed" }}
          commit={(value) => commit("exit_loss")(value === "typed" ? 1 : null)}
          testId="exit_by"
        />
        {run.exit_loss !== null && number("Exit loss", "exit_loss", run.exit_loss, "plain")}
        <Choice
          label="Flap"
          value={run.flap ? "yes" : "no"}
          options={{ no: "none", yes: "lets nothing back" }}
          commit={(value) => commit("flap")(value === "yes")}
        />
      </details>
      <Figure label="Gradient" value={gradient > 0 ? `1 in ${Math.round(1 / gradient)}` : "runs uphill"} unit="" />
      <Form id={id} conduit={run} />
    </>
  );
}

import type { Trench } from "../../document/types";
import { show, unitOf } from "../../document/units";
import { InfiltrationInputs } from "../../fields/InfiltrationInputs";
import { useCommit } from "../../fields/useCommit";
import { Choice } from "../../primitives/Choice";
import { Figure } from "../../primitives/Figure";
import { NumberField } from "../../primitives/NumberField";
import type { ConduitKind } from "../conduit";

function Section({ id, conduit: trench }: { id: string; conduit: Trench }) {
  const commit = useCommit("links", id);
  return (
    <>
      <NumberField label="Width" value={trench.width} quantity="diameter" commit={commit("width")} />
      <NumberField label="Depth of stone" value={trench.height} quantity="diameter" commit={commit("height")} />
      <NumberField label="Porosity" value={trench.porosity} quantity="share" commit={commit("porosity")} />
      <NumberField label="Stone size" value={trench.stone_size} quantity="diameter" commit={commit("stone_size")} />
      <Choice
        label="Perforated pipe"
        value={trench.pipe ? "yes" : "no"}
        options={{ yes: "on the floor", no: "none" }}
        commit={(value) => commit("pipe")(value === "yes" ? { shape: "circular", diameter: 0.15 } : null)}
      />
      {trench.pipe && (
        <NumberField
          label="Diameter"
          value={trench.pipe.diameter}
          quantity="diameter"
          commit={(diameter) => commit("pipe")({ shape: "circular", diameter })}
        />
      )}
    </>
  );
}

function Form({ id, conduit: trench }: { id: string; conduit: Trench }) {
  const commit = useCommit("links", id);
  return (
    <>
      <InfiltrationInputs value={trench.infiltration} commit={commit("infiltration")} />
      <Figure label="Bank above bed" value={show(trench.height, "length")} unit={unitOf("length")} />
    </>
  );
}

export const KIND: ConduitKind<Trench> = {
  kind: "trench",
  order: 3,
  label: "Filter trench",
  // dots of stone
  edge: { lineDash: [1, 5], lineCap: "round" },
  body: { fill: "url(#stones)" },
  Section,
  Form,
};

import type { Stone } from "../../document/types";
import { show, unitOf } from "../../document/units";
import { useCommit } from "../../fields/useCommit";
import { NumberField } from "../../primitives/NumberField";
import type { Canvas, NodeKind } from "../node";
import { box, StoreForm } from "../shared";

function Form({ id, node: stone }: { id: string; node: Stone }) {
  const commit = useCommit("nodes", id);
  return (
    <StoreForm id={id} store={stone}>
      <NumberField label="Length" value={stone.length} quantity="length" commit={commit("length")} />
      <NumberField label="Width" value={stone.width} quantity="length" commit={commit("width")} />
      <NumberField label="Depth of stone" value={stone.stone_depth} quantity="length" commit={commit("stone_depth")} />
      <NumberField
        label="Gradient of the base"
        value={stone.base_slope}
        quantity="gradient"
        commit={commit("base_slope")}
      />
      <NumberField label="Porosity of stone" value={stone.porosity} quantity="share" commit={commit("porosity")} />
      <CoverLayer stone={stone} commit={commit("cover_porosity")} />
    </StoreForm>
  );
}

/** What lies on the stone up to the surface: blocks and bedding, soil. It holds water in voids of its own alone. */
function CoverLayer({ stone, commit }: { stone: Stone; commit: (porosity: unknown) => void }) {
  const layer = stone.cover - stone.invert - stone.stone_depth;
  if (layer <= 0) return null;
  return (
    <>
      <p className="flex justify-between py-[3px]" data-testid="cover-layer">
        <span>Cover layer above it</span>
        <span>
          <span className="figure">{show(layer, "length")}</span>{" "}
          <span className="inline-block w-7 text-[11px] text-ink3">{unitOf("length")}</span>
        </span>
      </p>
      <NumberField
        label="Porosity of the layer"
        value={stone.cover_porosity}
        quantity="share"
        commit={commit}
        testId="cover-porosity"
      />
    </>
  );
}

/** A bed of stones. */
function mark(c: Canvas) {
  c.fillStyle = "#65665f";
  for (let i = 0; i < 5; i++)
    for (let j = 0; j < 3; j++) {
      c.beginPath();
      c.arc(-13 + 6.5 * i + (j % 2) * 3, -7 + 7 * j, 1.7, 0, 2 * Math.PI);
      c.fill();
    }
  c.beginPath();
}

export const KIND: NodeKind<Stone> = {
  kind: "stone",
  order: 7,
  draws: [{ drawn: "stone", label: "Stone-filled store" }],
  label: () => "Stone store",
  radius: 15,
  outline: box,
  mark,
  Form,
};

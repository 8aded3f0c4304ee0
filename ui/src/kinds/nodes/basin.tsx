import { useState } from "react";
import { useProject } from "../../document/store";
import { type Basin, drawnAs, outlineOf } from "../../document/types";
import { usePonds, useRedrawn } from "../../document/usePonds";
import { Dimensions } from "../../fields/Dimensions";
import { PondInGround } from "../../fields/PondInGround";
import { useCommit } from "../../fields/useCommit";
import { Choice } from "../../primitives/Choice";
import { NumberField } from "../../primitives/NumberField";
import { Rows } from "../../primitives/Rows";
import type { Canvas, NodeKind } from "../node";
import { box, StoreForm } from "../shared";

function Form({ id, node: basin }: { id: string; node: Basin }) {
  const commit = useCommit("nodes", id);
  const redraw = useRedrawn(id, basin);
  const pond = usePonds()?.[id];
  const drawn = drawnAs(basin);
  const even = basin.side_slopes.length === 0 && !basin.shelf && !basin.ramp;
  return (
    <StoreForm id={id} store={basin}>
      <Choice
        label="Drawn is"
        value={drawn}
        options={{ base: "the base", rim: "the rim" }}
        commit={(at) => redraw(at as "base" | "rim", pond?.edges[at as "base" | "rim"])}
        testId="pond-drawn"
      />
      <NumberField
        label="Side slope"
        value={basin.side_slope}
        quantity="slope"
        commit={commit("side_slope")}
        testId="pond-slope"
      />
      {even && <Dimensions id={id} store={basin} />}
      <details>
        <summary className="text-ink2" data-testid="pond-shape">
          Sides, shelf and ramp{even ? "" : ": as given"}
        </summary>
        <Rows
          title="Sides that differ"
          columns={[
            { key: "side", label: "side", quantity: "count" },
            { key: "slope", label: "slope", quantity: "slope" },
          ]}
          rows={basin.side_slopes}
          commit={(rows) =>
            commit("side_slopes")(rows.map((row) => Object.assign({ side: 1, slope: basin.side_slope }, row)))
          }
        />
        <Choice
          label="Shelf"
          value={basin.shelf ? "yes" : "no"}
          options={{ no: "none", yes: "all round" }}
          commit={(value) => commit("shelf")(value === "yes" ? { height: 0.3, width: 1 } : null)}
          testId="pond-shelf"
        />
        {basin.shelf && (
          <>
            <NumberField
              label="Above the base"
              value={basin.shelf.height}
              quantity="length"
              commit={commit("shelf/height")}
            />
            <NumberField
              label="Width of the shelf"
              value={basin.shelf.width}
              quantity="length"
              commit={commit("shelf/width")}
              testId="shelf-width"
            />
          </>
        )}
        <Choice
          label="Ramp"
          value={basin.ramp ? "yes" : "no"}
          options={{ no: "none", yes: "into the pond" }}
          commit={(value) => commit("ramp")(value === "yes" ? { side: 1, width: 3, slope: 8 } : null)}
          testId="pond-ramp"
        />
        {basin.ramp && (
          <>
            <NumberField label="From side" value={basin.ramp.side} quantity="count" commit={commit("ramp/side")} />
            <NumberField label="Its width" value={basin.ramp.width} quantity="length" commit={commit("ramp/width")} />
            <NumberField label="Its slope" value={basin.ramp.slope} quantity="slope" commit={commit("ramp/slope")} />
          </>
        )}
        <MoveSides id={id} />
        <Rows
          title={drawn === "base" ? "Base corners" : "Rim corners"}
          columns={[
            { key: "x", label: "east", quantity: "length" },
            { key: "y", label: "north", quantity: "length" },
          ]}
          rows={outlineOf(basin).map(([x, y]) => ({ x, y }))}
          commit={(rows) => commit(drawn)(rows.map(({ x, y }) => [x, y]))}
        />
      </details>
      <Choice
        label="Where the ground is lower"
        value={basin.bank ? "bank" : "no"}
        options={{ no: "it spills there", bank: "a bank is built" }}
        commit={(value) => commit("bank")(value === "bank" ? {} : null)}
        testId="pond-bank"
      />
      {basin.bank && (
        <>
          <NumberField
            label="Crest of the bank"
            value={basin.bank.crest_width}
            quantity="length"
            commit={commit("bank/crest_width")}
            testId="crest-width"
          />
          <NumberField
            label="Outer slope of the bank"
            value={basin.bank.outer_slope}
            quantity="slope"
            commit={commit("bank/outer_slope")}
          />
        </>
      )}
      <PondInGround pond={pond} basin={basin} />
    </StoreForm>
  );
}

/** Moves the outline outward in parallel: all of its sides, or the one of a number. */
function MoveSides({ id }: { id: string }) {
  const { apply } = useProject();
  const [side, setSide] = useState(0);
  return (
    <>
      <NumberField
        label="Side to move, 0 for all"
        value={side}
        quantity="count"
        commit={setSide}
        testId="side-to-move"
      />
      <NumberField
        label="Outward by"
        value={0}
        quantity="length"
        commit={(by) =>
          by === 0 ? undefined : apply([{ edit: "move sides", element: id, by, side: side > 0 ? side : null }])
        }
        testId="outward-by"
      />
    </>
  );
}

/** Banks around the base. */
function mark(c: Canvas) {
  c.rect(-10, -6, 20, 12);
  for (const sx of [-1, 1])
    for (const sy of [-1, 1]) {
      c.moveTo(17 * sx, 12 * sy);
      c.lineTo(10 * sx, 6 * sy);
    }
}

export const KIND: NodeKind<Basin> = {
  kind: "basin",
  order: 6,
  draws: [{ drawn: "basin", label: "Pond, by outline", key: "b" }],
  label: () => "Pond",
  radius: 15,
  outline: box,
  mark,
  Form,
};

import type { Outfall } from "../../document/types";
import { InvertField } from "../../fields/InvertField";
import { useCommit } from "../../fields/useCommit";
import { Choice, Tick } from "../../primitives/Choice";
import { NumberField } from "../../primitives/NumberField";
import { Rows } from "../../primitives/Rows";
import type { Canvas, NodeKind } from "../node";

function Form({ id, node: outfall }: { id: string; node: Outfall }) {
  const commit = useCommit("nodes", id);
  const tail = outfall.tail_water;
  const now = tail.kind === "fixed" ? tail.level : outfall.invert + 0.3;
  const made: Record<string, unknown> = {
    free: { kind: "free" },
    normal: { kind: "normal" },
    fixed: { kind: "fixed", level: now },
    series: {
      kind: "series",
      rows: [
        { time: 0, level: now },
        { time: 22_356, level: now + 0.5 },
        { time: 44_712, level: now },
      ],
    },
  };
  return (
    <>
      <NumberField
        label="Ground"
        value={outfall.ground}
        quantity="level"
        commit={commit("ground")}
        testId="outfall-ground"
      />
      <InvertField id={id} value={outfall.invert} top={outfall.ground} />
      <Choice
        label="Tail water"
        value={tail.kind}
        options={{ free: "free", normal: "normal depth", fixed: "fixed level", series: "level over time" }}
        commit={(kind) => commit("tail_water")(made[kind])}
        testId="tail-water"
      />
      {tail.kind === "fixed" && (
        <NumberField label="Level" value={tail.level} quantity="level" commit={commit("tail_water/level")} />
      )}
      {tail.kind === "series" && (
        <Rows
          title="Levels outside"
          columns={[
            { key: "time", label: "time", quantity: "hours" },
            { key: "level", label: "level", quantity: "level" },
          ]}
          rows={tail.rows}
          commit={commit("tail_water/rows")}
        />
      )}
      <Tick label="Flap" value={outfall.flap} commit={commit("flap")} />
    </>
  );
}

/** A plate with an arrow head out of it. */
function mark(c: Canvas) {
  c.beginPath();
  c.rect(-5, -5, 10, 10);
  c.fillStyle = "#fcfaf3";
  c.fill();
  c.moveTo(-2, -3);
  c.lineTo(2, 0);
  c.lineTo(-2, 3);
}

export const KIND: NodeKind<Outfall> = {
  kind: "outfall",
  order: 4,
  draws: [{ drawn: "outfall", label: "Outfall", key: "o" }],
  label: () => "Outfall",
  radius: 6,
  mark,
  Form,
};

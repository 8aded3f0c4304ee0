import { areaOf } from "../document/course";
import { useProject } from "../document/store";
import { drawnAs, isStore, type NetNode, outlineOf, spillOf } from "../document/types";
import { show, unitOf } from "../document/units";
import { nodeKind } from "../kinds";
import { ByTheGrid } from "../primitives/ByTheGrid";
import { Figure } from "../primitives/Figure";
import { HowMuchMore } from "../search/HowMuchMore";
import { ByDuration } from "./ByDuration";
import { DrainsHere } from "./CatchmentCard";
import { Cause } from "./Cause";
import { HeldBack } from "./HeldBack";
import { Hydrograph } from "./Hydrograph";
import { NodeInputs } from "./NodeInputs";
import { Provenance, QualityMark } from "./Quality";
import { StorePerformance } from "./StorePerformance";
import { Title } from "./Title";

/** A picked node: inputs, what drains to it, peaks. */
export function NodeCard({ id, node }: { id: string; node: NetNode }) {
  const { answer, before } = useProject();
  const worst = answer?.nodes[id];
  const old = before?.nodes[id];
  const storm = (key: string | null | undefined) => answer?.storms.find((s) => s.key === key)?.label ?? "";
  return (
    <>
      <Title
        id={id}
        name={node.name}
        kind={nodeKind(node).label(node)}
        note={
          node.kind === "outfall"
            ? `tail water: ${node.tail_water.kind}`
            : `${show(node.cover - node.invert, "length")} ${unitOf("length")} deep`
        }
      />
      <NodeInputs id={id} node={node} />
      {answer?.nodes[id] && node.kind === "basin" && (
        <Figure
          label={drawnAs(node) === "base" ? "Base" : "Within the rim"}
          value={show(areaOf(outlineOf(node)), "area")}
          unit={unitOf("area")}
        />
      )}
      {node.kind !== "outfall" && <DrainsHere id={id} />}
      <h3 className="mt-2 border-t border-rule pt-1 font-semibold">
        Peaks
        <QualityMark storm={worst?.outflow_storm ?? worst?.level_storm} element={id} />
      </h3>
      {node.kind === "outfall" ? (
        <Figure
          label="Outflow"
          value={show(worst?.outflow, "flow")}
          unit={unitOf("flow")}
          note={storm(worst?.outflow_storm)}
        />
      ) : (
        <>
          <Figure
            label="Level"
            value={show(worst?.level, "level")}
            unit={unitOf("length")}
            note={storm(worst?.level_storm)}
          />
          <ByTheGrid value={answer?.worth.level[id]} unit="m" />
          {old?.level != null && worst?.level != null && Math.abs(old.level - worst.level) > 5e-4 && (
            <p className="text-right text-[11px] text-ink3">
              was <span className="figure">{show(old.level, "level")}</span> {unitOf("level")}
            </p>
          )}
          <Figure
            label="Below cover"
            value={show(worst?.level != null ? spillOf(node) - worst.level : null, "length")}
            unit={unitOf("length")}
          />
          <Figure label="Flooded" value={show(worst?.flooded, "volume")} unit={unitOf("volume")} />
          <Cause id={id} />
          <HeldBack id={id} />
          {isStore(node) && <StorePerformance id={id} />}
          <Hydrograph column={`level:${id}`} quantity="level" label="Level" limit={spillOf(node)} />
        </>
      )}
      <HowMuchMore id={id} paved={node.kind !== "outfall"} />
      <Provenance storm={worst?.outflow_storm ?? worst?.level_storm} />
      <ByDuration id={id} limit={node.kind === "outfall" ? undefined : spillOf(node)} />
    </>
  );
}

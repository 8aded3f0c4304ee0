import { useProject } from "../document/store";
import { type Control, isConduit, type NetLink } from "../document/types";
import { show, unitOf } from "../document/units";
import { FitThis } from "../fields/FitThis";
import { controlKind, DRAWN_LINKS } from "../kinds";
import { ByTheGrid } from "../primitives/ByTheGrid";
import { Figure } from "../primitives/Figure";
import { useChangeable } from "../search/fit/variables";
import { HowMuchMore } from "../search/HowMuchMore";
import { ByDuration } from "./ByDuration";
import { Cause } from "./Cause";
import { ConduitInputs } from "./ConduitInputs";
import { Hydrograph } from "./Hydrograph";
import { Provenance, QualityMark } from "./Quality";
import { RatingCurve } from "./RatingCurve";
import { Title } from "./Title";

/** What a control is given, by its kind. */
function ControlForm({ id, control }: { id: string; control: Control }) {
  const { Form } = controlKind(control);
  return <Form key={control.kind} id={id} control={control} />;
}

/** The way to the fit, of a control of which it may change something. */
function FitIt({ id }: { id: string }) {
  if (!useChangeable()?.some((one) => one.element === id)) return null;
  return (
    <p className="pt-1">
      <FitThis elements={[id]}>fit it over all storms</FitThis>
    </p>
  );
}

/** A picked link: inputs, its rating curve when it is a control, peaks. */
export function LinkCard({ id, link }: { id: string; link: NetLink }) {
  const { network, answer, before } = useProject();
  const worst = answer?.links[id];
  const old = before?.links[id];
  // of a conduit, at the end where more flows
  const upper = isConduit(link) && worst !== undefined && worst.flow_up > worst.flow_down;
  const storm = (key: string | null | undefined) => answer?.storms.find((s) => s.key === key)?.label ?? "";
  return (
    <>
      <Title
        name={link.name}
        id={id}
        kind={DRAWN_LINKS[link.kind]}
        note={`${network?.nodes[link.upstream]?.name} to ${network?.nodes[link.downstream]?.name}`}
      />
      {isConduit(link) ? (
        <ConduitInputs id={id} run={link} />
      ) : (
        <>
          <ControlForm id={id} control={link} />
          <RatingCurve id={id} control={link} />
          <FitIt id={id} />
        </>
      )}
      <h3 className="mt-2 border-t border-rule pt-1 font-semibold">
        Peaks
        <QualityMark storm={worst?.flow_storm} element={id} />
      </h3>
      <Figure label="Flow" value={show(worst?.flow, "flow")} unit={unitOf("flow")} note={storm(worst?.flow_storm)} />
      <ByTheGrid value={answer?.worth.flow[id]} unit="m3/s" />
      {worst && isConduit(link) && (
        <p className="text-right text-[11px] text-ink3" data-testid="flow-ends">
          upper end <span className="figure">{show(worst.flow_up, "flow")}</span>, lower end{" "}
          <span className="figure">{show(worst.flow_down, "flow")}</span> {unitOf("flow")}
        </p>
      )}
      {old && worst && Math.abs(old.flow - worst.flow) > 5e-5 && (
        <p className="text-right text-[11px] text-ink3">
          was <span className="figure">{show(old.flow, "flow")}</span> {unitOf("flow")}
        </p>
      )}
      {worst?.speed != null && (
        <Figure label="Speed" value={show(worst.speed, "speed")} unit={unitOf("speed")} note="" />
      )}
      {worst?.clearance != null && (
        <Figure
          label="Below soffit"
          value={show(worst.clearance, "length")}
          unit={unitOf("length")}
          note={storm(worst.clearance_storm)}
        />
      )}
      <Cause id={id} />
      <Hydrograph
        column={upper ? `into:${id}` : `flow:${id}`}
        quantity="flow"
        label={isConduit(link) ? `Flow at its ${upper ? "upper" : "lower"} end` : "Flow"}
      />
      <HowMuchMore id={id} paved={false} />
      <Provenance storm={worst?.flow_storm} />
      <ByDuration id={id} />
    </>
  );
}

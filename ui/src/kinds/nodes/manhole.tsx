import { ringFor } from "../../document/catalogue";
import { useProject } from "../../document/store";
import { depthOf, isConduit, type Manhole } from "../../document/types";
import { show, unitOf } from "../../document/units";
import { useCommit } from "../../fields/useCommit";
import { Choice, Tick } from "../../primitives/Choice";
import { NumberField } from "../../primitives/NumberField";
import type { Canvas, NodeKind } from "../node";
import { HeadLoss, PlanArea } from "../shared";

/** The ring that the catalogue has for this manhole, where it is another one. */
function Listed({ id, shaft, commit }: { id: string; shaft: Manhole; commit: (value: unknown) => void }) {
  const { network, project } = useProject();
  if (!network || !project) return null;
  const here = Object.values(network.links).filter((l) => isConduit(l) && (l.upstream === id || l.downstream === id));
  const largest = Math.max(0, ...here.map((l) => (isConduit(l) ? depthOf(l) : 0)));
  const ring = ringFor(project.catalogue, largest, shaft.cover - shaft.invert);
  const now = shaft.diameter ?? Math.sqrt((4 * shaft.plan_area) / Math.PI);
  if (ring !== null && Math.abs(ring - now) < 5e-4) return null;
  return (
    <p className="text-right text-[11px] text-ink3">
      catalogue:{" "}
      {ring === null ? (
        "none suits"
      ) : (
        <button type="button" className="textlink" onClick={() => commit(ring)} data-testid="take-ring">
          {show(ring, "diameter")} {unitOf("diameter")}
        </button>
      )}
    </p>
  );
}

function Form({ id, node: manhole }: { id: string; node: Manhole }) {
  const commit = useCommit("nodes", id);
  return (
    <>
      <Choice
        label="Size by"
        value={manhole.diameter === null ? "area" : "diameter"}
        options={{ area: "plan area", diameter: "diameter" }}
        commit={(by) => commit("diameter")(by === "diameter" ? 1.2 : null)}
      />
      {manhole.diameter === null ? (
        <PlanArea id={id} shaft={manhole} />
      ) : (
        <NumberField label="Diameter" value={manhole.diameter} quantity="diameter" commit={commit("diameter")} />
      )}
      <Listed id={id} shaft={manhole} commit={commit("diameter")} />
      <Choice
        label="Floor"
        value={manhole.benched === null ? "" : manhole.benched ? "benched" : "still"}
        options={{ "": "by exit losses", benched: "benched", still: "not benched" }}
        commit={(value) => commit("benched")(value === "" ? null : value === "benched")}
        testId="benched"
      />
      <Tick label="Sealed" value={manhole.sealed} commit={commit("sealed")} />
      <HeadLoss id={id} shaft={manhole} />
    </>
  );
}

/** A bolt where it is sealed. */
function mark(c: Canvas, manhole: Manhole) {
  if (!manhole.sealed) return;
  c.moveTo(-4.2, -4.2);
  c.lineTo(4.2, 4.2);
  c.moveTo(4.2, -4.2);
  c.lineTo(-4.2, 4.2);
}

export const KIND: NodeKind<Manhole> = {
  kind: "manhole",
  order: 1,
  draws: [{ drawn: "manhole", label: "Manhole", key: "m" }],
  label: () => "Manhole",
  radius: 6,
  mark,
  Form,
};

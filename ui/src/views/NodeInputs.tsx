import { ringFor } from "../document/catalogue";
import { useProject } from "../document/store";
import {
  depthOf,
  type Inflow,
  isConduit,
  type Manhole,
  type NetNode,
  type Outfall,
  type Shaft,
  type Stone,
  type Store,
} from "../document/types";
import { show, unitOf } from "../document/units";
import { Choice, Tick } from "../primitives/Choice";
import { NumberField } from "../primitives/NumberField";
import { Rows } from "../primitives/Rows";
import { InfiltrationInputs } from "./InfiltrationInputs";
import { LevelField } from "./LevelField";
import { useCommit } from "./useCommit";

type Commit = (field: string) => (value: unknown) => void;

/** What a node is given. */
export function NodeInputs({ id, node }: { id: string; node: NetNode }) {
  const commit = useCommit("nodes", id);
  if (node.kind === "outfall") return <OutfallInputs outfall={node} commit={commit} />;
  const store = node.kind === "storage" || node.kind === "basin" || node.kind === "stone";
  return (
    <>
      <NumberField
        label={store ? "Bank" : "Cover"}
        value={node.cover}
        quantity="level"
        commit={commit("cover")}
        testId="cover"
      />
      <LevelField label="Invert" value={node.invert} top={node.cover} commit={commit("invert")} testId="invert" />
      {store ? <StoreInputs store={node} commit={commit} /> : <ShaftInputs id={id} shaft={node} commit={commit} />}
      <details>
        <summary className="text-ink2">Floods and inflows</summary>
        <Choice
          label="Above cover"
          value={node.flooding}
          options={{ stored: "ponds, returned", lost: "is lost" }}
          commit={commit("flooding")}
        />
        {node.flooding === "stored" && (
          <>
            <NumberField label="Ponded area" value={node.ponded_area} quantity="area" commit={commit("ponded_area")} />
            <NumberField
              label="Side slope of ponding"
              value={node.ponded_side_slope}
              quantity="slope"
              commit={commit("ponded_side_slope")}
            />
          </>
        )}
        <InflowInputs inflows={node.inflows} commit={commit("inflows")} />
      </details>
    </>
  );
}

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

function ShaftInputs({ id, shaft, commit }: { id: string; shaft: Shaft; commit: Commit }) {
  const { network } = useProject();
  const loss = shaft.head_loss;
  const byDiameter = shaft.kind === "manhole" && shaft.diameter !== null;
  return (
    <>
      {shaft.kind === "manhole" && (
        <Choice
          label="Size by"
          value={byDiameter ? "diameter" : "area"}
          options={{ area: "plan area", diameter: "diameter" }}
          commit={(by) => commit("diameter")(by === "diameter" ? 1.2 : null)}
        />
      )}
      {byDiameter ? (
        <NumberField
          label="Diameter"
          value={(shaft as { diameter: number }).diameter}
          quantity="diameter"
          commit={commit("diameter")}
        />
      ) : (
        <NumberField label="Plan area" value={shaft.plan_area} quantity="shaft" commit={commit("plan_area")} />
      )}
      {shaft.kind === "manhole" && <Listed id={id} shaft={shaft} commit={commit("diameter")} />}
      {shaft.kind === "manhole" && (
        <Choice
          label="Floor"
          value={shaft.benched === null ? "" : shaft.benched ? "benched" : "still"}
          options={{
            "": "by exit losses",
            benched: "benched",
            still: "not benched",
          }}
          commit={(value) => commit("benched")(value === "" ? null : value === "benched")}
          testId="benched"
        />
      )}
      {shaft.kind === "manhole" && <Tick label="Sealed" value={shaft.sealed} commit={commit("sealed")} />}
      {shaft.kind === "inlet" && (
        <>
          <NumberField label="Capacity" value={shaft.capacity} quantity="flow" commit={commit("capacity")} />
          <Choice
            label="The rest runs to"
            value={shaft.bypass ?? ""}
            options={{
              "": "nowhere: lost",
              ...Object.fromEntries(
                Object.entries(network?.nodes ?? {})
                  .filter(([key, node]) => key !== id && node.kind !== "outfall")
                  .map(([key, node]) => [key, node.name]),
              ),
            }}
            commit={(value) => commit("bypass")(value || null)}
          />
        </>
      )}
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

function StoreInputs({ store, commit }: { store: Store; commit: Commit }) {
  return (
    <>
      <NumberField
        label="Permanent water"
        value={store.initial_depth}
        quantity="length"
        commit={commit("initial_depth")}
      />
      {store.kind === "storage" && (
        <Rows
          title="Areas"
          columns={[
            { key: "depth", label: "depth", quantity: "length" },
            { key: "area", label: "area", quantity: "area" },
          ]}
          rows={store.table}
          commit={commit("table")}
        />
      )}
      {store.kind === "basin" && (
        <>
          <NumberField label="Side slope" value={store.side_slope} quantity="slope" commit={commit("side_slope")} />
          <Rows
            title="Base corners"
            columns={[
              { key: "x", label: "east", quantity: "length" },
              { key: "y", label: "north", quantity: "length" },
            ]}
            rows={store.base.map(([x, y]) => ({ x, y }))}
            commit={(rows) => commit("base")(rows.map(({ x, y }) => [x, y]))}
          />
        </>
      )}
      {store.kind === "stone" && (
        <>
          <NumberField label="Length" value={store.length} quantity="length" commit={commit("length")} />
          <NumberField label="Width" value={store.width} quantity="length" commit={commit("width")} />
          <NumberField
            label="Depth of stone"
            value={store.stone_depth}
            quantity="length"
            commit={commit("stone_depth")}
          />
          <NumberField
            label="Gradient of the base"
            value={store.base_slope}
            quantity="share"
            commit={commit("base_slope")}
          />
          <NumberField label="Porosity of stone" value={store.porosity} quantity="share" commit={commit("porosity")} />
          <CoverLayer stone={store} commit={commit} />
        </>
      )}
      <InfiltrationInputs value={store.infiltration} commit={commit("infiltration")} />
    </>
  );
}

/** What lies on the stone up to the surface: blocks and bedding, soil. It holds water in voids of its own alone. */
function CoverLayer({ stone, commit }: { stone: Stone; commit: Commit }) {
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
        commit={commit("cover_porosity")}
        testId="cover-porosity"
      />
    </>
  );
}

function OutfallInputs({ outfall, commit }: { outfall: Outfall; commit: Commit }) {
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
      <LevelField label="Invert" value={outfall.invert} top={outfall.ground} commit={commit("invert")} />
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

const INFLOWS = { constant: "constant", hydrograph: "hydrograph", pattern: "daily pattern" };

function InflowInputs({ inflows, commit }: { inflows: Inflow[]; commit: (inflows: Inflow[]) => void }) {
  const made: Record<string, Inflow> = {
    constant: { kind: "constant", flow: 0.001 },
    hydrograph: {
      kind: "hydrograph",
      rows: [
        { time: 0, flow: 0 },
        { time: 1800, flow: 0.01 },
        { time: 5400, flow: 0 },
      ],
    },
    pattern: { kind: "pattern", mean: 0.001, factors: [0.5, 0.4, 1.3, 1.1, 1.2, 1.5], start: 0 },
  };
  const set = (k: number, inflow: Inflow) => commit(inflows.map((old, i) => (i === k ? inflow : old)));
  return (
    <>
      {inflows.map((inflow, k) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: inflows have no other identity
        <fieldset key={k} className="mt-1 border-t border-rule">
          <legend>
            Inflow: {INFLOWS[inflow.kind]}{" "}
            <button
              type="button"
              className="textlink text-[11px]"
              onClick={() => commit(inflows.filter((_, i) => i !== k))}
            >
              remove
            </button>
          </legend>
          {inflow.kind === "constant" && (
            <NumberField
              label="Flow"
              value={inflow.flow}
              quantity="flow"
              commit={(flow) => set(k, { ...inflow, flow })}
            />
          )}
          {inflow.kind === "hydrograph" && (
            <Rows
              title="Hydrograph"
              columns={[
                { key: "time", label: "time", quantity: "minutes" },
                { key: "flow", label: "flow", quantity: "flow" },
              ]}
              rows={inflow.rows}
              commit={(rows) => set(k, { ...inflow, rows })}
            />
          )}
          {inflow.kind === "pattern" && (
            <>
              <NumberField
                label="Mean"
                value={inflow.mean}
                quantity="flow"
                commit={(mean) => set(k, { ...inflow, mean })}
              />
              <NumberField
                label="Storm begins at hour"
                value={inflow.start}
                quantity="plain"
                commit={(start) => set(k, { ...inflow, start })}
              />
              <Rows
                title="Factors of the day"
                columns={[{ key: "factor", label: "factor", quantity: "plain" }]}
                rows={inflow.factors.map((factor) => ({ factor }))}
                commit={(rows) => set(k, { ...inflow, factors: rows.map((row) => row.factor) })}
              />
            </>
          )}
        </fieldset>
      ))}
      <Choice
        label="Add an inflow"
        value=""
        options={{ "": "choose", ...INFLOWS }}
        commit={(kind) => made[kind] && commit([...inflows, made[kind] as Inflow])}
      />
    </>
  );
}

import { type Inflow, isStore, type NetNode } from "../document/types";
import { InvertField } from "../fields/InvertField";
import { useCommit } from "../fields/useCommit";
import { nodeKind } from "../kinds";
import { Choice } from "../primitives/Choice";
import { NumberField } from "../primitives/NumberField";
import { Rows } from "../primitives/Rows";

/** What a node is given. */
export function NodeInputs({ id, node }: { id: string; node: NetNode }) {
  const commit = useCommit("nodes", id);
  const { Form } = nodeKind(node);
  if (node.kind === "outfall") return <Form id={id} node={node} />;
  return (
    <>
      <NumberField
        label={isStore(node) ? "Bank" : "Cover"}
        value={node.cover}
        quantity="level"
        commit={commit("cover")}
        testId="cover"
      />
      <InvertField id={id} value={node.invert} top={node.cover} />
      <Form id={id} node={node} />
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

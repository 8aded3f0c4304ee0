import { useProject } from "../document/store";
import { heightOf, type NetLink, type NetNode, type Pipe, type Storage } from "../document/types";
import { show } from "../document/units";
import { Figure } from "../primitives/Figure";
import { NumberField } from "../primitives/NumberField";
import { ByDuration } from "./ByDuration";
import { CatchmentCard, DrainsHere } from "./CatchmentCard";
import { Hydrograph } from "./Hydrograph";
import { fullBore, gradientOf, LADDER } from "./hydraulics";

/** The picked element: inputs, what they imply, peaks with their storms, how the peak varies over durations. */
export function Inspector() {
  const { network, cursor } = useProject();
  const node = cursor.element ? network?.nodes[cursor.element] : undefined;
  const link = cursor.element ? network?.links[cursor.element] : undefined;
  const ground = cursor.element ? network?.catchments[cursor.element] : undefined;
  return (
    <aside
      // biome-ignore lint/a11y/noNoninteractiveTabindex: what scrolls must be reachable by keyboard
      tabIndex={0}
      className="w-[272px] shrink-0 overflow-y-auto border-l border-rule2 px-3 py-2"
      aria-label="Inspector"
      data-testid="inspector"
    >
      {!node && !link && !ground && (
        <p className="text-ink3">Pick a pipe, a node, a control or a catchment on the plan or the section.</p>
      )}
      {ground && <CatchmentCard key={cursor.element} id={cursor.element ?? ""} ground={ground} />}
      {link && <LinkCard key={cursor.element} id={cursor.element ?? ""} link={link} />}
      {node && <NodeCard key={cursor.element} id={cursor.element ?? ""} node={node} />}
    </aside>
  );
}

export function useCommit(collection: "nodes" | "links", id: string) {
  const { edit, optionPath } = useProject();
  return (field: string) => (value: unknown) =>
    void edit([{ op: "replace", path: `${optionPath}/${collection}/${id}/${field}`, value }]);
}

function Title({ name, kind, note }: { name: string; kind: string; note: string }) {
  return (
    <header className="mb-2 border-b border-rule pb-1">
      <h2 className="text-[15px] font-semibold" data-testid="inspector-title">
        {kind} {name}
      </h2>
      <p className="text-[11px] text-ink2">{note}</p>
    </header>
  );
}

const KIND: Record<string, string> = {
  pipe: "Pipe",
  orifice: "Orifice",
  weir: "Weir",
  manhole: "Manhole",
  junction: "Junction",
  outfall: "Outfall",
};

function LinkCard({ id, link }: { id: string; link: NetLink }) {
  const { network, answer, before } = useProject();
  const commit = useCommit("links", id);
  const worst = answer?.links[id];
  const old = before?.links[id];
  const storm = (key: string | null | undefined) => answer?.storms.find((s) => s.key === key)?.label ?? "";
  return (
    <>
      <Title
        name={link.name}
        kind={KIND[link.kind] ?? ""}
        note={`${network?.nodes[link.upstream]?.name} to ${network?.nodes[link.downstream]?.name}`}
      />
      {link.kind === "pipe" && <PipeInputs id={id} pipe={link} />}
      {link.kind === "orifice" && (
        <>
          {link.section.shape === "circular" && (
            <NumberField
              label="Diameter"
              value={link.section.diameter}
              quantity="diameter"
              commit={commit("section/diameter")}
              testId="diameter"
            />
          )}
          <NumberField label="Invert" value={link.invert} quantity="level" commit={commit("invert")} />
          <NumberField
            label="Coefficient"
            value={link.discharge_coefficient}
            quantity="plain"
            commit={commit("discharge_coefficient")}
          />
        </>
      )}
      {link.kind === "weir" && (
        <>
          <NumberField label="Crest" value={link.crest} quantity="level" commit={commit("crest")} />
          <NumberField label="Length" value={link.length} quantity="length" commit={commit("length")} />
          <NumberField label="Coefficient" value={link.coefficient} quantity="plain" commit={commit("coefficient")} />
        </>
      )}
      <h3 className="mt-2 border-t border-rule pt-1 font-semibold">Peaks</h3>
      <Figure label="Flow" value={show(worst?.flow, "flow")} unit="L/s" note={storm(worst?.flow_storm)} />
      {old && worst && Math.abs(old.flow - worst.flow) > 5e-5 && (
        <p className="text-right text-[11px] text-ink3">
          was <span className="figure">{show(old.flow, "flow")}</span> L/s
        </p>
      )}
      {worst?.speed != null && <Figure label="Speed" value={show(worst.speed, "speed")} unit="m/s" note="" />}
      {worst?.spare != null && (
        <Figure label="Below soffit" value={show(worst.spare, "length")} unit="m" note={storm(worst.spare_storm)} />
      )}
      <Hydrograph column={`flow:${id}`} quantity="flow" label="Flow" />
      <ByDuration id={id} />
    </>
  );
}

function PipeInputs({ id, pipe }: { id: string; pipe: Pipe }) {
  const { network } = useProject();
  const commit = useCommit("links", id);
  const d = heightOf(pipe.section);
  const gradient = gradientOf(pipe);
  const nearest = LADDER.reduce(
    (best, size, i) => (Math.abs(size - d) < Math.abs((LADDER[best] ?? 0) - d) ? i : best),
    0,
  );
  const from = Math.min(Math.max(nearest - 2, 0), LADDER.length - 5);
  return (
    <>
      {pipe.section.shape === "circular" && (
        <div className="mb-2 flex items-end justify-between" role="radiogroup" aria-label="Diameter">
          {LADDER.slice(from, from + 5).map((size) => {
            const capacity = fullBore({ shape: "circular", diameter: size }, pipe.roughness, gradient);
            const chosen = Math.abs(size - d) < 1e-6;
            const r = 6 + (size / (LADDER[from + 4] ?? 1)) * 11;
            return (
              <button
                key={size}
                type="button"
                role="radio"
                aria-checked={chosen}
                data-testid={`size-${Math.round(size * 1000)}`}
                onClick={() => !chosen && commit("section/diameter")(size)}
                className={`flex w-[47px] flex-col items-center px-1 py-1 ${chosen ? "bg-ink text-hi" : ""}`}
              >
                <svg width={36} height={36} aria-hidden="true">
                  <circle
                    cx={18}
                    cy={18}
                    r={r}
                    fill="var(--color-water2)"
                    stroke={chosen ? "var(--color-hi)" : "var(--color-ink)"}
                  />
                </svg>
                <span className="figure">{Math.round(size * 1000)}</span>
                <span className={`figure text-[11px] ${chosen ? "" : "text-ink3"}`}>{show(capacity, "flow", 0)}</span>
              </button>
            );
          })}
        </div>
      )}
      {pipe.section.shape === "circular" && (
        <NumberField
          label="Diameter"
          value={d}
          quantity="diameter"
          commit={commit("section/diameter")}
          testId="diameter"
        />
      )}
      <NumberField label="Length" value={pipe.length} quantity="length" commit={commit("length")} testId="length" />
      <NumberField
        label={`Invert at ${network?.nodes[pipe.upstream]?.name}`}
        value={pipe.upstream_invert}
        quantity="level"
        commit={commit("upstream_invert")}
      />
      <NumberField
        label={`Invert at ${network?.nodes[pipe.downstream]?.name}`}
        value={pipe.downstream_invert}
        quantity="level"
        commit={commit("downstream_invert")}
      />
      <NumberField
        label="Roughness"
        value={pipe.roughness}
        quantity="roughness"
        commit={commit("roughness")}
        testId="roughness"
      />
      <Figure label="Gradient" value={gradient > 0 ? `1 in ${Math.round(1 / gradient)}` : "runs uphill"} unit="" />
      <Figure
        label="Capacity running full"
        value={show(fullBore(pipe.section, pipe.roughness, gradient), "flow")}
        unit="L/s"
      />
    </>
  );
}

function NodeCard({ id, node }: { id: string; node: NetNode }) {
  const { answer, before } = useProject();
  const commit = useCommit("nodes", id);
  const worst = answer?.nodes[id];
  const old = before?.nodes[id];
  const storm = (key: string | null | undefined) => answer?.storms.find((s) => s.key === key)?.label ?? "";
  const kind = node.kind === "storage" ? (node.form === "pond" ? "Pond" : "Tank") : (KIND[node.kind] ?? "");
  return (
    <>
      <Title
        name={node.name}
        kind={kind}
        note={
          node.kind === "outfall"
            ? `tail water: ${node.tail_water.kind}`
            : `${(node.cover - node.invert).toFixed(2)} m deep`
        }
      />
      {node.kind !== "outfall" && (
        <NumberField
          label={node.kind === "storage" ? "Bank" : "Cover"}
          value={node.cover}
          quantity="level"
          commit={commit("cover")}
        />
      )}
      <NumberField label="Invert" value={node.invert} quantity="level" commit={commit("invert")} />
      {node.kind === "outfall" && node.tail_water.kind === "fixed" && (
        <NumberField
          label="Tail water"
          value={node.tail_water.level}
          quantity="level"
          commit={commit("tail_water/level")}
        />
      )}
      {(node.kind === "manhole" || node.kind === "junction") && (
        <NumberField label="Plan area" value={node.plan_area} quantity="shaft" commit={commit("plan_area")} />
      )}
      {node.kind === "storage" && <StorageTable id={id} storage={node} />}
      {node.kind !== "outfall" && <DrainsHere id={id} />}
      <h3 className="mt-2 border-t border-rule pt-1 font-semibold">Peaks</h3>
      {node.kind === "outfall" ? (
        <Figure label="Outflow" value={show(worst?.outflow, "flow")} unit="L/s" note={storm(worst?.outflow_storm)} />
      ) : (
        <>
          <Figure label="Level" value={show(worst?.level, "level")} unit="m" note={storm(worst?.level_storm)} />
          {old && worst && Math.abs(old.level - worst.level) > 5e-4 && (
            <p className="text-right text-[11px] text-ink3">
              was <span className="figure">{show(old.level, "level")}</span> m
            </p>
          )}
          <Figure label="Below cover" value={show(worst ? node.cover - worst.level : null, "length")} unit="m" />
          <Figure label="Flooded" value={show(worst?.flooded, "volume")} unit="m³" />
          <Hydrograph column={`level:${id}`} quantity="level" label="Level" limit={node.cover} />
        </>
      )}
      <ByDuration id={id} limit={node.kind === "outfall" ? undefined : node.cover} />
    </>
  );
}

function StorageTable({ id, storage }: { id: string; storage: Storage }) {
  const commit = useCommit("nodes", id);
  const volume = storage.table.slice(1).reduce((sum, row, i) => {
    const above = storage.table[i];
    return above ? sum + 0.5 * (row.area + above.area) * (row.depth - above.depth) : sum;
  }, 0);
  return (
    <>
      <p className="mt-1 flex justify-between text-[11px] text-ink3">
        <span>depth m</span>
        <span>area m²</span>
      </p>
      {storage.table.map((row, i) => (
        <NumberField
          key={row.depth}
          label={row.depth.toFixed(2)}
          value={row.area}
          quantity="area"
          commit={commit(`table/${i}/area`)}
          testId={`area-${i}`}
        />
      ))}
      <Figure label="Holds" value={show(volume, "volume", 0)} unit="m³" />
    </>
  );
}

import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { api, call } from "../api/client";
import { ladderOf } from "../document/catalogue";
import { type Change, useProject } from "../document/store";
import { type Channel, type Conduit, depthOf, heightOf, type Pipe, type Trench, topOf } from "../document/types";
import { show, unitOf } from "../document/units";
import { Choice } from "../primitives/Choice";
import { Figure } from "../primitives/Figure";
import { NumberField } from "../primitives/NumberField";
import { Rows } from "../primitives/Rows";
import { gradientOf } from "./hydraulics";
import { InfiltrationInputs } from "./InfiltrationInputs";
import { LevelField } from "./LevelField";
import { CLOSED, OPEN, SectionInputs } from "./SectionInputs";
import { useCommit } from "./useCommit";

/** Sizes around the present one, each with what it carries full. */
function Ladder({ id, pipe, commit }: { id: string; pipe: Pipe; commit: (field: string) => (value: unknown) => void }) {
  const { project, id: project_id, option, revision } = useProject();
  const d = heightOf(pipe.section);
  const sizes = project ? ladderOf(project.catalogue, pipe.material) : [];
  const nearest = sizes.reduce(
    (best, size, i) => (Math.abs(size - d) < Math.abs((sizes[best] ?? 0) - d) ? i : best),
    0,
  );
  const from = Math.max(Math.min(nearest - 2, sizes.length - 5), 0);
  const shown = sizes.slice(from, from + 5);
  const { data: capacities } = useQuery({
    queryKey: ["full-bore", project_id, option, id, revision, shown],
    enabled: !!project_id && shown.length > 0,
    placeholderData: keepPreviousData,
    queryFn: () =>
      call(
        api.GET("/api/projects/{project_id}/options/{option}/links/{pipe}/full-bore", {
          params: { path: { project_id: project_id ?? "", option, pipe: id }, query: { diameter: shown } },
        }),
      ),
  });
  return (
    <div className="mb-2 flex items-end justify-between" role="radiogroup" aria-label="Diameter">
      {shown.map((size) => {
        const capacity = capacities?.[shown.indexOf(size)];
        const chosen = Math.abs(size - d) < 1e-6;
        const r = 6 + (size / (shown.at(-1) ?? 1)) * 11;
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
            <span className="figure">{show(size, "diameter")}</span>
            <span className={`figure text-[11px] ${chosen ? "" : "text-ink3"}`}>
              {show(capacity, "flow", unitOf("flow") === "L/s" ? 0 : 1)}
            </span>
          </button>
        );
      })}
    </div>
  );
}

/** The material in the catalogue; choosing one gives the pipe its roughness. */
function Material({ id, pipe }: { id: string; pipe: Pipe }) {
  const { project, optionPath, edit } = useProject();
  const names = project?.catalogue.pipes.map((p) => p.name) ?? [];
  const options = Object.fromEntries([...new Set([pipe.material ?? "", ...names])].map((n) => [n, n || "not said"]));
  const choose = (name: string) => {
    const roughness = project?.catalogue.pipes.find((p) => p.name === name)?.roughness;
    const set = (field: string, value: unknown): Change => ({
      op: "add",
      path: `${optionPath}/links/${id}/${field}`,
      value,
    });
    void edit([set("material", name || null), ...(roughness ? [set("roughness", roughness)] : [])]);
  };
  return <Choice label="Material" value={pipe.material ?? ""} options={options} commit={choose} testId="material" />;
}

/** What a pipe, a channel or a trench is given, and what that implies. */
export function ConduitInputs({ id, run }: { id: string; run: Conduit }) {
  const { network, fullBore } = useProject();
  const full = fullBore[id];
  const commit = useCommit("links", id);
  const gradient = gradientOf(run);
  const number = (label: string, field: string, value: number, quantity: Parameters<typeof show>[1]) => (
    <NumberField label={label} value={value} quantity={quantity} commit={commit(field)} testId={field} />
  );
  return (
    <>
      {run.kind === "pipe" && run.section.shape === "circular" && <Ladder id={id} pipe={run} commit={commit} />}
      {run.kind === "trench" ? (
        <TrenchInputs run={run} commit={commit} />
      ) : (
        <SectionInputs section={run.section} shapes={run.kind === "pipe" ? CLOSED : OPEN} commit={commit("section")} />
      )}
      {run.kind === "pipe" && <Material pipe={run} id={id} />}
      {number("Length", "length", run.length, "length")}
      {(["upstream", "downstream"] as const).map((end) => {
        const node = network?.nodes[run[end]];
        const field = `${end}_invert` as const;
        return (
          <LevelField
            key={end}
            label={`Invert at ${node?.name}`}
            value={run[field]}
            top={node ? topOf(node) : null}
            commit={commit(field)}
            testId={field}
          />
        );
      })}
      {number("Roughness", "roughness", run.roughness, "roughness")}
      {run.kind === "pipe" && number("Barrels", "barrels", run.barrels, "count")}
      {run.kind === "pipe" && number("Silt", "silt", run.silt, "diameter")}
      <details>
        <summary className="text-ink2">Losses in velocity heads</summary>
        {number("Entry", "entry_loss", run.entry_loss, "plain")}
        {number("Bends", "bend_loss", run.bend_loss, "plain")}
        <Choice
          label="Exit"
          value={run.exit_loss === null ? "usual" : "typed"}
          options={{ usual: "usual: 1 or 0", typed: "typed" }}
          commit={(value) => commit("exit_loss")(value === "typed" ? 1 : null)}
          testId="exit_by"
        />
        {run.exit_loss !== null && number("Exit loss", "exit_loss", run.exit_loss, "plain")}
        <Choice
          label="Flap"
          value={run.flap ? "yes" : "no"}
          options={{ no: "none", yes: "lets nothing back" }}
          commit={(value) => commit("flap")(value === "yes")}
        />
      </details>
      {run.kind === "channel" && <BedInputs run={run} commit={commit} />}
      {run.kind !== "pipe" && <InfiltrationInputs value={run.infiltration} commit={commit("infiltration")} />}
      <Figure label="Gradient" value={gradient > 0 ? `1 in ${Math.round(1 / gradient)}` : "runs uphill"} unit="" />
      {run.kind === "pipe" && full !== undefined && full !== null && (
        <Figure label="Full-bore capacity" value={show(full, "flow")} unit={unitOf("flow")} />
      )}
      {run.kind !== "pipe" && (
        <Figure label="Bank above bed" value={show(depthOf(run), "length")} unit={unitOf("length")} />
      )}
    </>
  );
}

type Commit = (field: string) => (value: unknown) => void;

function TrenchInputs({ run, commit }: { run: Trench; commit: Commit }) {
  return (
    <>
      <NumberField label="Width" value={run.width} quantity="diameter" commit={commit("width")} />
      <NumberField label="Depth of stone" value={run.height} quantity="diameter" commit={commit("height")} />
      <NumberField label="Porosity" value={run.porosity} quantity="share" commit={commit("porosity")} />
      <NumberField label="Stone size" value={run.stone_size} quantity="diameter" commit={commit("stone_size")} />
      <Choice
        label="Perforated pipe"
        value={run.pipe ? "yes" : "no"}
        options={{ yes: "on the floor", no: "none" }}
        commit={(value) => commit("pipe")(value === "yes" ? { shape: "circular", diameter: 0.15 } : null)}
      />
      {run.pipe && (
        <NumberField
          label="Diameter"
          value={run.pipe.diameter}
          quantity="diameter"
          commit={(diameter) => commit("pipe")({ shape: "circular", diameter })}
        />
      )}
    </>
  );
}

function BedInputs({ run, commit }: { run: Channel; commit: Commit }) {
  if (run.bed.length === 0)
    return (
      <button
        type="button"
        className="textlink text-[11px]"
        onClick={() =>
          commit("bed")([{ chainage: run.length / 2, level: (run.upstream_invert + run.downstream_invert) / 2 }])
        }
      >
        give the bed levels between its ends
      </button>
    );
  return (
    <Rows
      title="Bed between the ends"
      columns={[
        { key: "chainage", label: "from upstream", quantity: "length" },
        { key: "level", label: "level", quantity: "level" },
      ]}
      rows={run.bed}
      commit={commit("bed")}
    />
  );
}

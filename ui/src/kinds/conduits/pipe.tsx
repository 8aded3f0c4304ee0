import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { api, call } from "../../api/client";
import { ladderOf } from "../../document/catalogue";
import { useResults } from "../../document/results";
import { type Change, useProject } from "../../document/store";
import { heightOf, type Pipe } from "../../document/types";
import { show, unitOf } from "../../document/units";
import { CLOSED, SectionInputs } from "../../fields/SectionInputs";
import { useCommit } from "../../fields/useCommit";
import { Choice } from "../../primitives/Choice";
import { Figure } from "../../primitives/Figure";
import { NumberField } from "../../primitives/NumberField";
import type { ConduitKind } from "../conduit";
import { roundPipes, runThrough } from "../path";

/** Sizes around the present one, each with what it carries full. */
function Ladder({ id, pipe, commit }: { id: string; pipe: Pipe; commit: (field: string) => (value: unknown) => void }) {
  const { project, id: project_id, option, revision } = useProject();
  const { still } = useResults();
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
    enabled: !!project_id && shown.length > 0 && still,
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

function Section({ id, conduit: pipe }: { id: string; conduit: Pipe }) {
  const commit = useCommit("links", id);
  const { network, sizePipes } = useProject();
  const run = () => (network ? roundPipes(network, runThrough(network, id)) : []);
  return (
    <>
      {pipe.section.shape === "circular" && <Ladder id={id} pipe={pipe} commit={commit} />}
      <SectionInputs section={pipe.section} shapes={CLOSED} commit={commit("section")} />
      <Material pipe={pipe} id={id} />
      <p className="flex gap-3 text-[11px]">
        size
        <button type="button" className="textlink" onClick={() => sizePipes(run())} data-testid="size-run">
          this run
        </button>
        <button type="button" className="textlink" onClick={() => sizePipes([])} data-testid="size-all">
          all pipes
        </button>
      </p>
    </>
  );
}

function Form({ id, conduit: pipe }: { id: string; conduit: Pipe }) {
  const commit = useCommit("links", id);
  const full = useProject((s) => s.fullBore[id]);
  return (
    <>
      <NumberField label="Barrels" value={pipe.barrels} quantity="count" commit={commit("barrels")} testId="barrels" />
      <NumberField label="Silt" value={pipe.silt} quantity="diameter" commit={commit("silt")} testId="silt" />
      {full != null && <Figure label="Full-bore capacity" value={show(full, "flow")} unit={unitOf("flow")} />}
    </>
  );
}

export const KIND: ConduitKind<Pipe> = {
  kind: "pipe",
  order: 1,
  label: "Pipe",
  key: "p",
  edge: null,
  body: { fill: "var(--color-hi)" },
  Section,
  Form,
};

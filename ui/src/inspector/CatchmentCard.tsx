import { useEffect, useState } from "react";
import { api, call } from "../api/client";
import type { components } from "../api/schema";
import { useProject } from "../document/store";
import type { Catchment } from "../document/types";
import { show, unitOf } from "../document/units";
import { MethodInputs } from "../fields/MethodInputs";
import { TimingInputs, useGround } from "../fields/TimingInputs";
import { Figure } from "../primitives/Figure";
import { NumberField } from "../primitives/NumberField";
import { OwnRunoff } from "./OwnRunoff";

/** A picked catchment: its area, how much of it is paved, and where it drains to. */
export function CatchmentCard({ id, ground }: { id: string; ground: Catchment }) {
  const { network, project, edit, optionPath, point } = useProject();
  const counts = useGround(id);
  const commit = (field: string) => (value: unknown) =>
    void edit([{ op: "add", path: `${optionPath}/catchments/${id}/${field}`, value }]);
  const receivers = Object.entries(network?.nodes ?? {})
    .filter(([, node]) => node.kind !== "outfall")
    .sort((a, b) => a[1].name.localeCompare(b[1].name, undefined, { numeric: true }));
  // not over one that itself runs over this one
  const leadsHere = (from: string | null): boolean =>
    from !== null && (from === id || leadsHere(network?.catchments[from]?.over ?? null));
  const others = Object.entries(network?.catchments ?? {}).filter(([key]) => !leadsHere(key));
  const drain = (to: string) => {
    const over = to.startsWith("over ") ? to.slice(5) : null;
    const node = over ? (network?.catchments[over]?.node ?? null) : to || null;
    const at = `${optionPath}/catchments/${id}`;
    void edit([
      { op: "add", path: `${at}/over`, value: over },
      { op: "add", path: `${at}/node`, value: node },
    ]);
  };
  return (
    <>
      <header className="mb-2 border-b border-rule pb-1">
        <h2 className="text-[15px] font-semibold" data-testid="inspector-title">
          Catchment {ground.name}
        </h2>
        <p className="text-[11px] text-ink2">
          drains to {ground.over && `${network?.catchments[ground.over]?.name}, and with it to `}
          {ground.node ? (
            <button type="button" className="textlink" onClick={() => point({ element: ground.node })}>
              {network?.nodes[ground.node]?.name}
            </button>
          ) : (
            "nowhere yet"
          )}
        </p>
      </header>
      <NumberField label="Area" value={ground.area} quantity="area" commit={commit("area")} testId="ground-area" />
      <NumberField label="Paved" value={ground.impervious} quantity="share" commit={commit("impervious")} />
      <label className="flex items-center justify-between gap-2 py-[3px]">
        <span>Drains to</span>
        <select
          className="field !w-[124px]"
          value={ground.over ? `over ${ground.over}` : (ground.node ?? "")}
          onChange={(event) => drain(event.target.value)}
          data-testid="drains-to"
        >
          <option value="">nowhere</option>
          <optgroup label="a node">
            {receivers.map(([key, node]) => (
              <option key={key} value={key}>
                {node.name}
              </option>
            ))}
          </optgroup>
          <optgroup label="over a catchment">
            {others.map(([key, other]) => (
              <option key={key} value={`over ${key}`}>
                over {other.name}
              </option>
            ))}
          </optgroup>
        </select>
      </label>
      <TimingInputs id={id} ground={ground} />
      {ground.method ? (
        <>
          <MethodInputs method={ground.method} commit={commit("method")} testId="own-method" />
          <p className="text-right text-[11px]">
            <button type="button" className="textlink" onClick={() => commit("method")(null)}>
              as the project
            </button>
          </p>
        </>
      ) : (
        <p className="flex justify-between py-[3px]">
          Method
          <button
            type="button"
            className="textlink"
            title="give this catchment a method of its own"
            onClick={() => commit("method")(project?.rain.runoff.method ?? { kind: "coefficient" })}
            data-testid="give-method"
          >
            the project’s: {(project?.rain.runoff.method.kind ?? "coefficient").replace("_", " ")}
          </button>
        </p>
      )}
      {project && <OwnRunoff ground={ground} general={project.rain.runoff} commit={commit} />}
      {project?.terrain && ground.polygon.length > 2 && <Lie id={id} />}
      {counts && (
        <div data-testid="ground-counts">
          <Figure label="Area that counts" value={show(counts.area, "area")} unit={unitOf("area")} />
          <Figure
            label="Paved of it"
            value={show(counts.area * counts.paved, "area")}
            unit={unitOf("area")}
            note={counts.area > ground.area * 1.000001 ? "creep grows it beyond the outline" : ""}
          />
        </div>
      )}
    </>
  );
}

/** How the terrain lies within the outline. */
function Lie({ id }: { id: string }) {
  const { id: project, option, revision } = useProject();
  const [lie, setLie] = useState<components["schemas"]["Lie"] | null>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: an edit may have moved a corner
  useEffect(() => {
    if (!project) return;
    let current = true;
    const path = { project_id: project, option, catchment: id };
    call(
      api.GET("/api/projects/{project_id}/options/{option}/terrain/catchments/{catchment}", { params: { path } }),
    ).then(
      (found) => current && setLie(found),
      () => current && setLie(null), // its file is not kept here
    );
    return () => {
      current = false;
    };
  }, [project, id, revision]);
  if (!lie) return null;
  return (
    <>
      <Figure label="Ground, mean slope" value={show(lie.slope, "percent")} unit="%" />
      <Figure label="Ground, lowest" value={show(lie.lowest, "level", 2)} unit={unitOf("level")} />
      <Figure label="Ground, highest" value={show(lie.highest, "level", 2)} unit={unitOf("level")} />
      <Figure label="Area on the slope" value={show(lie.area, "area")} unit={unitOf("area")} />
    </>
  );
}

/** The catchments that a node receives, as a sum and by name. */
export function DrainsHere({ id }: { id: string }) {
  const { network, point } = useProject();
  const here = Object.entries(network?.catchments ?? {}).filter(([, ground]) => ground.node === id);
  if (here.length === 0) return null;
  const area = here.reduce((sum, [, ground]) => sum + ground.area, 0);
  return (
    <>
      <Figure label="Drains here" value={show(area, "area")} unit={unitOf("area")} />
      <p className="text-right text-[11px]">
        {here.map(([key, ground]) => (
          <button key={key} type="button" className="textlink ml-2" onClick={() => point({ element: key })}>
            {ground.name}
          </button>
        ))}
      </p>
    </>
  );
}

import { Dialog } from "radix-ui";
import { type DragEvent, useEffect, useState } from "react";
import { api, call, sent } from "../api/client";
import type { components } from "../api/schema";
import { type Change, useProject } from "../document/store";
import type { Layer, TerrainLayer } from "../document/types";
import { show, unitOf } from "../document/units";
import { NumberField } from "../primitives/NumberField";
import { Page } from "../primitives/Page";

type Grid = components["schemas"]["GridOut"];
type Terrain = components["schemas"]["TerrainOut"];
const KINDS = { picture: "picture", lines: "drawing", map: "map" };
const SERVICES = { xyz: "tiles, {z}/{x}/{y}", wms: "WMS", wmts: "WMTS" };

/** What lies under the network: coordinate system, drawings, pictures, maps by address, and the ground. */
export function UnderPlan() {
  const { project, edit } = useProject();
  const [open, setOpen] = useState(false);
  if (!project) return null;
  // a map covers everything: it goes to the bottom
  const add = (layer: Layer) =>
    edit([{ op: "add", path: layer.kind === "map" ? "/layers/0" : "/layers/-", value: layer }]);
  return (
    <Dialog.Root open={open} onOpenChange={setOpen}>
      <Dialog.Trigger className="px-3 text-ink2 underline" data-testid="under-plan">
        Backgrounds
      </Dialog.Trigger>
      <Page title="Under the plan" wide={800} testId="under-page">
        <div className="flex min-h-0 flex-1 flex-col gap-4 overflow-y-auto px-4 py-3">
          <GridChoice code={project.grid} />
          <section aria-label="Layers">
            <h3 className="font-semibold">Drawings, pictures and maps</h3>
            {project.layers.length === 0 && <p className="text-ink3">None yet.</p>}
            {[...project.layers].reverse().map((layer, k) => (
              <LayerRow
                // biome-ignore lint/suspicious/noArrayIndexKey: layers have no other identity
                key={k}
                layer={layer}
                at={project.layers.length - 1 - k}
                count={project.layers.length}
                local={project.grid === null}
              />
            ))}
            <AddFile add={add} />
            <AddMap add={add} local={project.grid === null} />
          </section>
          <Ground layer={project.terrain} />
        </div>
      </Page>
    </Dialog.Root>
  );
}

/** A named coordinate system, found by name or code, or a plain local grid. */
function GridChoice({ code }: { code: string | null }) {
  const { edit } = useProject();
  const [search, setSearch] = useState("");
  const [found, setFound] = useState<Grid[] | null>(null);
  const [name, setName] = useState("");
  useEffect(() => {
    setName("");
    if (code)
      call(api.GET("/api/grids/{code}", { params: { path: { code } } })).then(
        (grid) => setName(grid.name),
        () => setName("not known here"),
      );
  }, [code]);
  useEffect(() => {
    if (search.trim().length < 2) return setFound(null);
    const wait = setTimeout(() => {
      call(api.GET("/api/grids", { params: { query: { search } } })).then(
        (grids) => setFound(grids as Grid[]),
        () => setFound([]),
      );
    }, 250);
    return () => clearTimeout(wait);
  }, [search]);
  const choose = (value: string | null) => {
    setSearch("");
    void edit([{ op: "add", path: "/grid", value }]);
  };
  return (
    <section aria-label="Coordinate system">
      <h3 className="font-semibold">Coordinate system</h3>
      <p className="flex items-baseline gap-3">
        <span data-testid="grid">{code ? `${code} ${name}` : "a plain local grid"}</span>
        {code && (
          <button type="button" className="textlink text-[11px]" onClick={() => choose(null)}>
            a plain local grid instead
          </button>
        )}
        <input
          className="field ml-auto !w-56 !text-left"
          placeholder="find one by name or code"
          aria-label="Find a coordinate system"
          value={search}
          onChange={(event) => setSearch(event.target.value)}
          data-testid="grid-search"
        />
      </p>
      {found && (
        <ul className="mt-1 max-h-36 overflow-y-auto border border-rule bg-paper">
          {found.map((grid) => (
            <li key={grid.code}>
              <button
                type="button"
                className="flex w-full gap-3 px-2 py-[2px] text-left hover:bg-lo"
                onClick={() => choose(grid.code)}
                data-testid={`grid-${grid.code}`}
              >
                <span className="figure w-24">{grid.code}</span> {grid.name}
              </button>
            </li>
          ))}
          {found.length === 0 && <li className="px-2 text-ink3">none in metres by that name</li>}
        </ul>
      )}
      <p className="text-[11px] text-ink3">
        Coordinates stay as they are: naming the system only says where on Earth they lie.
      </p>
    </section>
  );
}

function LayerRow({ layer, at, count, local }: { layer: Layer; at: number; count: number; local: boolean }) {
  const { edit, project } = useProject();
  const set = (field: string, value: unknown) => void edit([{ op: "add", path: `/layers/${at}/${field}`, value }]);
  const move = (to: number) => {
    const layers = [...(project?.layers ?? [])];
    layers.splice(to, 0, ...layers.splice(at, 1));
    void edit([{ op: "replace", path: "/layers", value: layers }]);
  };
  return (
    <div className="flex items-center gap-3 border-b border-rule py-1" data-testid={`layer-${layer.name}`}>
      <input
        type="checkbox"
        aria-label={`show ${layer.name}`}
        checked={layer.shown}
        onChange={(event) => set("shown", event.target.checked)}
      />
      <span className="w-16 text-ink3">{KINDS[layer.kind]}</span>
      <span className="min-w-0 flex-1 truncate font-semibold" title={layer.kind === "map" ? layer.address : undefined}>
        {layer.name}
      </span>
      {layer.kind === "map" && local && <span className="text-ochre-ink">needs a named coordinate system</span>}
      <label className="flex items-center gap-1 text-[11px] text-ink3">
        strength
        <input
          type="range"
          min={0.1}
          max={1}
          step={0.1}
          defaultValue={layer.opacity}
          onPointerUp={(event) => set("opacity", Number(event.currentTarget.value))}
          onKeyUp={(event) => set("opacity", Number(event.currentTarget.value))}
        />
      </label>
      <button type="button" aria-label={`raise ${layer.name}`} disabled={at === count - 1} onClick={() => move(at + 1)}>
        ↑
      </button>
      <button type="button" aria-label={`lower ${layer.name}`} disabled={at === 0} onClick={() => move(at - 1)}>
        ↓
      </button>
      <button
        type="button"
        className="textlink text-[11px]"
        onClick={() => edit([{ op: "remove", path: `/layers/${at}` }])}
      >
        remove
      </button>
    </div>
  );
}

/** Files become layers, a grid of levels the terrain. */
function AddFile({ add }: { add: (layer: Layer) => Promise<unknown> }) {
  const { id, edit } = useProject();
  const [busy, setBusy] = useState("");
  const [wrong, setWrong] = useState<string | null>(null);
  const take = async (files: FileList | null) => {
    if (!files?.length) return;
    setBusy(`reading ${[...files].map((file) => file.name).join(" and ")} …`);
    setWrong(null);
    const body = new FormData();
    for (const file of files) body.append("files", file);
    try {
      const made = await sent<TerrainLayer | Layer>(`/api/projects/${id}/layers`, body);
      if ("contours" in made) await edit([{ op: "add", path: "/terrain", value: made }]);
      else await add(made);
    } catch (error) {
      setWrong(error instanceof Error ? error.message : String(error));
    }
    setBusy("");
  };
  return (
    <div
      className="pt-2"
      onDragOver={(event) => event.preventDefault()}
      onDrop={(event: DragEvent) => {
        event.preventDefault();
        void take(event.dataTransfer.files);
      }}
    >
      <p className="flex items-baseline gap-3">
        <label className="cursor-pointer border border-ink px-3 py-[2px] font-semibold focus-within:outline">
          Add a file
          <input
            type="file"
            multiple
            className="sr-only"
            onChange={(event) => take(event.target.files)}
            data-testid="layer-file"
          />
        </label>
        <span className="text-ink3">
          {busy ||
            "or drop it here: DXF, GeoJSON, GeoTIFF, PNG or JPEG together with its world file, an ASCII grid of levels"}
        </span>
      </p>
      {wrong && (
        <p role="alert" className="text-madder" data-testid="layer-wrong">
          {wrong}
        </p>
      )}
    </div>
  );
}

function AddMap({ add, local }: { add: (layer: Layer) => Promise<unknown>; local: boolean }) {
  const [service, setService] = useState<keyof typeof SERVICES>("xyz");
  const [address, setAddress] = useState("");
  const [layer, setLayer] = useState("");
  const [credit, setCredit] = useState("");
  const fits = /^https?:\/\/\S+$/.test(address) && (service !== "xyz" || /\{x\}.*|\{z\}/.test(address));
  return (
    <form
      className="flex items-baseline gap-2 pt-2"
      onSubmit={(event) => {
        event.preventDefault();
        const name = layer || new URL(address.replace(/[{}]/g, "")).hostname;
        void add({ kind: "map", name, shown: true, opacity: 1, service, address, layer, credit });
        setAddress("");
      }}
    >
      <select
        className="border-b border-ink bg-transparent"
        aria-label="kind of map service"
        value={service}
        onChange={(event) => setService(event.target.value as keyof typeof SERVICES)}
        data-testid="map-service"
      >
        {Object.entries(SERVICES).map(([key, label]) => (
          <option key={key} value={key}>
            {label}
          </option>
        ))}
      </select>
      <input
        className="field !w-auto flex-1 !text-left"
        placeholder={`${window.location.origin}/demo-map/xyz/{z}/{x}/{y}.png`}
        aria-label="address of the map"
        value={address}
        onChange={(event) => setAddress(event.target.value)}
        data-testid="map-address"
      />
      <input
        className="field !w-24 !text-left"
        placeholder={service === "xyz" ? "name" : "layer"}
        aria-label="layer of the map"
        value={layer}
        onChange={(event) => setLayer(event.target.value)}
        data-testid="map-layer"
      />
      <input
        className="field !w-24 !text-left"
        placeholder="credit"
        aria-label="who made the map"
        value={credit}
        onChange={(event) => setCredit(event.target.value)}
      />
      <button
        type="submit"
        className="border border-ink px-3 font-semibold disabled:opacity-40"
        disabled={!fits}
        title={local ? "maps are shown once a coordinate system is named" : undefined}
        data-testid="add-map"
      >
        Add a map
      </button>
    </form>
  );
}

/** The terrain: how it is drawn, and what is taken from it. */
function Ground({ layer }: { layer: TerrainLayer | null }) {
  const { id, option, network, optionPath, edit } = useProject();
  const [about, setAbout] = useState<Terrain | "missing" | null>(null);
  const [draped, setDraped] = useState<Change[] | null>(null);
  const file = layer?.file;
  useEffect(() => {
    setAbout(null);
    setDraped(null);
    if (!id || !file) return;
    const path = { project_id: id, option };
    call(api.GET("/api/projects/{project_id}/terrain", { params: { path } })).then(
      (found) => setAbout(found as Terrain),
      () => setAbout("missing"),
    );
  }, [id, file, option]);
  if (!layer || !id || !network)
    return (
      <section aria-label="Ground">
        <h3 className="font-semibold">Ground</h3>
        <p className="text-ink3">
          No terrain yet. Add a GeoTIFF or an ASCII grid of levels: covers of new manholes then come from it.
        </p>
      </section>
    );
  const set = (field: string, value: unknown) => void edit([{ op: "add", path: `/terrain/${field}`, value }]);
  const look = async () => {
    const path = { project_id: id, option };
    const patch = await call(
      api.GET("/api/projects/{project_id}/options/{option}/terrain/drape", { params: { path } }),
    );
    setDraped((patch as unknown as Change[]).map((change) => ({ ...change, path: `${optionPath}${change.path}` })));
  };
  const covers = (draped ?? []).filter((change) => !change.path.endsWith("/ponded_side_slope"));
  const floods = (draped?.length ?? 0) - covers.length;
  const largest = covers.reduce((most, change) => {
    const node = network.nodes[change.path.split("/").at(-2) ?? ""];
    const now = node ? (node.kind === "outfall" ? (node.ground ?? node.invert + 1) : node.cover) : 0;
    return Math.max(most, Math.abs(Number(change.value) - now));
  }, 0);
  return (
    <section aria-label="Ground" data-testid="ground">
      <h3 className="flex font-semibold">
        Ground: {layer.name}
        <button
          type="button"
          className="textlink ml-auto text-[11px] font-normal"
          onClick={() => edit([{ op: "replace", path: "/terrain", value: null }])}
        >
          remove
        </button>
      </h3>
      {about === "missing" && <p className="text-madder">Its file is not kept on this machine: add it again.</p>}
      {about && about !== "missing" && (
        <p className="text-ink2">
          {show(about.extent[2] - about.extent[0], "length", 0)} ×{" "}
          {show(about.extent[3] - about.extent[1], "length", 0)} {unitOf("length")} in cells of{" "}
          {show(about.cell, "length")} {unitOf("length")}, levels from {show(about.lowest, "length")} to{" "}
          {show(about.highest, "length")} {unitOf("length")}
        </p>
      )}
      <div className="flex items-center gap-5 py-1">
        <label className="flex items-center gap-2">
          <input type="checkbox" checked={layer.shade} onChange={(e) => set("shade", e.target.checked)} /> shade
        </label>
        <label className="flex items-center gap-2">
          <input type="checkbox" checked={layer.contours} onChange={(e) => set("contours", e.target.checked)} />{" "}
          contours
        </label>
        <NumberField
          label="every"
          value={layer.interval ?? Number.NaN}
          quantity="length"
          commit={(value) => set("interval", value > 0 ? value : null)}
          testId="contour-interval"
        />
        {layer.interval !== null && (
          <button type="button" className="textlink text-[11px]" onClick={() => set("interval", null)}>
            as reads well
          </button>
        )}
      </div>
      <p className="flex items-baseline gap-3">
        {draped === null ? (
          <button type="button" className="textlink" onClick={look} data-testid="drape">
            covers and floods from the ground …
          </button>
        ) : (
          <>
            <span>
              {covers.length} cover{covers.length === 1 ? "" : "s"} would change
              {covers.length > 0 && `, by up to ${show(largest, "length")} ${unitOf("length")}`}
              {floods > 0 && `; floods would widen otherwise at ${floods} node${floods === 1 ? "" : "s"}`}
            </span>
            {draped.length > 0 && (
              <button
                type="button"
                className="bg-ink px-3 font-semibold text-hi"
                onClick={() => {
                  void edit(draped);
                  setDraped(null);
                }}
                data-testid="drape-apply"
              >
                Take them
              </button>
            )}
          </>
        )}
      </p>
    </section>
  );
}

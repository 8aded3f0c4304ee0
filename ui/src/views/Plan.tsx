import { defaults as controls } from "ol/control/defaults";
import { boundingExtent } from "ol/extent";
import Feature from "ol/Feature";
import { LineString, Point, Polygon } from "ol/geom";
import { defaults as interactions } from "ol/interaction/defaults";
import VectorLayer from "ol/layer/Vector";
import OlMap from "ol/Map";
import { Projection } from "ol/proj";
import VectorSource from "ol/source/Vector";
import { Fill, Stroke, Style, Text } from "ol/style";
import View from "ol/View";
import { useEffect, useRef, useState } from "react";
import { isNodeKind, type Laying, LINK_KINDS, makeLink, makeNode, NODE_KINDS } from "../document/elements";
import { layRun } from "../document/layRun";
import { linkNear, split } from "../document/reshape";
import { useProject } from "../document/store";
import { type Defaults, isStore, type Network } from "../document/types";
import { clock } from "../document/units";
import { NumberField } from "../primitives/NumberField";
import { drawNode } from "./nodeSymbol";
import { pipeStyles } from "./pipeStyle";
import "ol/ol.css";

const GRID = new Projection({ code: "madidus-local", units: "m" });
const BACKDROP: Record<string, { fill?: string; stroke: string; dash?: number[] }> = {
  water: { fill: "#dce9e3", stroke: "#25727d" },
  building: { fill: "#fcfaf3", stroke: "#1d2427" },
  boundary: { stroke: "#1d2427", dash: [9, 3, 2, 3] },
  paving: { fill: "#f0eadb", stroke: "#a39a86" },
  path: { stroke: "#a39a86", dash: [5, 4] },
};

/** Pixels within which a click finds a node to begin or end a link at. */
const SNAP = 18;
/** What splits a conduit when it is laid on one. */
const ON_A_CONDUIT = new Set<Laying>(["manhole", "junction", "inlet"]);

function nodeNear(network: Network, x: number, y: number, within: number): string | null {
  let found: string | null = null;
  let least = within;
  for (const [key, node] of Object.entries(network.nodes)) {
    const distance = Math.hypot(node.x - x, node.y - y);
    if (distance < least) [least, found] = [distance, key];
  }
  return found;
}

/** A catchment: a faint hairline, inked when it is picked. */
function groundStyle(picked: boolean): Style {
  return new Style({
    fill: new Fill({ color: picked ? "rgb(29 36 39 / 10%)" : "rgb(29 36 39 / 1%)" }),
    stroke: new Stroke({ color: picked ? "#1d2427" : "#d5ccb8", width: picked ? 1.6 : 0.8, lineDash: [2, 3] }),
  });
}

/** The network over its backdrop: tone by how full, chevrons by direction, rings by depth used. North is up. */
export function Plan({
  still = false,
  adding = null,
  added,
}: {
  still?: boolean;
  /** What clicks lay: elements of a kind, a run of pipes, or nothing. */
  adding?: Laying | null;
  added?: () => void;
}) {
  const target = useRef<HTMLDivElement>(null);
  const map = useRef<OlMap | null>(null);
  const network = useProject((s) => s.network);
  const project = useProject((s) => s.project);
  const cursor = useProject((s) => s.cursor);
  const series = useProject((s) => s.series);
  const answer = useProject((s) => s.answer);
  const id = useProject((s) => s.id);
  const point = useProject((s) => s.point);
  const layers = useRef({
    backdrop: new VectorSource(),
    grounds: new VectorSource(),
    links: new VectorSource(),
    nodes: new VectorSource(),
  });
  const fitted = useRef<string | null>(null);
  const [from, setFrom] = useState<string | null>(null);
  // clicks along a run wait for the one before: each begins where that has ended
  const run = useRef({ from: null as string | null, done: Promise.resolve() });
  const layNext = async (x: number, y: number, within: number) => {
    const { network, project, optionPath, edit, point } = useProject.getState();
    if (!network || !project) return;
    const hit = nodeNear(network, x, y, within);
    const begins = run.current.from;
    const { changes, at } = layRun(network, optionPath, project.defaults, begins, hit ? { node: hit } : { x, y });
    if (changes.length) await edit(changes);
    const after = useProject.getState().network?.nodes[at];
    if (!after) return; // refused: the notice says why, and the run goes on from where it was
    point({ element: at });
    const ends = after.kind === "outfall" || (hit !== null && begins !== null && changes.length > 0);
    run.current.from = ends ? null : at;
    setFrom(run.current.from);
  };
  const laying = useRef({ kind: adding, click: (_x: number, _y: number, _within: number) => {} });
  laying.current = {
    kind: adding,
    click: (x, y, within) => {
      const { network, optionPath, edit, point } = useProject.getState();
      if (!network || !adding) return;
      if (adding === "run") {
        run.current.done = run.current.done.then(() => layNext(x, y, within));
        return;
      }
      const id = crypto.randomUUID();
      const lay = (collection: string, value: unknown) => {
        void edit([{ op: "add", path: `${optionPath}/${collection}/${id}`, value }]);
        point({ element: id });
        setFrom(null);
        added?.();
      };
      if (isNodeKind(adding)) {
        const node = makeNode(network, adding, x, y);
        const on = ON_A_CONDUIT.has(adding) ? linkNear(network, x, y, within / 2) : null;
        if (on && !nodeNear(network, x, y, within / 2)) {
          const cut = split(network, optionPath, on, node);
          void edit(cut.changes);
          point({ element: cut.at });
          added?.();
        } else lay("nodes", node);
      } else {
        const hit = nodeNear(network, x, y, within);
        if (!hit) return;
        if (from && from !== hit) lay("links", makeLink(network, adding, from, hit));
        else setFrom(hit);
      }
    },
  };
  // biome-ignore lint/correctness/useExhaustiveDependencies: another tool begins anew
  useEffect(() => {
    run.current.from = null;
    setFrom(null);
  }, [adding]);

  useEffect(() => {
    if (!target.current) return;
    const { backdrop, grounds, links, nodes } = layers.current;
    const m = new OlMap({
      target: target.current,
      controls: controls({ attribution: false, rotate: false, zoom: !still }),
      // two quick clicks lay a link; they must not zoom the ground away between them
      interactions: interactions({ doubleClickZoom: false }),
      layers: [
        new VectorLayer({ source: backdrop }),
        new VectorLayer({ source: grounds }),
        new VectorLayer({ source: links, updateWhileInteracting: true }),
        new VectorLayer({ source: nodes, updateWhileInteracting: true }),
      ],
      view: new View({ projection: GRID, center: [0, 0], resolution: 1, enableRotation: false }),
    });
    m.on("click", (event) => {
      const [x = 0, y = 0] = event.coordinate;
      if (laying.current.kind) {
        laying.current.click(x, y, SNAP * (m.getView().getResolution() ?? 1));
        return;
      }
      const hit = m.forEachFeatureAtPixel(event.pixel, (f) => f.getId(), { hitTolerance: 5 });
      if (typeof hit === "string") point({ element: hit });
    });
    m.on("pointermove", (event) => {
      const hit = m.forEachFeatureAtPixel(event.pixel, (f) => f.getId(), { hitTolerance: 5 });
      if (target.current)
        target.current.style.cursor = laying.current.kind ? "crosshair" : typeof hit === "string" ? "pointer" : "";
    });
    map.current = m;
    // tests find elements on the canvas through this
    Object.assign(target.current, { pixelOf: (x: number, y: number) => m.getPixelFromCoordinate([x, y]) });
    return () => {
      m.setTarget(undefined);
      map.current = null;
      fitted.current = null;
    };
  }, [point, still]);

  useEffect(() => {
    if (!project || !network) return;
    const { backdrop, grounds, links, nodes } = layers.current;
    backdrop.clear();
    for (const item of project.backdrop) {
      const look = BACKDROP[item.kind];
      const closed = look?.fill !== undefined;
      const feature = new Feature(
        closed ? new Polygon([[...item.points, item.points[0] ?? [0, 0]]]) : new LineString(item.points),
      );
      feature.setStyle(
        new Style({
          ...(look?.fill ? { fill: new Fill({ color: look.fill }) } : {}),
          stroke: new Stroke({
            color: look?.stroke ?? "#a39a86",
            width: 1,
            ...(look?.dash ? { lineDash: look.dash } : {}),
          }),
          text: new Text({
            text: item.name,
            font: "11px 'Archivo Variable'",
            fill: new Fill({ color: item.kind === "water" ? "#25727d" : "#65665f" }),
            overflow: false,
          }),
        }),
      );
      backdrop.addFeature(feature);
    }
    grounds.clear();
    for (const [key, ground] of still ? [] : Object.entries(network.catchments)) {
      if (ground.polygon.length < 3) continue;
      const feature = new Feature(new Polygon([[...ground.polygon, ground.polygon[0] ?? [0, 0]]]));
      feature.setId(key);
      feature.setStyle(() => groundStyle(useProject.getState().cursor.element === key));
      grounds.addFeature(feature);
    }
    links.clear();
    for (const [key, link] of Object.entries(network.links)) {
      const [a, b] = [network.nodes[link.upstream], network.nodes[link.downstream]];
      if (!a || !b) continue;
      const feature = new Feature(
        new LineString([
          [a.x, a.y],
          [b.x, b.y],
        ]),
      );
      feature.setId(key);
      feature.setStyle((_, resolution) => pipeStyles(key, resolution));
      links.addFeature(feature);
    }
    nodes.clear();
    for (const [key, node] of Object.entries(network.nodes)) {
      const feature = new Feature(new Point([node.x, node.y]));
      feature.setId(key);
      feature.setStyle(
        new Style({
          renderer: (pixel, state) =>
            drawNode(state.context, pixel as number[], key, state.pixelRatio, state.resolution),
          hitDetectionRenderer: (pixel, state) => {
            const [px = 0, py = 0] = pixel as number[];
            state.context.beginPath();
            state.context.arc(px, py, (isStore(node) ? 16 : 7) * state.pixelRatio, 0, 2 * Math.PI);
            state.context.fill();
          },
        }),
      );
      nodes.addFeature(feature);
    }
    if (fitted.current !== id && map.current && Object.keys(network.nodes).length > 0) {
      fitted.current = id;
      const all = boundingExtent(Object.values(network.nodes).map((n) => [n.x, n.y]));
      const show = () => map.current?.getView().fit(all, { padding: still ? [14, 24, 14, 24] : [26, 40, 26, 60] });
      map.current.updateSize();
      show();
      if (still) map.current.on("change:size", show);
    }
  }, [project, network, id, still]);

  // biome-ignore lint/correctness/useExhaustiveDependencies: what the styles read
  useEffect(() => {
    layers.current.grounds.changed();
    layers.current.links.changed();
    layers.current.nodes.changed();
  }, [cursor, series, answer]);

  const storm = answer?.storms.find((s) => s.key === cursor.storm);
  return (
    <section className="flex min-h-0 flex-1 flex-col" aria-label="Plan">
      <p className="flex gap-3 px-2 py-1">
        <b className="text-[14px] font-semibold">Plan</b>
        <span className="text-ink2">{storm ? `${storm.label} at ${clock(cursor.moment)}` : "as drawn"}</span>
        {adding && (
          <span role="status" className="text-ochre-ink" data-testid="laying">
            {adding === "run"
              ? from
                ? `run from ${network?.nodes[from]?.name}: click on along it, or on the node where it ends`
                : "run of pipes: click where it begins, then on downstream"
              : isNodeKind(adding)
                ? `click where the ${NODE_KINDS[adding].toLowerCase()} is${ON_A_CONDUIT.has(adding) ? ", on a pipe to split it" : ""}`
                : from
                  ? `${LINK_KINDS[adding]} from ${network?.nodes[from]?.name}: click the node where it ends`
                  : `${LINK_KINDS[adding]}: click the node where it begins`}
            ; Escape ends
          </span>
        )}
        {adding === "run" && <RunDefaults />}
        {!still && !adding && (
          <span className="ml-auto text-[11px] text-ink3">
            ring: soffit to cover used · white dashes: surcharged · drop: floods
          </span>
        )}
      </p>
      <div ref={target} className="min-h-0 flex-1" data-testid="plan" />
    </section>
  );
}

/** What the pipes of a run are given. */
function RunDefaults() {
  const { project, edit } = useProject();
  if (!project) return null;
  const { gradient, diameter, ground_over } = project.defaults;
  const set = (field: keyof Defaults) => (value: number) =>
    void edit([{ op: "add", path: `/defaults/${field}`, value }]);
  return (
    <span className="ml-auto flex items-baseline gap-2 text-[11px]" data-testid="run-defaults">
      fall 1 in
      <NumberField
        label=""
        value={1 / gradient}
        quantity="count"
        commit={(value) => value > 0 && set("gradient")(1 / value)}
        testId="run-gradient"
      />
      at least
      <NumberField label="" value={diameter} quantity="diameter" commit={set("diameter")} testId="run-diameter" />
      under
      <NumberField label="" value={ground_over} quantity="length" commit={set("ground_over")} testId="run-cover" />
      of ground
    </span>
  );
}

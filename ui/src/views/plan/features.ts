import Feature from "ol/Feature";
import { type Geometry, LineString, MultiPoint, Point, Polygon } from "ol/geom";
import VectorLayer from "ol/layer/Vector";
import VectorImageLayer from "ol/layer/VectorImage";
import VectorSource from "ol/source/Vector";
import { Circle, Fill, RegularShape, Stroke, Style, Text } from "ol/style";
import { courseOf } from "../../document/course";
import { useProject } from "../../document/store";
import { type Backdrop, isStore, type Network, outlineOf, type Point as Place, spillOf } from "../../document/types";
import { show } from "../../document/units";
import type { Pond } from "../../document/usePonds";
import { RuleFlags } from "./flags";
import { Names } from "./names";
import { drawStill } from "./nodeSymbol";
import { linkStyles } from "./pipeStyle";
import { ResultMarks } from "./resultMarks";
import type { Themed } from "./themes";
import { ConduitWater, NodeWater } from "./waterLayers";

const BACKDROP: Record<string, { fill?: string; stroke: string; dash?: number[] }> = {
  water: { fill: "#dce9e3", stroke: "#25727d" },
  building: { fill: "#fcfaf3", stroke: "#1d2427" },
  boundary: { stroke: "#1d2427", dash: [9, 3, 2, 3] },
  paving: { fill: "#f0eadb", stroke: "#a39a86" },
  path: { stroke: "#a39a86", dash: [5, 4] },
};

export const closed = (ring: Place[]): Place[][] => [[...ring, ring[0] ?? [0, 0]]];

/** The sheets of the plan, from the ground up. `sketch` is what is being drawn and is nobody's yet. */
export class Sheets {
  readonly backdrop = new VectorSource();
  readonly ponds = new VectorSource();
  readonly grounds = new VectorSource();
  readonly links = new VectorSource();
  readonly nodes = new VectorSource();
  readonly handles = new VectorSource();
  readonly sketch = new VectorSource();
  readonly conduitWater = new ConduitWater();
  readonly nodeWater = new NodeWater();
  readonly resultMarks = new ResultMarks();
  readonly flags = new RuleFlags();
  readonly names = new Names();

  layers() {
    // drawn into a picture somewhat larger than the sight, which moves along while the plan is dragged
    const layer = (source: VectorSource) => new VectorImageLayer({ source, imageRatio: 1.5 });
    return [
      layer(this.backdrop),
      layer(this.ponds),
      layer(this.grounds),
      layer(this.links),
      this.conduitWater,
      layer(this.nodes),
      this.nodeWater,
      this.resultMarks,
      this.flags,
      this.names,
      new VectorLayer({ source: this.handles, style: handleStyle }),
      new VectorLayer({ source: this.sketch, style: sketchStyle }),
    ];
  }

  /** Draw the styles anew: the pick has changed. */
  restyle() {
    for (const source of [this.ponds, this.grounds, this.links, this.nodes]) source.changed();
    this.flow();
  }

  /** Draw the water anew: the clock or the storm has changed. */
  flow() {
    this.conduitWater.changed();
    this.nodeWater.changed();
    this.resultMarks.changed();
    this.names.changed();
  }

  /** Results instead of the water of the moment, or the water again. labels : whether figures are written. */
  tell(themed: Themed | null, labels: boolean) {
    this.conduitWater.setVisible(themed === null);
    this.nodeWater.setVisible(themed === null);
    this.resultMarks.setVisible(themed !== null);
    this.resultMarks.tell(themed);
    this.names.tell(labels ? themed : null);
  }

  drawBackdrop(items: Backdrop[]) {
    this.backdrop.clear();
    this.backdrop.addFeatures(items.map(backdropFeature));
  }

  /** Edges of ponds, from the server that moves their outlines. */
  drawPonds(ponds: Record<string, Pond>, network: Network) {
    this.ponds.clear();
    this.ponds.addFeatures(Object.entries(ponds).flatMap(([id, pond]) => pondFeatures(id, pond, network.nodes[id])));
  }

  draw(network: Network, still: boolean) {
    this.conduitWater.place(null);
    this.nodeWater.place(null);
    this.resultMarks.place(null);
    this.flags.place(null);
    this.names.place(null);
    this.grounds.clear();
    this.links.clear();
    this.nodes.clear();
    if (!still) this.grounds.addFeatures(groundFeatures(network));
    this.links.addFeatures(linkFeatures(network));
    this.nodes.addFeatures(nodeFeatures(network));
  }

  /** Show some elements where they would come to lie; what is kept does not change. */
  place(part: Network) {
    this.conduitWater.place(part);
    this.nodeWater.place(part);
    this.resultMarks.place(part);
    this.flags.place(part);
    this.names.place(part);
    const set = (source: VectorSource, id: string, geometry: Geometry) =>
      source.getFeatureById(id)?.setGeometry(geometry);
    for (const [id, node] of Object.entries(part.nodes)) set(this.nodes, id, new Point([node.x, node.y]));
    for (const [id, link] of Object.entries(part.links)) set(this.links, id, new LineString(courseOf(part, link)));
    for (const [id, ground] of Object.entries(part.catchments))
      if (ground.polygon.length > 2) set(this.grounds, id, new Polygon(closed(ground.polygon)));
  }
}

function backdropFeature(item: Backdrop): Feature {
  const look = BACKDROP[item.kind];
  const feature = new Feature(
    look?.fill !== undefined ? new Polygon(closed(item.points)) : new LineString(item.points),
  );
  feature.setStyle(
    new Style({
      ...(look?.fill ? { fill: new Fill({ color: look.fill }) } : {}),
      stroke: new Stroke({
        color: look?.stroke ?? "#a39a86",
        width: 1,
        ...(look?.dash ? { lineDash: look.dash } : {}),
      }),
    }),
  );
  return feature;
}

/** A catchment: a fine dashed line, inked when it is picked; a light edge parts it from a picture or a map below. */
function groundStyle(picked: boolean): Style[] {
  return [
    new Style({
      fill: new Fill({ color: picked ? "rgb(29 36 39 / 10%)" : "rgb(29 36 39 / 2%)" }),
      stroke: new Stroke({ color: "rgb(246 242 231 / 85%)", width: picked ? 4 : 3 }),
    }),
    new Style({
      stroke: new Stroke({ color: picked ? "#1d2427" : "#8d8877", width: picked ? 1.6 : 1, lineDash: [3, 3] }),
    }),
  ];
}
const GROUND = { picked: groundStyle(true), plain: groundStyle(false) };
const BASE = new Style({ stroke: new Stroke({ color: "#25727d", width: 1 }), fill: new Fill({ color: "#dce9e3" }) });

const RIM = new Style({ stroke: new Stroke({ color: "#1d2427", width: 1.2 }), fill: new Fill({ color: "#e9ead8" }) });
const SHELF = new Style({ stroke: new Stroke({ color: "#25727d", width: 1, lineDash: [3, 3] }) });

const isPicked = (id: string) => useProject.getState().picked.has(id);

/** Catchments by their outlines. */
function groundFeatures(network: Network): Feature[] {
  return Object.entries(network.catchments).flatMap(([id, ground]) => {
    if (ground.polygon.length < 3) return [];
    const feature = new Feature(new Polygon(closed(ground.polygon)));
    feature.setId(id);
    feature.setStyle(() => (isPicked(id) ? GROUND.picked : GROUND.plain));
    return [feature];
  });
}

/** From the rim in: the bank, a shelf, the base; and a mark at the lowest ground on the rim, with its level. */
function pondFeatures(id: string, { edges, lowest }: Pond, node: Network["nodes"][string] | undefined): Feature[] {
  const ring = (corners: number[][], style: Style) => {
    const feature = new Feature(new Polygon(closed(corners as Place[])));
    feature.setStyle(style);
    return feature;
  };
  const found: Feature[] = [
    ring(edges.rim, RIM),
    ...edges.shelf.map((edge) => ring(edge, SHELF)),
    ring(edges.base, BASE),
  ];
  if (node?.kind === "basin") found.push(...sideNumbers(id, outlineOf(node)));
  if (!lowest || !node || node.kind === "outfall") return found;
  const mark = new Feature(new Point([lowest.x, lowest.y]));
  const low = spillOf(node) < node.cover;
  mark.setStyle(
    new Style({
      image: new RegularShape({
        points: 3,
        radius: 6,
        angle: Math.PI,
        fill: new Fill({ color: low ? "#c8952f" : "#25727d" }),
      }),
      text: new Text({
        text: `lowest ground on the rim ${show(lowest.level, "level")}`,
        font: "11px Archivo Narrow, sans-serif",
        offsetY: -13,
        fill: new Fill({ color: low ? "#7a5410" : "#1d2427" }),
        stroke: new Stroke({ color: "#f6f0e4", width: 3 }),
      }),
    }),
  );
  return [...found, mark];
}

/** Which side is which, while the pond is picked: its form names them by number. */
function sideNumbers(id: string, outline: Place[]): Feature[] {
  return outline.map(([x, y], k) => {
    const [x2, y2] = outline[(k + 1) % outline.length] ?? [x, y];
    const feature = new Feature(new Point([(x + x2) / 2, (y + y2) / 2]));
    const told = new Style({
      text: new Text({
        text: `${k + 1}`,
        font: "11px Archivo Narrow, sans-serif",
        fill: new Fill({ color: "#1d2427" }),
        stroke: new Stroke({ color: "#f6f0e4", width: 3 }),
      }),
    });
    feature.setStyle(() => (isPicked(id) ? told : undefined));
    return feature;
  });
}

function linkFeatures(network: Network): Feature[] {
  return Object.entries(network.links).flatMap(([id, link]) => {
    const course = courseOf(network, link);
    if (course.length < 2) return [];
    const feature = new Feature(new LineString(course));
    feature.setId(id);
    feature.setStyle((_, resolution) => linkStyles(id, resolution));
    return [feature];
  });
}

function nodeFeatures(network: Network): Feature[] {
  return Object.entries(network.nodes).map(([id, node]) => {
    const feature = new Feature(new Point([node.x, node.y]));
    feature.setId(id);
    feature.setStyle(
      new Style({
        renderer: (pixel, state) => {
          const lying = { pixel: pixel as number[], picked: isPicked(id), resolution: state.resolution };
          drawStill(state.context, network, node, lying, state.pixelRatio);
        },
        hitDetectionRenderer: (pixel, state) => {
          const [px = 0, py = 0] = pixel as number[];
          state.context.beginPath();
          state.context.arc(px, py, (isStore(node) ? 16 : 7) * state.pixelRatio, 0, 2 * Math.PI);
          state.context.fill();
        },
      }),
    );
    return feature;
  });
}

/** Corners that can be dragged. */
const handleStyle = [
  new Style({ stroke: new Stroke({ color: "#1d2427", width: 1, lineDash: [3, 3] }) }),
  new Style({
    image: new Circle({
      radius: 3.5,
      fill: new Fill({ color: "#fcfaf3" }),
      stroke: new Stroke({ color: "#1d2427", width: 1.2 }),
    }),
    geometry: (feature) => {
      const geometry = feature.getGeometry();
      const corners =
        geometry instanceof Polygon
          ? (geometry.getCoordinates()[0] ?? [])
          : geometry instanceof LineString
            ? geometry.getCoordinates()
            : [];
      return new MultiPoint(corners);
    },
  }),
];

const sketchStyle = [
  new Style({
    stroke: new Stroke({ color: "#7d540c", width: 1.4, lineDash: [5, 3] }),
    fill: new Fill({ color: "rgb(125 84 12 / 8%)" }),
    image: new Circle({ radius: 4, stroke: new Stroke({ color: "#7d540c", width: 1.4 }) }),
  }),
];

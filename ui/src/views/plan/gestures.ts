import { altKeyOnly, platformModifierKeyOnly, primaryAction, shiftKeyOnly, singleClick } from "ol/events/condition";
import Feature from "ol/Feature";
import { LineString, Polygon } from "ol/geom";
import DragBox from "ol/interaction/DragBox";
import Modify from "ol/interaction/Modify";
import Pointer from "ol/interaction/Pointer";
import type OlMap from "ol/Map";
import type MapBrowserEvent from "ol/MapBrowserEvent";
import { Circle, Fill, Style } from "ol/style";
import { courseOf } from "../../document/course";
import { moved, touched } from "../../document/selection";
import { snapped } from "../../document/snap";
import { useProject } from "../../document/store";
import { type Edit, isConduit, type Network, outlineOf, type Point } from "../../document/types";
import { show, unitOf } from "../../document/units";
import { closed, type Sheets } from "./features";

/** Pixels within which a click, or the end of a drag, finds a node. */
export const SNAP = 18;

export function nodeNear(network: Network, x: number, y: number, within: number): string | null {
  let found: string | null = null;
  let least = within;
  for (const [key, node] of Object.entries(network.nodes)) {
    const distance = Math.hypot(node.x - x, node.y - y);
    if (distance < least) [least, found] = [distance, key];
  }
  return found;
}

type Event = MapBrowserEvent<PointerEvent | KeyboardEvent | WheelEvent>;

/** Moves what is picked when one of its nodes is dragged; a node that is not picked is picked and moved alone. */
export function dragNodes(map: OlMap, sheets: Sheets, idle: () => boolean, tell: (text: string) => void): Pointer {
  let ids: ReadonlySet<string> = new Set();
  let part: Network = { nodes: {}, links: {}, catchments: {} };
  let start: Point = [0, 0];
  let shift: Point = [0, 0];
  const nodeAt = (event: Event) => {
    const { network } = useProject.getState();
    const hit = map.forEachFeatureAtPixel(event.pixel, (f) => f.getId(), { hitTolerance: 3 });
    return typeof hit === "string" && network?.nodes[hit] ? hit : null;
  };
  return new Pointer({
    handleDownEvent: (event) => {
      const original = event.originalEvent as PointerEvent;
      if (!idle() || !primaryAction(event) || original.shiftKey || original.ctrlKey || original.metaKey) return false;
      const node = nodeAt(event);
      if (!node) return false;
      const { picked, network } = useProject.getState();
      if (!network) return false;
      ids = picked.has(node) ? picked : new Set([node]);
      start = [event.coordinate[0] ?? 0, event.coordinate[1] ?? 0];
      shift = [0, 0];
      part = touched(network, ids);
      return true;
    },
    handleDragEvent: (event) => {
      shift = [(event.coordinate[0] ?? 0) - start[0], (event.coordinate[1] ?? 0) - start[1]];
      sheets.place(moved(part, ids, ...shift));
      tell(`${show(shift[0], "length", 1)} east, ${show(shift[1], "length", 1)} ${unitOf("length")} north`);
    },
    handleUpEvent: () => {
      const { network, apply, pickAll } = useProject.getState();
      tell("");
      if (!network || Math.hypot(...shift) === 0) return false;
      pickAll(ids);
      void apply([{ edit: "move", elements: [...ids], east: shift[0], north: shift[1] }]).then(() => {
        // a refused move leaves things where they were
        const now = useProject.getState().network;
        if (now === network) sheets.place(part);
      });
      return false;
    },
  });
}

/** Shift and a drag pick what lies in a box; once several are picked, besides those. */
export function boxPick(sheets: Sheets, idle: () => boolean): DragBox {
  const box = new DragBox({ className: "pick-box", condition: (event) => idle() && shiftKeyOnly(event) });
  box.on("boxend", () => {
    const { picked, pickAll } = useProject.getState();
    const extent = box.getGeometry().getExtent();
    const [west = 0, south = 0, east = 0, north = 0] = extent;
    const within = ([x = 0, y = 0]: number[]) => x >= west && x <= east && y >= south && y <= north;
    const found = new Set(picked.size > 1 ? picked : []);
    for (const source of [sheets.nodes, sheets.links, sheets.grounds])
      source.forEachFeatureIntersectingExtent(extent, (feature) => {
        const id = feature.getId();
        const geometry = feature.getGeometry();
        // a catchment counts when all of it is in the box: the ground is everywhere
        const whole = geometry instanceof Polygon ? (geometry.getCoordinates()[0] ?? []).every(within) : true;
        if (typeof id === "string" && whole) found.add(id);
      });
    pickAll(found);
  });
  return box;
}

/** The outline or course of what is picked alone, with corners that can be dragged. */
export function showHandles(sheets: Sheets, network: Network | null, id: string | null) {
  sheets.handles.clear();
  const link = network?.links[id ?? ""];
  const node = network?.nodes[id ?? ""];
  const ring = node?.kind === "basin" ? outlineOf(node) : (network?.catchments[id ?? ""]?.polygon ?? []);
  if (network && isConduit(link)) sheets.handles.addFeature(new Feature(new LineString(courseOf(network, link))));
  else if (ring.length > 2) sheets.handles.addFeature(new Feature(new Polygon(closed(ring))));
}

/** The edit that a dragged corner of the picked element stands for. */
function reshaped(network: Network, id: string, corners: Point[], within: number): Edit | null {
  const link = network.links[id];
  if (!isConduit(link)) return { edit: "redraw", element: id, corners: corners.slice(0, -1) };
  const ends = { upstream: corners[0], downstream: corners.at(-1) } as const;
  for (const end of ["upstream", "downstream"] as const) {
    const [at, node] = [ends[end], network.nodes[link[end]]];
    if (!at || !node || Math.hypot(at[0] - node.x, at[1] - node.y) < 1e-6) continue;
    const to = nodeNear(network, at[0], at[1], within);
    const other = end === "upstream" ? link.downstream : link.upstream;
    return to && to !== other && to !== link[end] ? { edit: "reroute", link: id, end, to } : null;
  }
  return { edit: "redraw", element: id, corners: corners.slice(1, -1) };
}

/** Of an outline, the corners that were moved, drawn to what lies within reach. */
function drawnTo(network: Network, id: string, corners: Point[], within: number): Point[] {
  const node = network.nodes[id];
  const before = node?.kind === "basin" ? outlineOf(node) : (network.catchments[id]?.polygon ?? null);
  if (!before) return corners;
  const stays = new Set(before.map(([x, y]) => `${x} ${y}`));
  const { project } = useProject.getState();
  return corners.map((at) => (stays.has(`${at[0]} ${at[1]}`) ? at : snapped(project, network, at, within / 2, id)));
}

/** Corners of the picked course or outline follow the pointer; Alt and a click take one away. */
export function dragCorners(map: OlMap, sheets: Sheets, idle: () => boolean): Modify {
  const onNode = (event: Event) =>
    map.hasFeatureAtPixel(event.pixel, { hitTolerance: 3, layerFilter: (l) => l.get("source") === sheets.nodes });
  const modify = new Modify({
    source: sheets.handles,
    pixelTolerance: 8,
    // a node goes before the end of its pipe, unless Ctrl is held: then the end moves to another node
    condition: (event) => idle() && primaryAction(event) && (platformModifierKeyOnly(event) || !onNode(event)),
    deleteCondition: (event) => altKeyOnly(event) && singleClick(event),
    style: new Style({ image: new Circle({ radius: 5, fill: new Fill({ color: "#1d2427" }) }) }),
  });
  modify.on("modifyend", () => {
    const { network, cursor, apply } = useProject.getState();
    const geometry = sheets.handles.getFeatures()[0]?.getGeometry();
    const id = cursor.element;
    if (!network || !id) return;
    const corners = (
      geometry instanceof Polygon
        ? (geometry.getCoordinates()[0] ?? [])
        : geometry instanceof LineString
          ? geometry.getCoordinates()
          : []
    ) as Point[];
    const within = SNAP * (map.getView().getResolution() ?? 1);
    const edit = reshaped(network, id, drawnTo(network, id, corners, within), within);
    const back = () => showHandles(sheets, useProject.getState().network, id);
    if (edit) void apply([edit]).then(back);
    else back();
  });
  return modify;
}

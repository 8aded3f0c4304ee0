import Collection from "ol/Collection";
import { defaults as controls } from "ol/control/defaults";
import { boundingExtent, type Extent, extend, isEmpty } from "ol/extent";
import Feature from "ol/Feature";
import { LineString, Point as OlPoint, Polygon } from "ol/geom";
import { defaults as interactions } from "ol/interaction/defaults";
import KeyboardZoom from "ol/interaction/KeyboardZoom";
import LayerGroup from "ol/layer/Group";
import OlMap from "ol/Map";
import View from "ol/View";
import { type KeyboardEvent, useEffect, useRef, useState } from "react";
import { readClip, writeClip } from "../../document/clip";
import { courseOf } from "../../document/course";
import { centred, copied, mirrored, turned } from "../../document/selection";
import { useProject } from "../../document/store";
import type { Network, Point } from "../../document/types";
import { usePonds } from "../../document/usePonds";
import { walk } from "../../document/walk";
import type { Drawable } from "../../kinds";
import { flagsOf, useRuleElements } from "../results/useRuleElements";
import { layersUnder } from "./backgroundLayers";
import { closed, Sheets } from "./features";
import { boxPick, dragCorners, dragNodes, SNAP, showHandles } from "./gestures";
import { useGrid } from "./grid";
import { Legend } from "./Legend";
import { PlanBar } from "./PlanBar";
import { useDrawing } from "./useDrawing";
import { useThemed } from "./useThemed";
import "ol/ol.css";

/** The network over its backdrop: tone by how full, chevrons by direction, rings by depth used. North is up. */
export function Plan({
  still = false,
  adding = null,
  added = () => {},
}: {
  /** Only looked at: nothing is picked together, moved or drawn. */
  still?: boolean;
  /** What clicks draw, or nothing. */
  adding?: Drawable | null;
  added?: () => void;
}) {
  const target = useRef<HTMLDivElement>(null);
  const map = useRef<OlMap | null>(null);
  const sheets = useRef(new Sheets());
  const fitted = useRef<string | null>(null);
  const { network, project, cursor, picked, chain, id, point, wanted, planLook } = useProject();
  const drawing = useDrawing(adding, added);
  const projection = useGrid(project ? project.grid : undefined);
  const under = useRef(new LayerGroup());
  // where backgrounds lie, as far as that is known; how many there were, and in which project
  const lies = useRef<Extent[]>([]);
  const backgrounds = useRef({ of: "", count: 0 });
  const [placing, setPlacing] = useState<Network | null>(null);
  const [told, setTold] = useState("");
  const [pointer, setPointer] = useState<Point>([0, 0]);

  const place = (x: number, y: number) => {
    const { apply, pickAll } = useProject.getState();
    if (!placing) return;
    setPlacing(null);
    void apply([{ edit: "paste", clip: centred(placing, x, y) }]).then((ids) => ids.length && pickAll(new Set(ids)));
  };
  // the map's listeners live as long as the map: they read what is current here
  const now = useRef({ adding, placing, click: drawing.click, place });
  now.current = { adding, placing, click: drawing.click, place };

  useEffect(() => {
    if (!target.current || !projection) return;
    const m = new OlMap({
      target: target.current,
      controls: controls({ attribution: false, rotate: false, zoom: !still }),
      // two quick clicks draw a link; they must not zoom the ground away between them. Shift and a drag pick
      interactions: interactions({ doubleClickZoom: false, shiftDragZoom: false, keyboard: false }),
      layers: [under.current, ...sheets.current.layers()],
      view: new View({ projection, center: [0, 0], resolution: 1, enableRotation: false }),
    });
    m.addInteraction(new KeyboardZoom());
    if (!still) {
      const idle = () => !now.current.adding && !now.current.placing;
      m.addInteraction(boxPick(sheets.current, idle));
      m.addInteraction(dragNodes(m, sheets.current, idle, setTold));
      m.addInteraction(dragCorners(m, sheets.current, idle));
    }
    const hitAt = (pixel: number[]) => {
      const hit = m.forEachFeatureAtPixel(pixel, (f) => f.getId(), { hitTolerance: 5 });
      return typeof hit === "string" ? hit : null;
    };
    m.on("click", (event) => {
      const [x = 0, y = 0] = event.coordinate;
      const { placing, adding } = now.current;
      if (placing) return now.current.place(x, y);
      if (adding) return now.current.click(x, y, SNAP * (m.getView().getResolution() ?? 1));
      const original = event.originalEvent as MouseEvent;
      const { picked, pickAll, point } = useProject.getState();
      const hit = hitAt(event.pixel);
      if (!hit || original.altKey) return;
      if (still || !(original.shiftKey || original.ctrlKey || original.metaKey)) return point({ element: hit });
      const next = new Set(picked);
      if (!next.delete(hit)) next.add(hit);
      pickAll(next);
    });
    if (!still)
      m.on("moveend", () => {
        const [x = 0, y = 0] = m.getView().getCenter() ?? [];
        useProject.setState({ extent: { x, y, resolution: m.getView().getResolution() ?? 1 } });
      });
    m.on("pointermove", (event) => {
      if (event.dragging) return;
      if (now.current.placing || now.current.adding) setPointer([event.coordinate[0] ?? 0, event.coordinate[1] ?? 0]);
      if (target.current)
        target.current.style.cursor =
          now.current.adding || now.current.placing ? "crosshair" : hitAt(event.pixel) ? "pointer" : "";
    });
    map.current = m;
    // tests find elements on the canvas through this
    Object.assign(target.current, { pixelOf: (x: number, y: number) => m.getPixelFromCoordinate([x, y]) });
    return () => {
      m.setTarget(undefined);
      map.current = null;
      fitted.current = null;
    };
  }, [still, projection]);

  // every edit brings a new document: what lies under the plan is built anew only where it has changed
  const lying = JSON.stringify([project?.layers, project?.terrain]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: `lying` holds layers and terrain
  useEffect(() => {
    if (!project || !projection || !id) return;
    const say = (notice: string) => useProject.setState({ notice });
    const count = project.layers.length + (project.terrain ? 1 : 0);
    const { of, count: before } = backgrounds.current;
    // one that has just come is shown, and so are those of a sheet on which nothing else lies
    const shows = of === id ? count > before : Object.keys(useProject.getState().network?.nodes ?? {}).length === 0;
    backgrounds.current = { of: id, count };
    const found: Extent[] = [];
    lies.current = found;
    const told = (extent: Extent) => {
      found.push(extent);
      const { network } = useProject.getState();
      if (shows && network && lies.current === found) bringIntoSight(map.current, network, null, still, found);
    };
    under.current.setLayers(new Collection(layersUnder(id, project.layers, project.terrain, projection, say, told)));
  }, [lying, projection, id]);
  useEffect(() => {
    if (project) sheets.current.drawBackdrop(project.backdrop);
  }, [project]);
  const ponds = usePonds();
  useEffect(() => {
    if (network) sheets.current.drawPonds(ponds ?? {}, network);
  }, [ponds, network]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: another projection has made another map
  useEffect(() => {
    if (!network) return;
    sheets.current.draw(network, still);
    if (fitted.current === id || !map.current) return;
    // a sheet that begins blank keeps its sight while the first elements are pasted
    fitted.current = id;
    if (Object.keys(network.nodes).length === 0) return;
    const show = () => bringIntoSight(map.current, network, null, still);
    show();
    if (still) map.current.on("change:size", show);
  }, [network, id, still, projection]);

  // biome-ignore lint/correctness/useExhaustiveDependencies: another projection has made another map
  useEffect(() => {
    const view = map.current?.getView();
    if (still || !wanted.extent || !view || fitted.current !== id) return;
    const { x, y, resolution } = wanted.extent;
    view.setCenter([x, y]);
    view.setResolution(resolution);
    useProject.setState({ wanted: { ...useProject.getState().wanted, extent: null } });
  }, [wanted, network, id, still, projection]);

  const found = useRuleElements(cursor.rule);
  useEffect(() => sheets.current.flags.flag(flagsOf(still ? null : found)), [found, still]);

  const shown = useThemed(still);
  // biome-ignore lint/correctness/useExhaustiveDependencies: another projection has made another map
  useEffect(() => sheets.current.tell(shown, planLook.labels), [shown, planLook.labels, projection]);

  // biome-ignore lint/correctness/useExhaustiveDependencies: what the styles read
  useEffect(() => sheets.current.restyle(), [picked, chain]);
  // water follows the clock by itself: a replay draws nothing else of the plan
  useEffect(
    () =>
      useProject.subscribe((now, before) => {
        if (now.moment !== before.moment || now.series !== before.series) sheets.current.flow();
      }),
    [],
  );
  useEffect(() => {
    const alone = !still && !adding && !placing && picked.size === 1 ? cursor.element : null;
    showHandles(sheets.current, network, alone);
  }, [network, picked, cursor.element, still, adding, placing]);
  useEffect(() => {
    const { sketch } = sheets.current;
    sketch.clear();
    const put = (geometry: LineString | Polygon | OlPoint) => sketch.addFeature(new Feature(geometry));
    if (placing) {
      const ghost = centred(placing, ...pointer);
      for (const link of Object.values(ghost.links)) put(new LineString(courseOf(ghost, link)));
      for (const node of Object.values(ghost.nodes)) put(new OlPoint([node.x, node.y]));
      for (const ground of Object.values(ghost.catchments))
        if (ground.polygon.length > 2) put(new Polygon(closed(ground.polygon)));
    } else if (drawing.corners.length) {
      const ring = [...drawing.corners, pointer];
      put(ring.length > 2 ? new Polygon(closed(ring)) : new LineString(ring));
      for (const corner of drawing.corners) put(new OlPoint(corner));
    } else if (drawing.from && network?.nodes[drawing.from]) {
      const node = network.nodes[drawing.from];
      if (node) put(new LineString([[node.x, node.y], pointer]));
    }
  }, [placing, pointer, drawing.corners, drawing.from, network]);

  const keys = (event: KeyboardEvent) => {
    const { network, apply, pickAll } = useProject.getState();
    if (!network || still) return;
    const command = event.ctrlKey || event.metaKey;
    const arrow = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[event.key];
    if (drawing.key(event.key)) {
      // taken
    } else if (placing && event.key === "m") setPlacing(mirrored(placing));
    else if (placing && event.key === "t") setPlacing(turned(placing, event.altKey ? 1 : 15));
    else if (placing && event.key === "Enter") place(...pointer);
    else if (event.key === "Escape" && placing) setPlacing(null);
    else if (event.key === "Escape" && !adding) point({ element: null });
    else if ((event.key === "Delete" || event.key === "Backspace") && picked.size) {
      void apply([{ edit: "remove", elements: [...picked] }]);
      point({ element: null });
    } else if (command && event.key === "a")
      pickAll([...Object.keys(network.nodes), ...Object.keys(network.links), ...Object.keys(network.catchments)]);
    else if (arrow && command && picked.size) {
      const step = event.shiftKey ? 0.1 : 1;
      const [east = 0, north = 0] = arrow;
      void apply([{ edit: "move", elements: [...picked], east: east * step, north: north * step }]);
    } else if (event.key === "f" && !command) bringIntoSight(map.current, network, picked, false, lies.current);
    else if (arrow && !command) {
      const next = walk(network, cursor.element, event.key as Parameters<typeof walk>[2]);
      if (next) point({ element: next });
    } else return;
    event.preventDefault();
    event.stopPropagation();
  };

  return (
    <section className="flex min-h-0 min-w-0 flex-1 flex-col" aria-label="Plan">
      <PlanBar still={still} adding={adding} drawing={drawing} placing={placing !== null} told={told} />
      <div className="relative flex min-h-0 flex-1 flex-col">
        {shown && <Legend shown={shown} />}
        <div
          ref={target}
          // biome-ignore lint/a11y/noNoninteractiveTabindex: the plan is worked on by keyboard
          tabIndex={0}
          className="min-h-0 flex-1"
          onKeyDown={keys}
          onCopy={(event) => {
            if (!network || still || picked.size === 0) return;
            event.clipboardData.setData("text/plain", writeClip(copied(network, picked)));
            event.preventDefault();
          }}
          onPaste={(event) => {
            if (still) return;
            event.preventDefault();
            const clip = readClip(event.clipboardData.getData("text/plain"));
            if (typeof clip === "string") useProject.setState({ notice: clip });
            else setPlacing(clip);
          }}
          data-testid="plan"
        />
      </div>
    </section>
  );
}

/** Bring what is picked into sight, or everything: network, catchments and, of those that are given, backgrounds. */
function bringIntoSight(
  map: OlMap | null,
  network: Network,
  picked: ReadonlySet<string> | null,
  still: boolean,
  backgrounds: readonly Extent[] = [],
) {
  const wanted = picked?.size ? picked : null;
  const places = [
    ...Object.entries(network.nodes).flatMap(([id, node]): Point[] =>
      !wanted || wanted.has(id) ? [[node.x, node.y]] : [],
    ),
    ...Object.entries(network.links).flatMap(([id, link]) => (wanted?.has(id) ? courseOf(network, link) : [])),
    ...Object.entries(network.catchments).flatMap(([id, ground]) => (!wanted || wanted.has(id) ? ground.polygon : [])),
  ];
  const extent = boundingExtent(places);
  if (!wanted) for (const other of backgrounds) extend(extent, other);
  map?.updateSize();
  if (!isEmpty(extent) || places.length)
    map?.getView().fit(extent, {
      padding: still ? [14, 24, 14, 24] : [26, 40, 26, 60],
      minResolution: 0.05,
    });
}

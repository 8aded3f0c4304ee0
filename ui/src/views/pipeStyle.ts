import type { LineString } from "ol/geom";
import { Point } from "ol/geom";
import { Fill, RegularShape, Stroke, Style } from "ol/style";
import { useProject } from "../document/store";
import { depthOf, isConduit, type NetLink } from "../document/types";
import { CONTROL_MARK } from "./controlMark";

/** Share of a pipe's section that is full at the moment of the clock; above 1 it is under pressure. */
export function fillOf(id: string): number | null {
  const { network, series, cursor } = useProject.getState();
  const link = network?.links[id];
  if (!isConduit(link) || !series) return null;
  const d = depthOf(link);
  const quarter = (link.upstream_invert - link.downstream_invert) / 4;
  const head = series.at(`head:${id}`, cursor.moment) - (link.upstream_invert - quarter);
  const foot = series.at(`foot:${id}`, cursor.moment) - (link.downstream_invert + quarter);
  return Math.max(Math.min(head, foot) / d, 0);
}

const toneOf = (fill: number | null) =>
  fill === null
    ? "#fcfaf3"
    : fill > 0.999
      ? "#0e4a58"
      : fill > 0.7
        ? "#25727d"
        : fill > 0.4
          ? "#73aeb0"
          : fill > 0.08
            ? "#b3d5d0"
            : "#dce9e3";

/** Edges: drawn through for a pipe, broken banks for a channel, dots of stone for a trench. */
function edgeOf(link: NetLink): { lineDash: number[]; lineCap?: CanvasLineCap } | null {
  if (link.kind === "channel") return { lineDash: [10, 4], lineCap: "butt" };
  return link.kind === "trench" ? { lineDash: [1, 5], lineCap: "round" } : null;
}

/** Width by diameter, tone by how full, a chevron by direction, a white dashed core when surcharged. */
export function pipeStyles(id: string, resolution: number): Style[] {
  const { network, cursor } = useProject.getState();
  const link = network?.links[id];
  if (!link) return [];
  const [a, b] = [network.nodes[link.upstream], network.nodes[link.downstream]];
  if (!a || !b) return [];
  const picked = cursor.element === id;
  const conduit = isConduit(link);
  const width = conduit ? 3.5 + Math.min(depthOf(link), 2) * 9 : 2.5;
  const fill = fillOf(id);
  const styles = [
    new Style({
      stroke: new Stroke({ color: "#1d2427", width: width + (picked ? 5 : 2), ...(edgeOf(link) ?? {}) }),
    }),
    new Style({
      stroke: new Stroke({ color: toneOf(fill), width, ...(conduit ? {} : { lineDash: [3, 3] }) }),
    }),
  ];
  if (fill !== null && fill > 0.999) {
    styles.push(new Style({ stroke: new Stroke({ color: "#ffffff", width: 1.4, lineDash: [6, 5] }) }));
  }
  if (!isConduit(link)) {
    styles.push(
      new Style({
        geometry: (feature) => new Point((feature.getGeometry() as LineString).getCoordinateAt(0.5)),
        renderer: (pixel, state) => {
          const [x = 0, y = 0] = pixel as number[];
          state.context.save();
          state.context.translate(x, y);
          state.context.scale(state.pixelRatio, state.pixelRatio);
          state.context.beginPath();
          state.context.arc(0, 0, 8, 0, 2 * Math.PI);
          state.context.fillStyle = picked ? "#1d2427" : "#fcfaf3";
          state.context.fill();
          state.context.strokeStyle = "#1d2427";
          state.context.stroke();
          state.context.strokeStyle = picked ? "#fcfaf3" : "#1d2427";
          state.context.lineWidth = 1.5;
          state.context.stroke(new Path2D(CONTROL_MARK[link.kind]));
          state.context.restore();
        },
      }),
    );
    return styles;
  }
  if (Math.hypot(a.x - b.x, a.y - b.y) / resolution > 26) {
    styles.push(
      new Style({
        geometry: (feature) => new Point((feature.getGeometry() as LineString).getCoordinateAt(0.5)),
        image: new RegularShape({
          points: 3,
          radius: 3.6,
          rotation: Math.atan2(b.x - a.x, b.y - a.y),
          fill: new Fill({ color: fill !== null && fill > 0.4 ? "#ffffff" : "#1d2427" }),
        }),
      }),
    );
  }
  return styles;
}

import type { LineString } from "ol/geom";
import { Point } from "ol/geom";
import { Stroke, Style } from "ol/style";
import { courseOf, lengthOf } from "../../document/course";
import { useProject } from "../../document/store";
import { type Control, depthOf, isConduit, type NetLink, type Network } from "../../document/types";
import { conduitKind, controlKind } from "../../kinds";

const TONES: [number, string][] = [
  [0.999, "#0e4a58"],
  [0.7, "#25727d"],
  [0.4, "#73aeb0"],
  [0.08, "#b3d5d0"],
];
/** Of the share of a conduit's section that is full. */
export const toneOf = (fill: number) => TONES.find(([above]) => fill > above)?.[1] ?? "#dce9e3";

// a plan of thousands of pipes is drawn with a few dozen styles
const kept = new Map<string, Style>();
function style(key: string, make: () => Style): Style {
  let found = kept.get(key);
  if (!found) {
    found = make();
    kept.set(key, found);
  }
  return found;
}

/** Pixels under which a pipe is drawn as a mere line: a whole town in sight has no room for more. */
const FAR = 12;
const FAR_LINE = new Style({ stroke: new Stroke({ color: "#65665f", width: 2 }) });

/** Whether a link is so short on the screen that it is a mere line. */
export const isFar = (network: Network, link: NetLink, resolution: number) =>
  lengthOf(courseOf(network, link)) / resolution < FAR;

/** A link of the chain from a symptom to its cause. */
const CHAINED = new Style({ stroke: new Stroke({ color: "#9e2a3b", width: 17, lineDash: [3, 4], lineCap: "butt" }) });

function control(kind: Control["kind"], picked: boolean): Style {
  const mark = new Path2D(controlKind({ kind }).mark);
  return new Style({
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
      state.context.stroke(mark);
      state.context.restore();
    },
  });
}

/** How wide a conduit is drawn, px. */
export const widthOf = (link: NetLink) => (isConduit(link) ? 3.5 + Math.min(depthOf(link), 2) * 9 : 2.5);

/** Edge and bed of a link, wide by its diameter; a mark on a control. The water in it is drawn by `ConduitWater`. */
export function linkStyles(id: string, resolution: number): Style[] {
  const { network, picked: all, chain } = useProject.getState();
  const link = network?.links[id];
  if (!link) return [];
  const picked = all.has(id);
  if (isFar(network, link, resolution) && !picked) return [FAR_LINE];
  const conduit = isConduit(link);
  const width = widthOf(link);
  const edge = width + (picked ? 5 : 2);
  const styles = [
    style(`edge/${edge}/${link.kind}`, () => {
      return new Style({
        stroke: new Stroke({ color: "#1d2427", width: edge, ...(isConduit(link) ? conduitKind(link).edge : {}) }),
      });
    }),
    style(`${width}/${conduit}`, () => {
      return new Style({ stroke: new Stroke({ color: "#fcfaf3", width, ...(conduit ? {} : { lineDash: [3, 3] }) }) });
    }),
  ];
  if (chain?.includes(id)) styles.unshift(CHAINED);
  if (!isConduit(link)) styles.push(style(`${link.kind}/${picked}`, () => control(link.kind, picked)));
  return styles;
}

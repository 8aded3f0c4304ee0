import { courseOf } from "../../document/course";
import type { StormSeries } from "../../document/series";
import { useProject } from "../../document/store";
import { isConduit, isStore, type NetNode, type Network, type Point } from "../../document/types";
import { nodeKind } from "../../kinds";
import { drawDisc, drawMoving, farOff } from "./nodeSymbol";
import { isFar, widthOf } from "./pipeStyle";
import { NOT_COMPUTED, type Toned } from "./themes";
import { type Lens, MovingLayer, traced } from "./waterLayers";

type Marked =
  | { link: string; course: Path2D; width: number; toned: Toned | null }
  | { id: string; node: NetNode; pixel: Point; toned: Toned | null };

const WEIGHT = { over: 2, tight: 1, "": 0 };
const weightOf = ({ toned }: Marked) => (toned ? WEIGHT[toned.mark] + toned.heavy / 2 : -1);

/** Results by tone and mark instead of the water of the moment; what is worst lies on top, at any scale. */
export class ResultMarks extends MovingLayer<Marked> {
  protected arrange(network: Network, moved: Network | null, _: StormSeries | null, lens: Lens): Marked[] {
    const themed = this.themed;
    if (!themed) return [];
    const links = Object.entries(network.links).flatMap(([id, link]): Marked[] => {
      if (themed.links.size === 0 || (!isConduit(link) && !themed.links.has(id))) return [];
      const points = courseOf(moved?.links[id] ? moved : network, link).map(lens.seen);
      if (points.length < 2 || !points.some(lens.within)) return [];
      const far = isFar(network, link, lens.resolution);
      const width = far ? 3 : widthOf(link);
      return [{ link: id, course: traced(points), width, toned: themed.links.get(id) ?? null }];
    });
    const nodes = Object.entries(network.nodes).flatMap(([id, node]): Marked[] => {
      const place = moved?.nodes[id] ?? node;
      const pixel = lens.seen([place.x, place.y]);
      return lens.within(pixel) ? [{ id, node, pixel, toned: themed.nodes.get(id) ?? null }] : [];
    });
    const worstLast = (a: Marked, b: Marked) => weightOf(a) - weightOf(b);
    return [...links.sort(worstLast), ...nodes.sort(worstLast)];
  }

  protected paint(
    context: CanvasRenderingContext2D,
    placed: Marked[],
    _: number,
    network: Network,
    resolution: number,
  ) {
    const { picked } = useProject.getState();
    const ofNodes = (this.themed?.nodes.size ?? 0) > 0;
    for (const one of placed)
      if ("link" in one) drawLine(context, one.course, one.width, one.toned);
      else {
        // a store keeps its outline, empty
        const lying = { pixel: one.pixel, picked: picked.has(one.id), resolution };
        if (isStore(one.node)) drawMoving(context, network, one.id, one.node, lying, Number.NaN);
        if (!ofNodes || one.node.kind === "outfall") continue;
        const { tone, mark, heavy } = one.toned ?? { tone: NOT_COMPUTED, mark: "", heavy: 0 };
        const far = farOff(network, resolution);
        const radius = mark
          ? far
            ? 3 + 4 * heavy
            : 5 + 7 * heavy
          : far
            ? 2
            : Math.min(nodeKind(one.node).radius - 1, 5);
        drawDisc(context, ...one.pixel, radius, tone, mark as Toned["mark"]);
      }
  }
}

function drawLine(context: CanvasRenderingContext2D, course: Path2D, width: number, toned: Toned | null) {
  context.strokeStyle = toned?.tone ?? NOT_COMPUTED;
  context.lineWidth = width + (toned?.mark ? 2 : 0);
  context.stroke(course);
  if (!toned?.mark) return;
  context.strokeStyle = "#ffffff";
  context.lineWidth = 1.4;
  context.setLineDash(toned.mark === "over" ? [6, 5] : [1.5, 4]);
  context.stroke(course);
  context.setLineDash([]);
}

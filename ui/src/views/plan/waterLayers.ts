import Layer from "ol/layer/Layer";
import type { FrameState } from "ol/Map";
import Source from "ol/source/Source";
import { apply } from "ol/transform";
import { courseOf } from "../../document/course";
import { between, type StormSeries } from "../../document/series";
import { useProject } from "../../document/store";
import { depthOf, isConduit, type NetNode, type Network, type Point, spillOf } from "../../document/types";
import { drawMoving } from "./nodeSymbol";
import { isFar, toneOf, widthOf } from "./pipeStyle";
import type { Themed } from "./themes";

const BACKWARD = 1e-4; // m3/s; less is water that stands
type Column = Float32Array | undefined;
/** A conduit with the columns of its water, and the bed and height that its fill is measured by. */
type Conduit = {
  head: Column;
  foot: Column;
  flow: Column;
  beds: [number, number];
  height: number;
  width: number;
  far: boolean;
};
/** back : the arrow of water that runs against the way in which the conduit is drawn. */
type Drawn = Conduit & { course: Path2D; arrow: Path2D; back: Path2D };
type Placed = { id: string; node: NetNode; level: Column; pixel: Point };

/** A sheet of its own canvas that is drawn anew at every moment of a replay; what stays is added once. */
export abstract class MovingLayer<Laid> extends Layer<Source> {
  private readonly canvas = document.createElement("canvas");
  private moved: Network | null = null;
  protected themed: Themed | null = null;
  /** What stays as it is while only the clock moves, and what it was made from. */
  private still: { of: unknown[]; placed: Laid[] } = { of: [], placed: [] };

  constructor() {
    super({ source: new Source({}) });
    this.canvas.style.cssText = "position: absolute; left: 0; top: 0; pointer-events: none";
  }

  /** Elements that are shown elsewhere while they are dragged; null when they are back. */
  place(part: Network | null) {
    this.moved = part;
    this.changed();
  }

  /** Results that are shown instead of the water of the moment; null shows the water. */
  tell(themed: Themed | null) {
    this.themed = themed;
    this.changed();
  }

  /** Arrange everything again: something else than network, sight and series has changed. */
  protected arrangeAnew() {
    this.still = { of: [], placed: [] };
    this.changed();
  }

  override render(frame: FrameState | null): HTMLElement {
    const { network, series, moment } = useProject.getState();
    if (!frame || !network) return this.canvas;
    const ratio = frame.pixelRatio;
    const [width = 0, height = 0] = frame.size;
    if (this.canvas.width !== width * ratio || this.canvas.height !== height * ratio) {
      this.canvas.width = width * ratio;
      this.canvas.height = height * ratio;
      this.canvas.style.width = `${width}px`;
      this.canvas.style.height = `${height}px`;
    }
    const context = this.canvas.getContext("2d");
    if (!context) return this.canvas;
    context.setTransform(1, 0, 0, 1, 0, 0);
    context.clearRect(0, 0, this.canvas.width, this.canvas.height);
    context.scale(ratio, ratio);
    const { resolution } = frame.viewState;
    const made = [network, series, this.moved, this.themed, width, height, ...frame.coordinateToPixelTransform];
    if (made.some((part, k) => part !== this.still.of[k])) {
      const seen = (place: Point): Point => {
        const pixel = [...place];
        apply(frame.coordinateToPixelTransform, pixel);
        return [pixel[0] ?? 0, pixel[1] ?? 0];
      };
      const within = ([x, y]: Point) => x > -60 && y > -60 && x < width + 60 && y < height + 60;
      this.still = {
        of: made,
        placed: this.arrange(network, this.moved, series, { seen, within, resolution, size: [width, height] }),
      };
    }
    this.paint(context, this.still.placed, series?.frame(moment) ?? 0, network, resolution);
    return this.canvas;
  }

  /** Elements in lens as they lie on the canvas, with their columns. */
  protected abstract arrange(network: Network, moved: Network | null, series: StormSeries | null, lens: Lens): Laid[];
  protected abstract paint(
    context: CanvasRenderingContext2D,
    placed: Laid[],
    at: number,
    network: Network,
    resolution: number,
  ): void;
}

export type Lens = {
  seen: (place: Point) => Point;
  within: (pixel: Point) => boolean;
  resolution: number;
  size: Point;
};

/** Water in conduits, and its direction. */
export class ConduitWater extends MovingLayer<Drawn> {
  protected arrange(network: Network, moved: Network | null, series: StormSeries | null, lens: Lens): Drawn[] {
    return Object.entries(network.links).flatMap(([id, link]): Drawn[] => {
      if (!isConduit(link)) return [];
      const elsewhere = moved?.links[id];
      const course = moved && elsewhere ? courseOf(moved, elsewhere) : courseOf(network, link);
      const points = course.map(lens.seen);
      if (points.length < 2 || !points.some(lens.within)) return [];
      const far = isFar(network, link, lens.resolution);
      const quarter = (link.upstream_invert - link.downstream_invert) / 4;
      return [
        {
          head: series?.column(`head:${id}`),
          foot: series?.column(`foot:${id}`),
          flow: series?.column(`flow:${id}`),
          beds: [link.upstream_invert - quarter, link.downstream_invert + quarter],
          height: depthOf(link),
          width: far ? 2 : widthOf(link),
          far,
          course: traced(points),
          arrow: chevron(points),
          back: chevron([...points].reverse()),
        },
      ];
    });
  }

  protected paint(context: CanvasRenderingContext2D, placed: Drawn[], at: number) {
    drawConduits(context, placed, at);
  }
}

/** Water in nodes, and floods. */
export class NodeWater extends MovingLayer<Placed> {
  protected arrange(network: Network, moved: Network | null, series: StormSeries | null, lens: Lens): Placed[] {
    return Object.entries(network.nodes).flatMap(([id, node]): Placed[] => {
      const place = moved?.nodes[id] ?? node;
      const pixel = lens.seen([place.x, place.y]);
      return lens.within(pixel) ? [{ id, node, level: series?.column(`level:${id}`), pixel }] : [];
    });
  }

  protected paint(
    context: CanvasRenderingContext2D,
    placed: Placed[],
    at: number,
    network: Network,
    resolution: number,
  ) {
    const { picked } = useProject.getState();
    const floods = ({ node, level }: Placed) => node.kind !== "outfall" && between(level, at) > spillOf(node);
    // floods lie on top: of a thousand nodes they are what must be seen
    for (const { id, node, level, pixel } of [...placed].sort((a, b) => Number(floods(a)) - Number(floods(b))))
      drawMoving(context, network, id, node, { pixel, picked: picked.has(id), resolution }, between(level, at));
  }
}

/** Strokes of one tone and width go in one path: a thousand pipes take a dozen strokes. */
function drawConduits(context: CanvasRenderingContext2D, conduits: Drawn[], at: number) {
  const strokes = new Map<string, { tone: string; width: number; courses: Path2D }>();
  const full = new Path2D();
  const arrows = { dark: new Path2D(), light: new Path2D() };
  for (const conduit of conduits) {
    const [head, foot] = [between(conduit.head, at), between(conduit.foot, at)];
    const fill = Math.max(Math.min(head - conduit.beds[0], foot - conduit.beds[1]) / conduit.height, 0);
    const arrow = between(conduit.flow, at) < -BACKWARD ? conduit.back : conduit.arrow;
    if (!conduit.far) (fill > 0.4 ? arrows.light : arrows.dark).addPath(arrow);
    if (!(fill >= 0) || (conduit.far && fill <= 0.08)) continue;
    const [tone, width] = [toneOf(fill), conduit.width];
    const key = `${tone}/${width}`;
    let stroke = strokes.get(key);
    if (!stroke) {
      stroke = { tone, width, courses: new Path2D() };
      strokes.set(key, stroke);
    }
    stroke.courses.addPath(conduit.course);
    if (!conduit.far && fill > 0.999) full.addPath(conduit.course);
  }
  for (const { tone, width, courses } of strokes.values()) {
    context.strokeStyle = tone;
    context.lineWidth = width;
    context.stroke(courses);
  }
  context.strokeStyle = "#ffffff";
  context.lineWidth = 1.4;
  context.setLineDash([6, 5]);
  context.stroke(full);
  context.setLineDash([]);
  context.fillStyle = "#1d2427";
  context.fill(arrows.dark);
  context.fillStyle = "#ffffff";
  context.fill(arrows.light);
}

export function traced(points: Point[]): Path2D {
  const path = new Path2D();
  for (const [k, [x, y]] of points.entries()) k ? path.lineTo(x, y) : path.moveTo(x, y);
  return path;
}

/** A triangle in the middle of a course that points the way of the water; nothing where there is no room. */
function chevron(points: Point[]): Path2D {
  const path = new Path2D();
  const long = points.slice(1).reduce((sum, [x, y], k) => {
    const [x0, y0] = points[k] ?? [x, y];
    return sum + Math.hypot(x - x0, y - y0);
  }, 0);
  if (long <= 26) return path;
  const middle = Math.floor((points.length - 1) / 2);
  const [[ax, ay], [bx, by]] = [points[middle] ?? [0, 0], points[middle + 1] ?? [0, 0]];
  const [cx, cy] = [(ax + bx) / 2, (ay + by) / 2];
  const length = Math.hypot(bx - ax, by - ay) || 1;
  const [dx, dy] = [(3.6 * (bx - ax)) / length, (3.6 * (by - ay)) / length];
  path.moveTo(cx + dx, cy + dy);
  path.lineTo(cx - 0.5 * dx + 0.87 * dy, cy - 0.5 * dy - 0.87 * dx);
  path.lineTo(cx - 0.5 * dx - 0.87 * dy, cy - 0.5 * dy + 0.87 * dx);
  path.closePath();
  return path;
}

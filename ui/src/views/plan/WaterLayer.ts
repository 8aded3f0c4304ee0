import Layer from "ol/layer/Layer";
import type { FrameState } from "ol/Map";
import Source from "ol/source/Source";
import { apply } from "ol/transform";
import { courseOf } from "../../document/course";
import { useProject } from "../../document/store";
import { isConduit, type NetLink, type Network, type Point } from "../../document/types";
import { drawNode } from "./nodeSymbol";
import { fillOf, isFar, toneOf, widthOf } from "./pipeStyle";

type Path = { id: string; link: NetLink; points: Point[] };

/** What moves with the clock: water in conduits, its direction, and the nodes. Drawn anew at every moment of a replay. */
export class WaterLayer extends Layer<Source> {
  private readonly canvas = document.createElement("canvas");
  private moved: Network | null = null;

  constructor() {
    super({ source: new Source({}) });
    this.canvas.className = "pointer-events-none absolute top-0 left-0";
  }

  /** Elements that are shown elsewhere while they are dragged; null when they are back. */
  place(part: Network | null) {
    this.moved = part;
    this.changed();
  }

  override render(frame: FrameState | null): HTMLElement {
    const { network } = useProject.getState();
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
    const seen = (place: Point): Point => {
      const pixel = [...place];
      apply(frame.coordinateToPixelTransform, pixel);
      return [pixel[0] ?? 0, pixel[1] ?? 0];
    };
    const within = ([x, y]: Point) => x > -60 && y > -60 && x < width + 60 && y < height + 60;
    const resolution = frame.viewState.resolution;
    context.scale(ratio, ratio);
    const paths = this.paths(network).flatMap((path) => {
      const points = path.points.map(seen);
      return points.some(within) ? [{ ...path, points }] : [];
    });
    this.conduits(context, network, paths, resolution);
    for (const [id, node] of Object.entries(network.nodes)) {
      const place = this.moved?.nodes[id] ?? node;
      const pixel = seen([place.x, place.y]);
      if (within(pixel)) drawNode(context, pixel, id, resolution);
    }
    return this.canvas;
  }

  private paths(network: Network): Path[] {
    return Object.entries(network.links).map(([id, link]) => {
      const moved = this.moved?.links[id];
      return { id, link, points: moved && this.moved ? courseOf(this.moved, moved) : courseOf(network, link) };
    });
  }

  /** Strokes of one tone and width go in one path: a thousand pipes take a dozen strokes. */
  private conduits(context: CanvasRenderingContext2D, network: Network, paths: Path[], resolution: number) {
    const strokes = new Map<string, { tone: string; width: number; paths: Path2D }>();
    const full = new Path2D();
    const arrows = { dark: new Path2D(), light: new Path2D() };
    for (const { id, link, points } of paths) {
      const fill = fillOf(id);
      if (!isConduit(link) || fill === null || points.length < 2) {
        if (isConduit(link)) chevron(arrows.dark, points);
        continue;
      }
      const far = isFar(network, link, resolution);
      if (far && fill <= 0.08) continue;
      const [tone, width] = [toneOf(fill), far ? 2 : widthOf(link)];
      let stroke = strokes.get(`${tone}/${width}`);
      if (!stroke) {
        stroke = { tone, width, paths: new Path2D() };
        strokes.set(`${tone}/${width}`, stroke);
      }
      trace(stroke.paths, points);
      if (far) continue;
      if (fill > 0.999) trace(full, points);
      chevron(fill > 0.4 ? arrows.light : arrows.dark, points);
    }
    context.lineJoin = context.lineCap = "round";
    for (const { tone, width, paths: path } of strokes.values()) {
      context.strokeStyle = tone;
      context.lineWidth = width;
      context.stroke(path);
    }
    context.lineCap = "butt";
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
}

function trace(path: Path2D, points: Point[]) {
  for (const [k, [x, y]] of points.entries()) k ? path.lineTo(x, y) : path.moveTo(x, y);
}

/** A triangle in the middle of a course that points the way of the water, where there is room. */
function chevron(path: Path2D, points: Point[]) {
  const long = points
    .slice(1)
    .reduce((sum, [x, y], k) => sum + Math.hypot(x - (points[k]?.[0] ?? x), y - (points[k]?.[1] ?? y)), 0);
  if (long <= 26) return;
  const middle = Math.floor((points.length - 1) / 2);
  const [[ax, ay], [bx, by]] = [points[middle] ?? [0, 0], points[middle + 1] ?? [0, 0]];
  const [cx, cy] = [(ax + bx) / 2, (ay + by) / 2];
  const length = Math.hypot(bx - ax, by - ay) || 1;
  const [dx, dy] = [(bx - ax) / length, (by - ay) / length];
  const size = 3.6;
  path.moveTo(cx + size * dx, cy + size * dy);
  path.lineTo(cx - size * (0.5 * dx - 0.87 * dy), cy - size * (0.5 * dy + 0.87 * dx));
  path.lineTo(cx - size * (0.5 * dx + 0.87 * dy), cy - size * (0.5 * dy - 0.87 * dx));
  path.closePath();
}

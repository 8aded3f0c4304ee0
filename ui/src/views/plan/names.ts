import { courseOf } from "../../document/course";
import type { StormSeries } from "../../document/series";
import { useProject } from "../../document/store";
import { type Backdrop, isConduit, isStore, type Network, type Point } from "../../document/types";
import { nodeKind } from "../../kinds";
import { type Stands, standing, type Wanted } from "./labels";
import { type Lens, MovingLayer } from "./waterLayers";

type Name = { id: string | null; text: string; font: string; tone: string; at: Point; stands: Stands | null };

const NODE = "600 11px 'Archivo Variable'";
const BACKDROP = "11px 'Archivo Variable'";
const HEIGHT = 9; // px, of capitals
const THINNED = 1.05; // m for a pixel, from which only what matters most is named

/** Names of nodes and of what lies under them, placed so that they can be read. */
export class Names extends MovingLayer<Name> {
  private readonly measure = document.createElement("canvas").getContext("2d");

  protected arrange(network: Network, moved: Network | null, _: StormSeries | null, lens: Lens): Name[] {
    const { answer, project } = useProject.getState();
    const names: Name[] = [];
    const wanted: Wanted[] = [];
    const add = (name: Omit<Name, "stands">, gap: number, rank: number) => {
      names.push({ ...name, stands: null });
      if (this.measure) this.measure.font = name.font;
      const width = this.measure?.measureText(name.text).width ?? name.text.length * 6;
      wanted.push({ at: name.at, gap, width, height: HEIGHT, rank });
    };
    for (const [id, node] of Object.entries(network.nodes)) {
      const place = moved?.nodes[id] ?? node;
      const at = lens.seen([place.x, place.y]);
      if (!lens.within(at)) continue;
      const matters = node.kind === "outfall" || isStore(node);
      const floods = answer?.nodes[id]?.state === "flooded";
      const told = this.themed?.nodes.get(id);
      if (lens.resolution >= THINNED && !matters && !floods && !told?.mark) continue;
      const text = [node.name, told?.text].filter(Boolean).join(" ");
      add(
        { id, text, font: NODE, tone: "#1d2427", at },
        nodeKind(node).radius + (floods ? 9 : 2),
        matters ? 0 : floods || told?.mark ? 1 : 2,
      );
    }
    for (const [id, told] of this.themed?.links ?? []) {
      const link = network.links[id];
      if (!link || !told.text || (lens.resolution >= THINNED && !told.mark)) continue;
      const course = courseOf(moved?.links[id] ? moved : network, link).map(lens.seen);
      const at = halfWay(course);
      if (at && lens.within(at)) add({ id: null, text: told.text, font: BACKDROP, tone: "#1d2427", at }, 5, 2.5);
    }
    for (const item of project?.backdrop ?? []) {
      const at = item.name ? lens.seen(middleOf(item)) : null;
      const tone = item.kind === "water" ? "#25727d" : "#65665f";
      if (at && lens.within(at)) add({ id: null, text: item.name, font: BACKDROP, tone, at }, 0, 3);
    }
    const lines = Object.entries(network.links).flatMap(([id, link]): Point[][] => {
      if (!isConduit(link)) return [];
      const elsewhere = moved?.links[id];
      const points = (moved && elsewhere ? courseOf(moved, elsewhere) : courseOf(network, link)).map(lens.seen);
      return points.some(lens.within) ? [points] : [];
    });
    const stands = standing(wanted, lines, lens.size);
    return names.map((name, k) => ({ ...name, stands: stands[k] ?? null }));
  }

  protected paint(context: CanvasRenderingContext2D, placed: Name[]) {
    const { picked } = useProject.getState();
    context.lineWidth = 3;
    context.strokeStyle = "#f6f2e7";
    context.lineJoin = "round";
    for (const { id, text, font, tone, at, stands } of placed) {
      // what is picked is named, come what may
      const where = stands ?? (id !== null && picked.has(id) ? { x: at[0] + 10, y: at[1] - 6 } : null);
      if (!where) continue;
      context.font = font;
      context.fillStyle = tone;
      context.strokeText(text, where.x, where.y);
      context.fillText(text, where.x, where.y);
    }
  }
}

/** The place half way along a course, px. */
export function halfWay(course: Point[]): Point | null {
  const lengths = course.slice(1).map(([x, y], k) => Math.hypot(x - (course[k]?.[0] ?? x), y - (course[k]?.[1] ?? y)));
  let left = lengths.reduce((sum, length) => sum + length, 0) / 2;
  for (const [k, length] of lengths.entries()) {
    const [from, to] = [course[k], course[k + 1]];
    if (!from || !to) return null;
    if (left <= length) {
      const share = length > 0 ? left / length : 0;
      return [from[0] + share * (to[0] - from[0]), from[1] + share * (to[1] - from[1])];
    }
    left -= length;
  }
  return null;
}

/** Where a line or an outline of the backdrop is named: half way along it, or the middle of its extent. */
function middleOf(item: Backdrop): Point {
  const points = item.points;
  if (item.kind === "path") return points[Math.floor(points.length / 2)] ?? [0, 0];
  const [xs, ys] = [points.map((p) => p[0]), points.map((p) => p[1])];
  return [(Math.min(...xs) + Math.max(...xs)) / 2, (Math.min(...ys) + Math.max(...ys)) / 2];
}

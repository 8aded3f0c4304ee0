import type { Station } from "../../document/along";
import { isConduit } from "../../document/types";
import { px } from "../../primitives/polyline";
import type { Frame } from "./frame";
import { halfOf } from "./nodeWidth";

const SAME = 1e-6; // m

/** Lines of a surface over the run, as chainages and levels. Through conduits that follow one another it is one line;
 * across a control, and where water pours down into a node, it is broken: there it is not one surface. */
export function surfaceOf(
  frame: Pick<Frame, "links" | "ids" | "chainage" | "nodes">,
  along: (id: string) => readonly Station[],
  level: (id: string) => number,
): Station[][] {
  const lines: Station[][] = [];
  const { links, ids, chainage, nodes } = frame;
  const drawn = (i: number) => {
    const link = links[i];
    return link !== undefined && isConduit(link.link) && along(link.id).length > 0;
  };
  for (const [i, { id }] of links.entries()) {
    if (!drawn(i)) continue;
    const own = along(id).map(([at, z]): Station => [(chainage[i] ?? 0) + at, z]);
    const last = lines.at(-1)?.at(-1);
    const first = own[0];
    if (last && first && Math.abs(last[0] - first[0]) < SAME && Math.abs(last[1] - first[1]) < SAME)
      lines.at(-1)?.push(...own.slice(1));
    else lines.push(own);
  }
  // a node that no conduit of the run joins has its own
  for (const [i, node] of nodes.entries()) {
    const z = level(ids[i] ?? "");
    if (drawn(i - 1) || drawn(i) || node.kind === "outfall" || !Number.isFinite(z)) continue;
    lines.push([[chainage[i] ?? 0, z]]);
  }
  return lines;
}

/** The lines as the path of a drawing; a single level as wide as its node. */
export function pathOf(frame: Frame, lines: readonly (readonly Station[])[]): string {
  return lines
    .map((line) => {
      const [first] = line;
      if (line.length === 1 && first) {
        const node = frame.nodes[frame.chainage.indexOf(first[0])];
        const half = node ? halfOf(node) : 4;
        return `M${px(frame.x(first[0]) - half)} ${px(frame.y(first[1]))}h${2 * half}`;
      }
      return `M${line.map(([c, z]) => `${px(frame.x(c))} ${px(frame.y(z))}`).join("L")}`;
    })
    .join("");
}

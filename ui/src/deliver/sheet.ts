import type { Composed, Paper } from "../document/types";

/** A place on paper, mm from the upper left corner. */
export type Box = { x: number; y: number; wide: number; high: number };

export const EDGE = 8; // mm, of the frame from the edge of the paper
const BLOCK = 17; // mm, of the title block
const REACH = 2.5; // mm within which edges snap
const LEAST = 10; // mm
const WHOLE = 0.5; // mm to which a free edge is put

const SIZES: Record<Paper, [number, number]> = {
  A4: [210, 297],
  A3: [297, 420],
  A2: [420, 594],
  A1: [594, 841],
  A0: [841, 1189],
  Letter: [215.9, 279.4],
  "ANSI B": [279.4, 431.8],
  "ANSI C": [431.8, 558.8],
  "ANSI D": [558.8, 863.6],
  "ANSI E": [863.6, 1117.6],
};

/** Width and height of a sheet's paper, mm. */
export function sizeOf(sheet: Pick<Composed, "paper" | "wide">): [number, number] {
  const [short, long] = SIZES[sheet.paper];
  return sheet.wide ? [long, short] : [short, long];
}

const put = (value: number) => Math.round(value / WHOLE) * WHOLE;

export function moved(box: Box, [dx, dy]: readonly [number, number]): Box {
  return { ...box, x: Math.max(0, put(box.x + dx)), y: Math.max(0, put(box.y + dy)) };
}

export function resized(box: Box, [dx, dy]: readonly [number, number]): Box {
  return { ...box, wide: Math.max(LEAST, put(box.wide + dx)), high: Math.max(LEAST, put(box.high + dy)) };
}

/** By how much an edge is drawn to the nearest of others; 0 where none is near. */
function pull(edges: number[], to: number[]): number {
  let best = 0;
  let least = REACH;
  for (const edge of edges)
    for (const other of to)
      if (Math.abs(other - edge) < least) {
        least = Math.abs(other - edge);
        best = other - edge;
      }
  return best;
}

/** A box drawn to the edges of others, to the frame and to the title block. corner : only its right and lower edges. */
export function snappedTo(box: Box, others: Box[], sheet: Pick<Composed, "paper" | "wide">, corner: boolean): Box {
  const [wide, high] = sizeOf(sheet);
  const xs = [EDGE, wide - EDGE, wide / 2, ...others.flatMap((one) => [one.x, one.x + one.wide])];
  const ys = [EDGE, high - EDGE - BLOCK, high / 2, ...others.flatMap((one) => [one.y, one.y + one.high])];
  const dx = pull(corner ? [box.x + box.wide] : [box.x, box.x + box.wide], xs);
  const dy = pull(corner ? [box.y + box.high] : [box.y, box.y + box.high], ys);
  return corner
    ? { ...box, wide: Math.max(LEAST, box.wide + dx), high: Math.max(LEAST, box.high + dy) }
    : { ...box, x: box.x + dx, y: box.y + dy };
}

/** Where names stand on the plan: by importance, off each other, off symbols, and off pipes where there is room. */

/** What wants a name. at: px; gap: px kept free around it, 0 where the name stands upon it; rank: the least goes first. */
export type Wanted = { at: [number, number]; gap: number; width: number; height: number; rank: number };
/** Left and base of a text, px. */
export type Stands = { x: number; y: number };

const CELL = 4; // px
const TAKEN = 1;
const LINE = 2;
const MARGIN = 1.5; // px around a text

/**
 * A place for each name, or null where there is none: it is shown once there is room, nearer by.
 *
 * lines: courses that names rather keep off. size: of the sight, px.
 */
export function standing(wanted: Wanted[], lines: [number, number][][], size: [number, number]): (Stands | null)[] {
  const columns = Math.ceil(size[0] / CELL) + 1;
  const rows = Math.ceil(size[1] / CELL) + 1;
  const cells = new Uint8Array(columns * rows);
  const mark = (x0: number, y0: number, x1: number, y1: number, what: number) => {
    for (let j = Math.max(Math.floor(y0 / CELL), 0); j <= Math.min(Math.floor(y1 / CELL), rows - 1); j++)
      for (let i = Math.max(Math.floor(x0 / CELL), 0); i <= Math.min(Math.floor(x1 / CELL), columns - 1); i++)
        cells[j * columns + i] = (cells[j * columns + i] ?? 0) | what;
  };
  for (const line of lines)
    for (const [k, [x, y]] of line.slice(1).entries()) {
      const [px, py] = line[k] ?? [x, y];
      const steps = Math.min(Math.ceil(Math.hypot(x - px, y - py) / CELL), 400);
      for (let s = 0; s <= steps; s++) {
        const [cx, cy] = [px + ((x - px) * s) / (steps || 1), py + ((y - py) * s) / (steps || 1)];
        mark(cx, cy, cx, cy, LINE);
      }
    }
  for (const { at, gap } of wanted) if (gap > 0) mark(at[0] - gap, at[1] - gap, at[0] + gap, at[1] + gap, TAKEN);
  /** How many pipes a text would lie on; null where it lies on a name or a symbol, or leaves the sight. */
  const cost = ({ x, y }: Stands, width: number, height: number): number | null => {
    if (x < 0 || y - height < 0 || x + width > size[0] || y > size[1]) return null;
    let found = 0;
    for (let j = Math.floor((y - height) / CELL); j <= Math.floor(y / CELL); j++)
      for (let i = Math.floor(x / CELL); i <= Math.floor((x + width) / CELL); i++) {
        const cell = cells[j * columns + i] ?? 0;
        if (cell & TAKEN) return null;
        if (cell & LINE) found += 1;
      }
    return found;
  };
  const stands: (Stands | null)[] = wanted.map(() => null);
  const order = wanted.map((_, k) => k).sort((a, b) => (wanted[a]?.rank ?? 0) - (wanted[b]?.rank ?? 0) || a - b);
  for (const k of order) {
    const one = wanted[k];
    if (!one) continue;
    let best: { stands: Stands; cost: number } | null = null;
    for (const at of around(one)) {
      const own = cost(at, one.width, one.height);
      if (own !== null && (best === null || own < best.cost)) best = { stands: at, cost: own };
      if (best?.cost === 0) break;
    }
    if (!best) continue;
    stands[k] = best.stands;
    const { x, y } = best.stands;
    mark(x - MARGIN, y - one.height - MARGIN, x + one.width + MARGIN, y + MARGIN, TAKEN);
  }
  return stands;
}

const FAR = 2; // rank, before which a name may stand further off
const RINGS = [0, 12, 24, 36]; // px further off

/** Places for a name, the best first: right above, right below, left, above and below; or upon it and a line off. */
function around({ at: [x, y], gap, width, height, rank }: Wanted): Stands[] {
  if (gap === 0) {
    const base = y + height / 2;
    return [0, -height, height, -2 * height, 2 * height].map((off) => ({ x: x - width / 2, y: base + off }));
  }
  return RINGS.slice(0, rank < FAR ? RINGS.length : 1).flatMap((off) => ring(x, y, gap + off, width, height));
}

function ring(x: number, y: number, gap: number, width: number, height: number): Stands[] {
  const near = gap + CELL;
  const [right, left, middle] = [x + near, x - near - width, x - width / 2];
  const [above, below] = [y - near, y + near + height];
  return [
    { x: right, y: y - gap / 2 },
    { x: right, y: y + gap / 2 + height },
    { x: left, y: y - gap / 2 },
    { x: left, y: y + gap / 2 + height },
    { x: middle, y: above },
    { x: middle, y: below },
    { x: right, y: y + height / 2 },
    { x: left, y: y + height / 2 },
  ];
}

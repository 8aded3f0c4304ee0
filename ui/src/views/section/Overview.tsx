import { type PointerEvent, useRef } from "react";
import { useProject } from "../../document/store";
import { topOf } from "../../document/types";
import { polyline } from "../../primitives/polyline";
import { frameOf } from "./frame";
import { moved, type Sight } from "./sight";

const HEIGHT = 22;
const SIDE = 52; // px for the names of both ends

/** The whole run small, with both of its ends named, and the part of it that is in sight: dragged along it. */
export function Overview({
  path,
  sight,
  whole,
  width,
  show,
}: {
  path: string[];
  sight: Sight;
  whole: Sight;
  width: number;
  show: (sight: Sight | null) => void;
}) {
  const network = useProject((s) => s.network);
  const began = useRef<{ x: number; sight: Sight } | null>(null);
  const frame = network ? frameOf(network, path, width - SIDE, HEIGHT, -1) : null;
  if (!network || !frame) return null;
  const [low, high] = [Math.min(...frame.nodes.map((n) => n.invert)), Math.max(...frame.nodes.map(topOf))];
  const x = (k: number) => frame.x(frame.chainage[k] ?? 0);
  const y = (z: number) => HEIGHT - 3 - ((z - low) / Math.max(high - low, 0.1)) * (HEIGHT - 6);
  const [from, to] = [frame.x(sight.from), frame.x(sight.to)];
  const wide = sight.to - sight.from;
  const drag = (event: PointerEvent) => {
    if (!began.current || event.buttons !== 1) return;
    const along = frame.alongAt(event.clientX) - frame.alongAt(began.current.x);
    show(moved(began.current.sight, whole, along, 0));
  };
  return (
    <svg
      width={width}
      height={HEIGHT}
      className="shrink-0 cursor-grab touch-none border-b border-rule"
      role="slider"
      tabIndex={0}
      aria-label="part of the run in sight"
      aria-valuemin={0}
      aria-valuemax={Math.round(whole.to - wide)}
      aria-valuenow={Math.round(sight.from)}
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        began.current = { x: event.clientX, sight };
      }}
      onPointerMove={drag}
      onPointerUp={() => {
        began.current = null;
      }}
      onDoubleClick={() => show(null)}
      onKeyDown={(event) => {
        const by = { ArrowLeft: -wide / 8, ArrowRight: wide / 8, PageUp: -wide, PageDown: wide }[event.key];
        if (by !== undefined) show(moved(sight, whole, by, 0));
        else if (event.key === "Home") show(null);
        else return;
        event.preventDefault();
      }}
      data-testid="section-overview"
    >
      <title>drag along the run; double click shows all of it</title>
      <rect
        x={from}
        y={1}
        width={Math.max(to - from, 4)}
        height={HEIGHT - 2}
        fill="var(--color-hi)"
        stroke="var(--color-ink)"
      />
      <polyline
        points={polyline(frame.nodes, (node, k) => [x(k), y(topOf(node))])}
        fill="none"
        stroke="var(--color-ink3)"
      />
      <polyline
        points={polyline(frame.nodes, (node, k) => [x(k), y(node.invert)])}
        fill="none"
        stroke="var(--color-water5)"
      />
      <text x={4} y={15} fontSize={11} fontWeight={600}>
        {frame.nodes[0]?.name}
      </text>
      <text x={width - 4} y={15} fontSize={11} fontWeight={600} textAnchor="end">
        {frame.nodes.at(-1)?.name}
      </text>
    </svg>
  );
}

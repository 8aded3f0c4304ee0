import { type PointerEvent, useRef } from "react";
import { useProject } from "../../document/store";
import { topOf } from "../../document/types";
import { frameOf } from "./frame";
import { moved, type Stretch } from "./stretch";

const HEIGHT = 22;
const SIDE = 52; // px for the names of both ends

/** The whole run small, with both of its ends named, and the stretch of it that is in sight: dragged along it. */
export function Overview({
  path,
  stretch,
  width,
  show,
}: {
  path: string[];
  stretch: Stretch;
  width: number;
  show: (stretch: Stretch | null) => void;
}) {
  const network = useProject((s) => s.network);
  const began = useRef<{ x: number; first: number } | null>(null);
  const frame = network ? frameOf(network, path, width - SIDE, HEIGHT, -1) : null;
  if (!network || !frame) return null;
  const [low, high] = [Math.min(...frame.nodes.map((n) => n.invert)), Math.max(...frame.nodes.map(topOf))];
  const x = (k: number) => frame.x(frame.chainage[k] ?? 0);
  const y = (z: number) => HEIGHT - 3 - ((z - low) / Math.max(high - low, 0.1)) * (HEIGHT - 6);
  const [from, to] = [x(stretch.first), x(stretch.first + stretch.count)];
  const drag = (event: PointerEvent) => {
    if (!began.current || event.buttons !== 1) return;
    const links = ((event.clientX - began.current.x) / Math.max(x(path.length) - x(0), 1)) * path.length;
    show(moved({ ...stretch, first: began.current.first }, path.length, links));
  };
  return (
    <svg
      width={width}
      height={HEIGHT}
      className="shrink-0 cursor-grab touch-none border-b border-rule"
      role="slider"
      tabIndex={0}
      aria-label="stretch of the run in sight"
      aria-valuemin={0}
      aria-valuemax={path.length - stretch.count}
      aria-valuenow={stretch.first}
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        began.current = { x: event.clientX, first: stretch.first };
      }}
      onPointerMove={drag}
      onPointerUp={() => {
        began.current = null;
      }}
      onDoubleClick={() => show(null)}
      onKeyDown={(event) => {
        const by = { ArrowLeft: -1, ArrowRight: 1, PageUp: -stretch.count, PageDown: stretch.count }[event.key];
        if (by !== undefined) show(moved(stretch, path.length, by));
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
        points={frame.nodes.map((node, k) => `${x(k).toFixed(1)},${y(topOf(node)).toFixed(1)}`).join(" ")}
        fill="none"
        stroke="var(--color-ink3)"
      />
      <polyline
        points={frame.nodes.map((node, k) => `${x(k).toFixed(1)},${y(node.invert).toFixed(1)}`).join(" ")}
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

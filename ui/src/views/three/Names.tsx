import { useProject } from "../../document/store";
import { isStore, type Network, spillOf, topOf } from "../../document/types";
import { show, unitOf } from "../../document/units";
import { useWidth } from "../../primitives/useWidth";
import { standing } from "../plan/labels";
import type { Scene, Spot } from "./place";
import type { Water } from "./Underground";

/** Where a spot of the scene stands on the canvas, px; null behind the eye. */
export type Project = (spot: Spot) => [number, number] | null;

/** Names over the nodes, off each other: of more than can be read those that matter most. Floods tell how deep. */
export function Names({
  network,
  scene,
  project,
  water,
  all,
}: {
  network: Network;
  scene: Scene;
  project: Project;
  water: Water;
  all: boolean;
}) {
  const { picked } = useProject();
  const [ref, width, height] = useWidth<HTMLDivElement>();
  const named = Object.entries(network.nodes).flatMap(([id, node]) => {
    const deep = node.kind === "outfall" ? 0 : water.level(id) - spillOf(node);
    const flooded = deep > 1e-3;
    if (!picked.has(id) && !all) return [];
    const at = project(scene.at(node.x, node.y, topOf(node)));
    if (!at) return [];
    const text = `${node.name}${flooded ? ` ${show(deep, "length")} ${unitOf("length")} over` : ""}`;
    // what is picked is named first, then what matters most, the deepest flood before others
    const rank = picked.has(id) ? -1 : isStore(node) || node.kind === "outfall" ? 0 : flooded ? 1 - deep / 1e3 : 2;
    return [{ id, node, text, flooded, at, rank }];
  });
  const stands = standing(
    named.map(({ text, at, rank }) => ({ at, gap: 3, width: text.length * 5.9, height: 9, rank })),
    [],
    [width, height],
  );
  return (
    <div ref={ref} className="pointer-events-none absolute inset-0">
      <svg className="h-full w-full" aria-hidden="true" data-over>
        {named.map(({ id, node, text, flooded, at }, k) => {
          const place = stands[k] ?? (picked.has(id) ? { x: at[0] + 6, y: at[1] - 6 } : null);
          return (
            place && (
              <text
                key={id}
                x={place.x}
                y={place.y}
                fontSize={11}
                fontWeight={picked.has(id) ? 700 : 600}
                fill={flooded ? "var(--color-madder)" : "var(--color-ink)"}
                stroke="var(--color-paper)"
                strokeWidth={3}
                paintOrder="stroke"
                data-testid={`three-name-${node.name}`}
              >
                {text}
              </text>
            )
          );
        })}
      </svg>
    </div>
  );
}

/** Levels on a staff at the edge of the site, in round steps. */
export function Ladder({ scene, project }: { scene: Scene; project: Project }) {
  const half = scene.span * 0.56;
  const step = [0.5, 1, 2, 5, 10, 20].find((s) => (scene.top - scene.base) / s <= 6) ?? 50;
  const first = Math.ceil(scene.base / step);
  const marks = Array.from({ length: Math.floor(scene.top / step) - first + 1 }, (_, k) => (first + k) * step);
  const at = (level: number) => project([half, 0, (level - scene.base) * scene.upward]);
  const [foot, head] = [at(scene.base), at(scene.top)];
  if (!foot || !head) return null;
  return (
    <svg className="pointer-events-none absolute inset-0 h-full w-full" aria-hidden="true" data-over>
      <line x1={foot[0]} y1={foot[1]} x2={head[0]} y2={head[1]} stroke="var(--color-ink)" />
      {marks.map((level) => {
        const spot = at(level);
        return (
          spot && (
            <g key={level}>
              <line x1={spot[0] - 3} x2={spot[0] + 3} y1={spot[1]} y2={spot[1]} stroke="var(--color-ink)" />
              <text x={spot[0] + 7} y={spot[1] + 4} fontSize={10.5} className="figure" fill="var(--color-ink2)">
                {show(level, "level", 1)}
              </text>
            </g>
          )
        );
      })}
    </svg>
  );
}

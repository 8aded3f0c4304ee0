import { useProject } from "../../document/store";
import { topOf } from "../../document/types";
import { show, unitOf } from "../../document/units";
import { runThrough } from "../../kinds/path";
import { useWidth } from "../../primitives/useWidth";
import { frameOf } from "../../views/section/frame";
import type { Design } from "./useSizing";

/** The run of the picked pipe: dashed as it lies, filled as an aim would have it, and where it ends. */
export function DesignSection({
  first,
  before,
  after,
  name,
}: {
  first: string;
  before: Design;
  after: Design;
  name: string;
}) {
  const { network, cursor, point } = useProject();
  const [ref, width, height] = useWidth<HTMLDivElement>();
  if (!network) return null;
  const path = runThrough(network, network.links[cursor.element ?? ""] ? cursor.element : first);
  const frame = width > 0 ? frameOf(network, path, width, height, 0) : null;
  const all = path
    .flatMap((id) => [before.pipes[id], after.pipes[id]])
    .flatMap((p) => (p ? [p.upstream, p.downstream] : []));
  const deepest = Math.min(...all, frame?.low ?? 0) - 0.2;
  const y = (z: number) => (frame ? 14 + ((frame.high - z) / Math.max(frame.high - deepest, 0.1)) * (height - 40) : 0);
  const shape = (design: Design, id: string, i: number) => {
    const pipe = design.pipes[id];
    if (!pipe || !frame) return "";
    const [a, b] = [frame.x(frame.chainage[i] ?? 0), frame.x(frame.chainage[i + 1] ?? 0)];
    const d = pipe.diameter;
    return `${a},${y(pipe.upstream)} ${b},${y(pipe.downstream)} ${b},${y(pipe.downstream + d)} ${a},${y(pipe.upstream + d)}`;
  };
  return (
    <div ref={ref} className="h-full min-h-[150px]">
      {frame && (
        <svg
          width={width}
          height={height}
          role="img"
          aria-label={`long section as drawn and as sized: ${name}`}
          data-testid="sizing-section"
        >
          <polyline
            points={frame.nodes.map((node, i) => `${frame.x(frame.chainage[i] ?? 0)},${y(topOf(node))}`).join(" ")}
            fill="none"
            stroke="var(--color-ink)"
          />
          {path.map((id, i) => (
            <g key={id} className="cursor-pointer" onClick={() => point({ element: id })}>
              <polygon
                points={shape(after, id, i)}
                fill={
                  after.unmet.some((one) => one.pipe === id && one.reason === null)
                    ? "url(#over)"
                    : "var(--color-water2)"
                }
                stroke="var(--color-ink)"
              />
              <polygon points={shape(before, id, i)} fill="none" stroke="var(--color-ink3)" strokeDasharray="4 3" />
            </g>
          ))}
          {frame.nodes.map((node, i) => (
            <text
              key={frame.ids[i]}
              x={frame.x(frame.chainage[i] ?? 0)}
              y={y(topOf(node)) - 4}
              fontSize={10.5}
              fontWeight={600}
              textAnchor="middle"
            >
              {i % Math.ceil(frame.nodes.length / 18) === 0 || i === frame.nodes.length - 1 ? node.name : ""}
            </text>
          ))}
          <text x={8} y={height - 6} fontSize={10.5} fontWeight={600}>
            {name}
          </text>
          <text x={width - 8} y={height - 6} fontSize={10.5} textAnchor="end" fill="var(--color-ink2)">
            ends at {show(after.pipes[path.at(-1) ?? ""]?.downstream, "level")} {unitOf("level")}
          </text>
        </svg>
      )}
    </div>
  );
}

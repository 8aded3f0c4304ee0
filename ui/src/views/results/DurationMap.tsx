import type { components } from "../../api/schema";
import { useProject } from "../../document/store";
import type { Network } from "../../document/types";
import { useWidth } from "../../primitives/useWidth";

type Critical = Record<string, components["schemas"]["Critical"]>;
const TONES = ["water1", "water2", "water3", "water4", "water5"];

/** The plan by critical duration: where short storms rule and where long ones; a click picks the node and its storm. */
export function DurationMap({ found }: { found: Critical }) {
  const { network, cursor, point } = useProject();
  const [ref, width, height] = useWidth<HTMLDivElement>();
  if (!network) return null;
  const durations = [...new Set(Object.keys(network.nodes).flatMap((id) => found[id]?.duration ?? []))].sort(
    (a, b) => a - b,
  );
  const toneOf = (duration: number) => {
    const share = durations.length > 1 ? durations.indexOf(duration) / (durations.length - 1) : 0;
    return TONES[Math.round(share * (TONES.length - 1))] ?? "water3";
  };
  const at = placing(network, width, height - 22);
  return (
    <div className="flex min-h-0 flex-1 flex-col" data-testid="duration-map">
      <p className="flex gap-3 px-3 text-[11px] text-ink2">
        critical duration, min:
        {durations.map((d) => (
          <span key={d} className="flex items-center gap-1">
            <svg width={12} height={12} aria-hidden="true">
              <circle cx={6} cy={6} r={5} fill={`var(--color-${toneOf(d)})`} stroke="var(--color-ink)" />
            </svg>
            <span className="figure">{d}</span>
          </span>
        ))}
      </p>
      <div ref={ref} className="min-h-0 flex-1">
        {width > 0 && (
          <svg width={width} height={height} role="img" aria-label="Critical durations on the plan">
            {Object.entries(network.links).map(([id, link]) => {
              const [a, b] = [at(link.upstream), at(link.downstream)];
              return (
                <line key={id} x1={a[0]} y1={a[1]} x2={b[0]} y2={b[1]} stroke="var(--color-rule2)" strokeWidth={1.5} />
              );
            })}
            {Object.entries(network.nodes).map(([id, node]) => {
              const critical = found[id];
              const [x, y] = at(id);
              if (!critical) return null;
              return (
                <g
                  key={id}
                  className="cursor-pointer"
                  onClick={() => point({ element: id, storm: critical.storm })}
                  data-testid={`duration-at-${node.name}`}
                >
                  <title>{`${node.name}: ${critical.duration} min`}</title>
                  <circle
                    cx={x}
                    cy={y}
                    r={7}
                    fill={`var(--color-${toneOf(critical.duration)})`}
                    stroke="var(--color-ink)"
                    strokeWidth={cursor.element === id ? 2.5 : 1}
                  />
                  <text x={x} y={y - 10} fontSize={10.5} textAnchor="middle" className="figure">
                    {critical.duration}
                  </text>
                </g>
              );
            })}
          </svg>
        )}
      </div>
    </div>
  );
}

/** Places of nodes in a box, to one scale, north up. */
function placing(network: Network, width: number, height: number): (id: string) => [number, number] {
  const nodes = Object.values(network.nodes);
  const [west, east] = [Math.min(...nodes.map((n) => n.x)), Math.max(...nodes.map((n) => n.x))];
  const [south, north] = [Math.min(...nodes.map((n) => n.y)), Math.max(...nodes.map((n) => n.y))];
  const scale = Math.min((width - 80) / Math.max(east - west, 1), (height - 40) / Math.max(north - south, 1));
  return (id) => {
    const node = network.nodes[id];
    return [
      40 + ((node?.x ?? west) - west) * scale + (width - 80 - (east - west) * scale) / 2,
      24 + (north - (node?.y ?? north)) * scale,
    ];
  };
}

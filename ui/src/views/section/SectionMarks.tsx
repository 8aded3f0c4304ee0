import type { Beside } from "../../document/beside";
import { useProject } from "../../document/store";
import type { Control, Stone } from "../../document/types";
import { show, unitOf } from "../../document/units";
import { controlKind } from "../../kinds";
import type { Frame } from "./frame";
import type { Profile } from "./SteadyFlow";

/** How the surface of water is drawn on the long section. */
export const WATER_LINE = {
  fill: "none",
  pointerEvents: "none",
  stroke: "var(--color-water4)",
  strokeWidth: 1.4,
} as const;

/** A conduit's steady profile, and where it jumps. */
export function SteadyWater({
  reach,
  ends,
  at,
  y,
}: {
  reach: Profile["reaches"][string] | undefined;
  ends: { length: number; upstream: number; downstream: number; height: number };
  at: (along: number) => number;
  y: (level: number) => number;
}) {
  if (!reach) return null;
  const middle = reach.chainage.map((along, k) => [at(along), reach.bed[k] ?? 0, reach.level[k] ?? 0] as const);
  const points = [
    [at(0), ends.upstream, reach.level_up] as const,
    ...middle,
    [at(ends.length), ends.downstream, reach.level_down] as const,
  ];
  const inside = points.map(([c, bed, z]) => `${c},${y(Math.min(z, bed + ends.height))}`);
  const bed = points.map(([c, z]) => `${c},${y(z)}`).reverse();
  return (
    <g data-testid="steady-water">
      <polygon points={[...inside, ...bed].join(" ")} fill="var(--color-water3)" />
      <polyline points={points.map(([c, , z]) => `${c},${y(z)}`).join(" ")} {...WATER_LINE} />
      {reach.jumps.map((along) => {
        const k = reach.chainage.findIndex((c) => c >= along);
        const z = reach.level[Math.max(k, 0)] ?? 0;
        return (
          <g key={along} data-testid="jump">
            <path d={`M${at(along) - 4} ${y(z) - 12}h8l-4 8z`} fill="var(--color-ink)" />
            <text x={at(along)} y={y(z) - 15} fontSize={10.5} textAnchor="middle">
              jump
            </text>
          </g>
        );
      })}
    </g>
  );
}

/** The chain of a cause over the ground: from the bottleneck, where it begins, up to the symptom. */
export function ChainMark({ frame }: { frame: Frame }) {
  const { chain, network } = useProject();
  const { links, ids, chainage, x } = frame;
  if (!chain || chain.length < 2) return null;
  const places = links.flatMap(({ id }, i) => (chain.includes(id) ? [i] : []));
  if (places.length === 0) return null;
  const [from, to] = [x(chainage[places[0] ?? 0] ?? 0), x(chainage[(places.at(-1) ?? 0) + 1] ?? 0)];
  const end = chain.at(-1) ?? "";
  const name = network?.nodes[end]?.name ?? network?.links[end]?.name ?? "";
  const store = ids.indexOf(end);
  const top = 7;
  return (
    <g pointerEvents="none" data-testid="chain-on-section" stroke="var(--color-madder)" fill="none" strokeWidth={1.6}>
      <path d={`M${store >= 0 ? x(chainage[store] ?? 0) : to} ${top + 6}V${top}H${from}m7 -4l-7 4l7 4`} />
      <text x={from + 10} y={top + 13} fontSize={11} fontWeight={600} fill="var(--color-madder)" stroke="none">
        water backs up from {name}
      </text>
    </g>
  );
}

/** A control's mark over its sill. */
export function ControlSign({
  control,
  cx,
  sill,
  foot,
  picked,
  pick,
}: {
  control: Control;
  cx: number;
  sill: number;
  foot: number;
  picked: boolean;
  pick: () => void;
}) {
  return (
    <g onClick={pick} className="cursor-pointer" data-testid={`section-${control.name}`}>
      <line x1={cx} x2={cx} y1={sill} y2={foot} stroke="var(--color-ink)" strokeDasharray="2 2" />
      <circle
        cx={cx}
        cy={sill - 8}
        r={8}
        fill={picked ? "var(--color-ink)" : "var(--color-hi)"}
        stroke="var(--color-ink)"
      />
      <path
        d={controlKind(control).mark}
        transform={`translate(${cx} ${sill - 8})`}
        fill="none"
        stroke={picked ? "var(--color-hi)" : "var(--color-ink)"}
        strokeWidth={1.4}
      />
    </g>
  );
}

/** Stone over a base that rises away from the low end, and the level water that stands in it. */
export function StoneBed({
  stone,
  wet,
  c,
  half,
  y,
}: {
  stone: Stone;
  wet: number | null;
  c: number;
  half: number;
  y: (level: number) => number;
}) {
  const rise = stone.base_slope * stone.length;
  const [left, right] = [c - half, c + half];
  const { invert, stone_depth } = stone;
  const layer = Math.max(stone.cover - invert - stone_depth, 0);
  const base = `${right},${y(invert)} ${left},${y(invert + rise)}`;
  const surface = wet === null ? invert : Math.min(wet, invert + stone_depth);
  // level water ends where the base rises above it
  const reach = rise > 0 ? Math.min((surface - invert) / rise, 1) : 1;
  const far = right - 2 * half * reach;
  return (
    <g data-testid="stone-bed">
      <polygon
        points={`${base} ${left},${y(invert + rise + stone_depth)} ${right},${y(invert + stone_depth)}`}
        fill="url(#stones)"
        stroke="var(--color-ink)"
      />
      {layer > 0 && (
        <polygon
          points={`${right},${y(invert + stone_depth)} ${left},${y(invert + rise + stone_depth)} ${left},${y(invert + rise + stone_depth + layer)} ${right},${y(invert + stone_depth + layer)}`}
          fill={stone.cover_porosity > 0 ? "url(#stones)" : "var(--color-lo)"}
          stroke="var(--color-ink)"
          strokeWidth={0.6}
        />
      )}
      {surface > invert && (
        <polygon
          points={`${right},${y(invert)} ${far},${y(invert + rise * reach)} ${far},${y(surface)} ${right},${y(surface)}`}
          fill="var(--color-water4)"
          opacity={0.65}
        />
      )}
    </g>
  );
}

/** A conduit seen end on: one that joins the run at a node, or one that passes without joining. */
export function BesideMark({
  other,
  x,
  y,
  joins = false,
}: {
  other: Beside;
  x: (chainage: number) => number;
  y: (level: number) => number;
  joins?: boolean;
}) {
  const point = useProject((s) => s.point);
  const high = Math.max((y(other.bed) - y(other.bed + other.height)) / 2, 1.5);
  const middle = y(other.bed + other.height / 2);
  return (
    <g
      onClick={() => point({ element: other.id })}
      className="cursor-pointer"
      data-testid={`${joins ? "joins" : "passes"}-${other.name}`}
    >
      <title>{`${other.name} ${joins ? "joins here" : "passes here"}, bed ${show(other.bed, "level")} ${unitOf("level")}`}</title>
      <ellipse
        cx={x(other.chainage)}
        cy={middle}
        rx={joins ? 5 : 6}
        ry={high}
        fill={joins ? "var(--color-paper)" : "var(--color-ochre-tint)"}
        stroke="var(--color-ink)"
        strokeDasharray={joins ? undefined : "2 2"}
      />
      {!joins && (
        <text x={x(other.chainage) + 8} y={middle + 4} fontSize={10.5} fill="var(--color-ink2)">
          {other.name}
        </text>
      )}
    </g>
  );
}

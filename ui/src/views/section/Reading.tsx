import { useProject } from "../../document/store";
import { isConduit, topOf } from "../../document/types";
import { show, unitOf } from "../../document/units";
import type { Frame } from "./frame";
import type { Profile } from "./SteadyFlow";

/** A value along a conduit, straight between its cells and level beyond the outer ones. */
function along(chainage: number[], values: number[], at: number): number {
  const k = chainage.findIndex((c) => c >= at);
  if (k <= 0) return values[k === 0 ? 0 : values.length - 1] ?? Number.NaN;
  const [c0 = 0, c1 = 1, a = 0, b = 0] = [chainage[k - 1], chainage[k], values[k - 1], values[k]];
  return a + ((b - a) * (at - c0)) / (c1 - c0);
}

/** What stands at a chainage under the pointer: ground, water, soffit and bed, between the nodes on both sides. */
export function Reading({
  frame,
  at,
  width,
  worst,
  steady,
  profile,
}: {
  frame: Frame;
  /** px from the left. */
  at: number;
  width: number;
  worst: (id: string) => number;
  /** Steady flow instead of the storm at the moment of the clock. */
  steady: boolean;
  profile: Profile | null;
}) {
  const { series, moment } = useProject();
  const level = (id: string) => (steady ? profile?.level[id] : series?.at(`level:${id}`, moment)) ?? Number.NaN;
  const { chainage, ids, nodes, links, x, y, bottom } = frame;
  const i = links.findIndex((_, k) => at >= x(chainage[k] ?? 0) && at <= x(chainage[k + 1] ?? 0));
  const [a, b] = [nodes[i], nodes[i + 1]];
  const link = links[i]?.link;
  const id = links[i]?.id ?? "";
  if (i < 0 || !a || !b || !link) return null;
  const [c0, c1] = [chainage[i] ?? 0, chainage[i + 1] ?? 0];
  const part = (at - x(c0)) / Math.max(x(c1) - x(c0), 1);
  const mix = (first: number, last: number) => first + (last - first) * part;
  const ofNodes = (of: (id: string) => number) => {
    const [first, last] = [of(ids[i] ?? ""), of(ids[i + 1] ?? "")];
    return mix(a.kind === "outfall" ? last : first, b.kind === "outfall" ? first : last);
  };
  const told: string[] = [];
  const rows: [string, number][] = [["ground", mix(topOf(a), topOf(b))]];
  if (isConduit(link)) {
    const bed = mix(link.upstream_invert, link.downstream_invert);
    const reach = steady ? profile?.reaches[id] : undefined;
    const water = reach
      ? along(reach.chainage, reach.level, part * link.length)
      : series && !steady
        ? mix(series.at(`head:${id}`, moment), series.at(`foot:${id}`, moment))
        : Number.NaN;
    if (!steady) rows.push(["highest of all", ofNodes(worst)]);
    rows.push(["water", Number.isFinite(water) ? water : ofNodes(level)], ["bed", bed]);
    if (reach) {
      const of = (values: number[]) => along(reach.chainage, values, part * link.length);
      told.push(
        `depth ${show(water - bed, "length")} ${unitOf("length")}, flow ${show(profile?.flow[id], "flow")} ${unitOf("flow")}`,
        `velocity ${show(of(reach.speed), "speed")} ${unitOf("speed")}, Froude ${of(reach.froude).toFixed(2)}`,
      );
    }
  } else if (steady) rows.push(["water", ofNodes(level)]);
  else rows.push(["highest of all", ofNodes(worst)], ["water", ofNodes(level)]);
  const lines = [
    `${link.name}, ${show(mix(c0, c1), "length", 1)} ${unitOf("length")} along`,
    ...rows.filter(([, z]) => Number.isFinite(z)).map(([word, z]) => `${word} ${show(z, "level")} ${unitOf("level")}`),
  ];
  lines.push(...told);
  if (!steady && series?.column(`speed:${id}`))
    lines.push(`velocity ${show(series.at(`speed:${id}`, moment), "speed")} ${unitOf("speed")}`);
  const wide = Math.max(...lines.map((line) => line.length)) * 5.6 + 12;
  const left = at + 12 + wide > width ? at - 12 - wide : at + 12;
  return (
    <g pointerEvents="none" data-testid="section-reading">
      <line x1={at} x2={at} y1={14} y2={bottom} stroke="var(--color-ink3)" />
      {rows.map(([word, z]) =>
        Number.isFinite(z) ? <circle key={word} cx={at} cy={y(z)} r={2} fill="var(--color-ink)" /> : null,
      )}
      <rect
        x={left}
        y={16}
        width={wide}
        height={lines.length * 14 + 6}
        fill="var(--color-hi)"
        stroke="var(--color-ink)"
      />
      {lines.map((line, k) => (
        <text key={line} x={left + 6} y={29 + k * 14} fontSize={11} fontWeight={k ? 400 : 600}>
          {line}
        </text>
      ))}
    </g>
  );
}

import { type Station, valueAt } from "../../document/along";
import { useProject } from "../../document/store";
import { isConduit, topOf } from "../../document/types";
import { show, unitOf } from "../../document/units";
import type { Frame } from "./frame";
import type { Profile } from "./SteadyFlow";
import type { Along } from "./useAlong";

/** What stands at a chainage under the pointer: ground, water, soffit and bed, between the nodes on both sides. */
export function Reading({
  frame,
  at: [at, aty],
  width,
  along,
  steady,
  profile,
}: {
  frame: Frame;
  /** px from the left and from the top. */
  at: [number, number];
  width: number;
  along: Along;
  /** Steady flow instead of the storm at the moment of the clock. */
  steady: boolean;
  profile: Profile | null;
}) {
  const { series, answer, moment } = useProject();
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
  const there = part * (isConduit(link) ? link.length : 0);
  const { storm, highest } = along;
  if (isConduit(link)) {
    const bed = mix(link.upstream_invert, link.downstream_invert);
    const reach = steady ? profile?.reaches[id] : undefined;
    const ofReach = (values: number[]) =>
      valueAt(
        (reach?.chainage ?? []).map((c, k): Station => [c, values[k] ?? Number.NaN]),
        there,
      );
    if (reach) {
      const water = ofReach(reach.level);
      rows.push(["water", water], ["bed", bed]);
      told.push(
        `depth ${show(water - bed, "length")} ${unitOf("length")}, flow ${show(profile?.flow[id], "flow")} ${unitOf("flow")}`,
        `velocity ${show(ofReach(reach.speed), "speed")} ${unitOf("speed")}, Froude ${ofReach(reach.froude).toFixed(2)}`,
      );
    } else if (!steady) {
      rows.push(["highest of all", valueAt(highest?.all(id) ?? [], there)]);
      if (storm) {
        rows.push(
          ["highest of this storm", valueAt(storm.highest(id), there)],
          ["energy", valueAt(storm.at("energy", id, moment), there)],
          ["water", valueAt(storm.at("water", id, moment), there)],
        );
      }
      rows.push(["bed", bed]);
    }
  } else {
    if (!steady)
      rows.push(
        ["highest of all", ofNodes((node) => answer?.nodes[node]?.level ?? Number.NaN)],
        ["highest of this storm", ofNodes((node) => series?.highest(`level:${node}`) ?? Number.NaN)],
      );
    rows.push(["water", ofNodes(level)]);
  }
  const lines = [
    `${link.name}, ${show(mix(c0, c1), "length", 1)} ${unitOf("length")} along`,
    ...rows.filter(([, z]) => Number.isFinite(z)).map(([word, z]) => `${word} ${show(z, "level")} ${unitOf("level")}`),
  ];
  lines.push(...told);
  if (!steady && series?.column(`speed:${id}`))
    lines.push(`velocity ${show(series.at(`speed:${id}`, moment), "speed")} ${unitOf("speed")}`);
  const wide = Math.max(...lines.map((line) => line.length)) * 5.6 + 12;
  const left = at + 12 + wide > width ? at - 12 - wide : at + 12;
  const high = lines.length * 14 + 6;
  // away from the pointer, so that it covers nothing of what is looked at
  const top = aty > (16 + bottom) / 2 ? 16 : Math.max(bottom - high - 4, 16);
  return (
    <g pointerEvents="none" data-testid="section-reading">
      <line x1={at} x2={at} y1={14} y2={bottom} stroke="var(--color-ink3)" />
      {rows.map(([word, z]) =>
        Number.isFinite(z) ? <circle key={word} cx={at} cy={y(z)} r={2} fill="var(--color-ink)" /> : null,
      )}
      <rect x={left} y={top} width={wide} height={high} fill="var(--color-hi)" stroke="var(--color-ink)" />
      {lines.map((line, k) => (
        <text key={line} x={left + 6} y={top + 13 + k * 14} fontSize={11} fontWeight={k ? 400 : 600}>
          {line}
        </text>
      ))}
    </g>
  );
}

import { useProject } from "../document/store";
import { depthOf, isConduit, type Network, topOf } from "../document/types";
import { show, unitOf } from "../document/units";
import { runThrough } from "../kinds/path";
import type { Compared } from "./compared";

const [WIDE, HIGH] = [230, 76];

/** The longest run of an option in section: as it lies there in ink, and as it lies in the base dashed. */
export function DiffSection({ of, base, picked }: { of: Compared; base: Compared; picked: string | null }) {
  const project = useProject((s) => s.project);
  const [own, first] = [project?.options[of.option]?.network, project?.options[base.option]?.network];
  if (!own || !first) return null;
  const path = runThrough(own, picked && own.links[picked] ? picked : longest(own)).filter((id) =>
    isConduit(own.links[id]),
  );
  if (path.length === 0) return null;
  const shapes = path.flatMap((id) => {
    const link = own.links[id];
    return isConduit(link) ? [{ id, link, was: first.links[id] }] : [];
  });
  const total = shapes.reduce((sum, { link }) => sum + link.length, 0) || 1;
  const nodes = shapes.flatMap(({ link }) => [own.nodes[link.upstream], own.nodes[link.downstream]]);
  const levels = [
    ...shapes.flatMap(({ link, was }) => [
      link.upstream_invert,
      link.downstream_invert,
      ...(isConduit(was) ? [was.upstream_invert, was.downstream_invert] : []),
    ]),
    ...nodes.flatMap((node) => (node ? [topOf(node)] : [])),
  ];
  const [low, high] = [Math.min(...levels), Math.max(...levels)];
  const x = (chainage: number) => 6 + (chainage / total) * (WIDE - 12);
  const y = (z: number) => HIGH - 16 - ((z - low) / Math.max(high - low, 0.1)) * (HIGH - 24);
  let at = 0;
  const drawn = shapes.map(({ id, link, was }) => {
    const [from, to] = [at, at + link.length];
    at = to;
    const band = (one: { upstream_invert: number; downstream_invert: number }, d: number) =>
      `${x(from)},${y(one.upstream_invert)} ${x(to)},${y(one.downstream_invert)} ${x(to)},${y(one.downstream_invert + d)} ${x(from)},${y(one.upstream_invert + d)}`;
    const differs = !isConduit(was) || band(was, depthOf(was)) !== band(link, depthOf(link));
    return (
      <g key={id}>
        <polygon
          points={band(link, depthOf(link))}
          fill={differs ? "var(--color-water3)" : "var(--color-water1)"}
          stroke={differs ? "var(--color-ink)" : "var(--color-water3)"}
          strokeWidth={0.8}
        />
        {isConduit(was) && differs && (
          <polygon points={band(was, depthOf(was))} fill="none" stroke="var(--color-madder)" strokeDasharray="3 2" />
        )}
        <line
          x1={x(from)}
          x2={x(to)}
          y1={y(groundOf(own, link.upstream))}
          y2={y(groundOf(own, link.downstream))}
          stroke="var(--color-ink3)"
        />
      </g>
    );
  });
  const end = shapes.at(-1);
  return (
    <svg
      width={WIDE}
      height={HIGH}
      role="img"
      aria-label={`section of ${of.name}, ${base.name} dashed`}
      data-testid={`diff-section-${of.name}`}
    >
      {drawn}
      <text x={6} y={HIGH - 3} fontSize={10} fill="var(--color-ink2)">
        {own.nodes[shapes[0]?.link.upstream ?? ""]?.name}
      </text>
      <text x={WIDE - 6} y={HIGH - 3} fontSize={10} textAnchor="end" fill="var(--color-ink2)">
        {own.nodes[end?.link.downstream ?? ""]?.name} {show(end?.link.downstream_invert, "level")} {unitOf("level")}
      </text>
    </svg>
  );
}

const groundOf = (network: Network, id: string) => {
  const node = network.nodes[id];
  return node ? topOf(node) : 0;
};

/** A conduit at the head of the longest run. */
function longest(network: Network): string {
  let best = "";
  let most = -1;
  const fed = new Set(Object.values(network.links).map((link) => link.downstream));
  for (const [id, link] of Object.entries(network.links)) {
    if (!isConduit(link) || fed.has(link.upstream)) continue;
    const long = runThrough(network, id).reduce((sum, one) => sum + lengthOf(network, one), 0);
    if (long > most) [best, most] = [id, long];
  }
  return best;
}

function lengthOf(network: Network, id: string): number {
  const link = network.links[id];
  return isConduit(link) ? link.length : 0;
}

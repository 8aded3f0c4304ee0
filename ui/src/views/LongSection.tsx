import { useMemo, useState } from "react";
import { useProject } from "../document/store";
import { depthOf, isConduit, isStore, levelOf, topOf } from "../document/types";
import { clock, show } from "../document/units";
import { useWidth } from "../instrument/useWidth";
import { runThrough } from "./path";
import { ControlSign, SteadyWater, StoneBed, WATER_LINE } from "./SectionMarks";
import { type Profile, SteadyFlow } from "./SteadyFlow";

/** Ground, covers, pipes and water along the run of the picked element, at the moment of the clock. */
export function LongSection({ showTables }: { showTables: () => void }) {
  const { network, cursor, answer } = useProject();
  const [ref, width, height] = useWidth<HTMLDivElement>();
  const [steady, setSteady] = useState(false);
  const [profile, setProfile] = useState<Profile | null>(null);
  const leave = () => {
    setSteady(false);
    setProfile(null);
  };
  // a catchment shows the run that takes its water
  const element = network?.catchments[cursor.element ?? ""]?.node ?? cursor.element;
  const path = useMemo(() => (network ? runThrough(network, element) : []), [network, element]);
  const storm = answer?.storms.find((s) => s.key === cursor.storm);
  const first = network?.links[path[0] ?? ""];
  const last = network?.links[path[path.length - 1] ?? ""];
  return (
    <section className="flex min-h-0 min-w-0 flex-1 flex-col" aria-label="Long section">
      <p className="flex gap-3 px-2 py-1">
        <b className="text-[14px] font-semibold">Long section</b>
        {network && first && last && (
          <span className="text-ink2">
            {network.nodes[first.upstream]?.name} to {network.nodes[last.downstream]?.name},{" "}
            {steady ? "steady flow" : `${storm?.label} at ${clock(cursor.moment)}`}
          </span>
        )}
        <span className="ml-auto text-[11px] text-ink3">dotted: highest of every storm</span>
        {!steady && (
          <button type="button" className="textlink" onClick={() => setSteady(true)} data-testid="show-steady">
            steady flow
          </button>
        )}
        <button type="button" className="textlink" onClick={showTables} data-testid="show-tables">
          tables
        </button>
      </p>
      <div className="flex min-h-0 flex-1">
        {steady && <SteadyFlow shown={setProfile} leave={leave} />}
        <div ref={ref} className="min-h-0 min-w-0 flex-1">
          {network && path.length > 0 && width > 0 && (
            <Drawing path={path} width={width} height={height} steady={steady} profile={profile} />
          )}
          {path.length === 0 && <p className="p-4 text-ink3">No run to draw yet.</p>}
        </div>
      </div>
    </section>
  );
}

/** A storm's water at the moment of the clock or, with `steady`, what the profile says. */
function Drawing({
  path,
  width,
  height,
  steady,
  profile,
}: {
  path: string[];
  width: number;
  height: number;
  steady: boolean;
  profile: Profile | null;
}) {
  const { network, cursor, series: storm, answer, point } = useProject();
  if (!network) return null;
  const series = steady ? null : storm;
  const links = path.map((id) => ({ id, link: network.links[id] })).filter((x) => x.link !== undefined);
  const lengths = links.map(({ link }) => (isConduit(link) ? link.length : 6));
  const chainage = [0];
  for (const length of lengths) chainage.push((chainage[chainage.length - 1] ?? 0) + length);
  const ids = [links[0]?.link?.upstream ?? "", ...links.map(({ link }) => link?.downstream ?? "")];
  const nodes = ids.map((id) => network.nodes[id]);
  const total = chainage[chainage.length - 1] ?? 1;
  const low = Math.min(...nodes.map((n) => n?.invert ?? 0)) - 0.25;
  const high = Math.max(...nodes.map((n) => (n ? topOf(n) : 0))) + 0.45;
  const left = 52;
  const bottom = height - 64;
  const x = (c: number) => left + (c / total) * (width - left - 28);
  const y = (z: number) => 26 + ((high - z) / (high - low)) * (bottom - 26);
  const level = (id: string) =>
    steady ? (profile?.level[id] ?? Number.NaN) : series ? series.at(`level:${id}`, cursor.moment) : Number.NaN;
  const step = [0.25, 0.5, 1, 2, 5, 10].find((s) => (high - low) / s <= 6) ?? 20;
  const marks = Array.from({ length: Math.ceil((high - low) / step) }, (_, i) => (Math.ceil(low / step) + i) * step);
  const worst = (id: string) => answer?.nodes[id]?.level ?? Number.NaN;
  /** Points of a level along the path; outfalls have none of their own. */
  const waterLine = (levelOf: (id: string) => number) =>
    ids
      .map((id, i) => [chainage[i] ?? 0, levelOf(id), network.nodes[id]?.kind] as const)
      .filter(([, z, kind]) => Number.isFinite(z) && kind !== "outfall")
      .map(([c, z]) => `${x(c)},${y(z)}`)
      .join(" ");
  const shaft = 7;
  let lastLabel = -100;
  return (
    <svg width={width} height={height} data-testid="long-section" role="img" aria-label="Long section drawing">
      <defs>
        <pattern id="stones" width={8} height={8} patternUnits="userSpaceOnUse">
          <rect width={8} height={8} fill="var(--color-hi)" />
          <circle cx={2} cy={2} r={1.4} fill="var(--color-rule2)" />
          <circle cx={6} cy={6} r={1.4} fill="var(--color-rule2)" />
        </pattern>
      </defs>
      {marks.map((z) => (
        <g key={z}>
          <line x1={left - 4} x2={width - 8} y1={y(z)} y2={y(z)} stroke="var(--color-rule)" />
          <text x={left - 8} y={y(z) + 4} fontSize={10.5} textAnchor="end" className="figure" fill="var(--color-ink3)">
            {z.toFixed(step < 1 ? 2 : 1)}
          </text>
        </g>
      ))}
      <polygon
        points={[
          ...nodes.map((n, i) => `${x(chainage[i] ?? 0)},${y(n ? topOf(n) : 0)}`),
          `${x(total)},${y(low)}`,
          `${x(0)},${y(low)}`,
        ].join(" ")}
        fill="var(--color-lo)"
        opacity={0.45}
      />
      {links.map(({ id, link }, i) => {
        const [a, b] = [chainage[i] ?? 0, chainage[i + 1] ?? 0];
        const picked = id === cursor.element;
        if (!isConduit(link)) return null;
        const d = depthOf(link);
        const [z0, z1] = [link.upstream_invert, link.downstream_invert];
        const head = series ? series.at(`head:${id}`, cursor.moment) : Number.NaN;
        const foot = series ? series.at(`foot:${id}`, cursor.moment) : Number.NaN;
        // levels in the first and last cell: a quarter of the length from the ends when there are two
        const rise = head - foot;
        const clampTo = (z: number, bed: number) => Math.min(Math.max(z, bed), bed + d);
        const w0 = clampTo(head + rise / 2, z0);
        const w1 = clampTo(foot - rise / 2, z1);
        const full = w0 >= z0 + d - 1e-3 && w1 >= z1 + d - 1e-3;
        return (
          <g
            key={id}
            onClick={() => point({ element: id })}
            className="cursor-pointer"
            data-testid={`section-${link.name}`}
          >
            <polygon
              points={`${x(a)},${y(z0)} ${x(b)},${y(z1)} ${x(b)},${y(z1 + d)} ${x(a)},${y(z0 + d)}`}
              fill={link.kind === "trench" ? "url(#stones)" : "var(--color-hi)"}
              stroke="var(--color-ink)"
              strokeWidth={picked ? 2.2 : 1}
              strokeDasharray={link.kind === "channel" ? "7 3" : undefined}
            />
            {Number.isFinite(w0) && Number.isFinite(w1) && (
              <polygon
                points={`${x(a)},${y(z0)} ${x(b)},${y(z1)} ${x(b)},${y(w1)} ${x(a)},${y(w0)}`}
                fill={full ? "var(--color-water5)" : "var(--color-water3)"}
                opacity={link.kind === "trench" ? 0.6 : 1}
              />
            )}
            <SteadyWater
              reach={profile?.reaches[id]}
              ends={{ length: b - a, upstream: z0, downstream: z1, height: d }}
              at={(along) => x(a + along)}
              y={y}
            />
            {full && (
              <line x1={x(a)} x2={x(b)} y1={y(z0 + d / 2)} y2={y(z1 + d / 2)} stroke="white" strokeDasharray="6 4" />
            )}
          </g>
        );
      })}
      {nodes.map((node, i) => {
        if (!node) return null;
        const id = ids[i] ?? "";
        const c = x(chainage[i] ?? 0);
        const half = isStore(node) ? 16 : shaft / 2;
        const h = level(id);
        const wet = node.kind !== "outfall" && Number.isFinite(h) ? Math.max(h, node.invert) : null;
        const picked = id === cursor.element;
        const labelled = c - lastLabel > 24;
        if (labelled) lastLabel = c;
        const top = topOf(node);
        const peak = worst(id);
        return (
          <g
            key={id}
            onClick={() => point({ element: id })}
            className="cursor-pointer"
            data-testid={`section-node-${node.name}`}
          >
            <rect
              x={c - half}
              y={y(top)}
              width={2 * half}
              height={Math.max(y(node.invert) - y(top), 1)}
              fill={node.kind === "outfall" ? "none" : "var(--color-hi)"}
              stroke="var(--color-ink)"
              strokeWidth={picked ? 2.2 : 1}
            />
            {node.kind === "stone" && <StoneBed stone={node} wet={wet} c={c} half={16} y={y} />}
            {wet !== null && node.kind !== "stone" && (
              <rect
                x={c - half + 0.5}
                y={y(Math.min(wet, top))}
                width={2 * half - 1}
                height={Math.max(y(node.invert) - y(Math.min(wet, top)), 0)}
                fill="var(--color-water3)"
              />
            )}
            {wet !== null && wet > top && (
              <path
                d={`M${c} ${y(top) - 14}q5 7 0 10q-5 -3 0 -10z`}
                fill="var(--color-madder)"
                data-testid="flood-drop"
              />
            )}
            {labelled && (
              <text
                x={c}
                y={y(top) - (wet !== null && wet > top ? 17 : 5)}
                fontSize={11}
                fontWeight={600}
                textAnchor="middle"
              >
                {node.name}
              </text>
            )}
            {labelled && (
              <g fontSize={10.5} className="figure" textAnchor="middle">
                <text x={c} y={bottom + 18}>
                  {top.toFixed(2)}
                </text>
                <text x={c} y={bottom + 34}>
                  {node.invert.toFixed(2)}
                </text>
                <text x={c} y={bottom + 50} fill={peak > top ? "var(--color-madder)" : "var(--color-ink)"}>
                  {node.kind === "outfall" ? "" : show(peak, "level", 2)}
                </text>
              </g>
            )}
          </g>
        );
      })}
      {links.map(({ id, link }, i) =>
        !link || isConduit(link) ? null : (
          <ControlSign
            key={id}
            control={link}
            cx={(x(chainage[i] ?? 0) + x(chainage[i + 1] ?? 0)) / 2}
            sill={y(levelOf(link))}
            foot={y(low)}
            picked={id === cursor.element}
            pick={() => point({ element: id })}
          />
        ),
      )}
      <polyline
        points={nodes.map((n, i) => `${x(chainage[i] ?? 0)},${y(n ? topOf(n) : 0)}`).join(" ")}
        fill="none"
        pointerEvents="none"
        stroke="var(--color-ink)"
        strokeWidth={1.2}
      />
      <polyline points={waterLine(worst)} {...WATER_LINE} strokeDasharray="1.5 3" />
      {!steady && (
        <polyline points={waterLine((id) => Math.max(level(id), network.nodes[id]?.invert ?? 0))} {...WATER_LINE} />
      )}
      <g fontSize={11} fill="var(--color-ink2)">
        {["Cover", "Invert", "Peak"].map((label, i) => (
          <g key={label}>
            <text x={6} y={bottom + 18 + i * 16}>
              {label}
            </text>
            <line x1={0} x2={width} y1={bottom + 5 + i * 16} y2={bottom + 5 + i * 16} stroke="var(--color-rule)" />
          </g>
        ))}
      </g>
    </svg>
  );
}

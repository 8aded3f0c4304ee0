import { useProject } from "../../document/store";
import type { Control } from "../../document/types";
import { show, unitOf } from "../../document/units";
import { useWidth } from "../../primitives/useWidth";
import { type Choice, type FittedOut, figureOf, unitOfFigure } from "./variables";

const SIDE = 70;

/** A store as drawn, dashed, and the least that holds: a section as wide as a square of its area, with its top water. */
export function LeastDrawing({ asked, fit }: { asked: Choice[]; fit: FittedOut }) {
  const { network } = useProject();
  const [ref, width, height] = useWidth<HTMLDivElement>();
  const store = fit.stores[0];
  const node = store ? network?.nodes[store.store] : undefined;
  const controls = asked.flatMap((one, k) => {
    const link = network?.links[one.element];
    return link && one.what !== "level" ? [{ one, link, value: fit.best?.values[k] ?? one.value }] : [];
  });
  if (!network || !fit.best) return null;
  if (!store || !node || node.kind === "outfall")
    return (
      <div className="p-3">
        <b className="text-[14px] font-semibold">The control that holds</b>
        {controls.map(({ one, link, value }) => (
          <p key={one.element}>
            {link.name} <span className="figure">{figureOf(one.what, value)}</span> {unitOfFigure(one.what)}
          </p>
        ))}
      </div>
    );
  const all = [...store.before, ...store.after];
  const [low, high] = [Math.min(...all.map(([z]) => z)), Math.max(...all.map(([z]) => z))];
  const widest = Math.sqrt(Math.max(...all.map(([, area]) => area)));
  const x = (area: number, side: 1 | -1) =>
    width / 2 + ((side * Math.sqrt(area)) / 2) * ((width - 2 * SIDE) / Math.max(widest, 1e-6));
  const y = (z: number) => height - 34 - ((z - low) / Math.max(high - low, 0.01)) * (height - 84);
  const outline = (profile: number[][]) => {
    const left = [...profile].reverse().map(([z = 0, a = 0]) => `${x(a, -1)},${y(z)}`);
    return [...left, ...profile.map(([z = 0, a = 0]) => `${x(a, 1)},${y(z)}`)].join(" ");
  };
  const top = store.top === null ? null : Math.min(store.top, store.after.at(-1)?.[0] ?? store.top);
  const wet = store.after.filter(([z]) => top !== null && z < top);
  const surface = top === null ? 0 : areaAt(store.after, top);
  const base = store.after[0]?.[1] ?? 0;
  const bank = store.after.at(-1)?.[0] ?? 0;
  return (
    <div ref={ref} className="h-full">
      <svg width={width} height={height} role="img" aria-label={`section of ${node.name}, as drawn and fitted`}>
        <text x={12} y={18} fontSize={14} fontWeight={600}>
          The least that holds
        </text>
        <text x={140} y={18} fontSize={11} fill="var(--color-ink2)">
          {node.name}; dashed as drawn
        </text>
        {top !== null && wet.length > 0 && (
          <polygon points={outline([...wet, [top, surface]])} fill="var(--color-water2)" />
        )}
        <polyline points={outline(store.before)} fill="none" stroke="var(--color-ink2)" strokeDasharray="5 4" />
        <polyline points={outline(store.after)} fill="none" stroke="var(--color-water5)" strokeWidth={2} />
        {([-1, 1] as const).map((side) => (
          <line
            key={side}
            x1={side < 0 ? 12 : width - 12}
            x2={x(store.after.at(-1)?.[1] ?? 0, side)}
            y1={y(bank)}
            y2={y(bank)}
            stroke="var(--color-ink)"
            strokeWidth={1.5}
          />
        ))}
        <text x={14} y={y(bank) - 5} fontSize={11}>
          bank {show(bank, "level")}
        </text>
        {top !== null && (
          <>
            <line x1={x(surface, -1)} x2={x(surface, 1)} y1={y(top)} y2={y(top)} stroke="var(--color-water5)" />
            <text x={width / 2} y={y(top) - 4} fontSize={11} textAnchor="middle">
              top water {show(top, "level")}, {show(bank - top, "length")} {unitOf("length")} below the bank
            </text>
          </>
        )}
        {controls
          .filter(({ link }) => link.upstream === store.store)
          .map(({ one, link, value }, k) => (
            <g key={one.element}>
              <circle
                cx={x(base, 1) + 10}
                cy={y(Math.max(levelOf(link as Control), low))}
                r={5}
                fill="var(--color-hi)"
                stroke="var(--color-ink)"
              />
              <text x={x(base, 1) + 20} y={y(Math.max(levelOf(link as Control), low)) + 4 + 13 * k} fontSize={11}>
                {link.name} {figureOf(one.what, value)} {unitOfFigure(one.what)}
              </text>
            </g>
          ))}
        <text x={width / 2} y={height - 12} fontSize={11} textAnchor="middle">
          base {show(base, "area")} {unitOf("area")} (was {show(store.before[0]?.[1], "area")}), bank{" "}
          {show(store.after.at(-1)?.[1], "area")} {unitOf("area")}, {show(bank - low, "length")} {unitOf("length")} deep
          {fit.stores.length > 1 ? `; and ${fit.stores.length - 1} more` : ""}
        </text>
      </svg>
    </div>
  );
}

const levelOf = (link: Control) => ("invert" in link ? link.invert : "crest" in link ? link.crest : 0);

function areaAt(profile: number[][], z: number): number {
  for (let k = 1; k < profile.length; k++) {
    const [a, b] = [profile[k - 1] as number[], profile[k] as number[]];
    if (z <= (b[0] ?? 0)) {
      const share = (z - (a[0] ?? 0)) / Math.max((b[0] ?? 0) - (a[0] ?? 0), 1e-9);
      return (a[1] ?? 0) + Math.max(share, 0) * ((b[1] ?? 0) - (a[1] ?? 0));
    }
  }
  return profile.at(-1)?.[1] ?? 0;
}

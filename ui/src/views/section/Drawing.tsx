import { type KeyboardEvent, type PointerEvent, useEffect, useId, useMemo, useRef, useState } from "react";
import { joining, passing } from "../../document/beside";
import { nextSize } from "../../document/catalogue";
import { useProject } from "../../document/store";
import { type Conduit, depthOf, isConduit, topOf } from "../../document/types";
import { ruleOf, show } from "../../document/units";
import { conduitKind, levelOf } from "../../kinds";
import { Figures, Names } from "./Figures";
import { Flagged } from "./Flagged";
import { type Frame, frameOf, wholeOf } from "./frame";
import { Grips } from "./Grips";
import { halfOf } from "./nodeWidth";
import { Reading } from "./Reading";
import { BesideMark, ChainMark, ControlSign } from "./SectionMarks";
import type { Profile } from "./SteadyFlow";
import { setLevels } from "./setLevels";
import type { Shown } from "./shown";
import { moved, type Sight, zoomed } from "./sight";
import type { Along } from "./useAlong";
import { ConduitWater, NodeWater } from "./Water";
import { WaterLines } from "./WaterLines";

/** A storm's water at the moment of the clock or, with `steady`, what the profile says. */
export function Drawing({
  path,
  width,
  height,
  steady,
  profile,
  shown,
  along,
  exaggeration,
  sight = null,
  look,
}: {
  path: string[];
  width: number;
  height: number;
  steady: boolean;
  profile: Profile | null;
  shown: Shown;
  along: Along;
  /** null fills the height. */
  exaggeration: number | null;
  /** null draws the whole run. */
  sight?: Sight | null;
  /** Asked for another part of the run. */
  look?: (sight: Sight | null) => void;
}) {
  const [under, setUnder] = useState<[number, number] | null>(null);
  const { network, project, optionPath, cursor, picked, answer, point, edit } = useProject();
  const rows = height > 230 ? 5 : 4;
  const frame = useMemo(
    () => (network ? frameOf(network, path, width, height, rows, exaggeration, sight) : null),
    [network, path, width, height, rows, exaggeration, sight],
  );
  const seen = useMemo(() => frame?.links.map(({ id }) => id) ?? [], [frame]);
  const sheet = useRef<SVGSVGElement>(null);
  const clip = useId();
  const whole = useMemo(() => (network ? wholeOf(network, path) : null), [network, path]);
  // a wheel that is listened to by React may not keep the page from scrolling
  useEffect(() => {
    const svg = sheet.current;
    if (!svg || !frame || !look || !whole) return;
    const wheel = (event: WheelEvent) => {
      event.preventDefault();
      const box = svg.getBoundingClientRect();
      const [at, level] = [frame.alongAt(event.clientX - box.left), frame.levelAt(event.clientY - box.top)];
      look(zoomed(sight && { ...sight, ...levelsIn(frame, whole) }, whole, at, level, event.deltaY < 0 ? 0.75 : 1.34));
    };
    svg.addEventListener("wheel", wheel, { passive: false });
    return () => svg.removeEventListener("wheel", wheel);
  }, [frame, sight, look, whole]);
  const pulled = usePull(sight && look && frame && whole ? { sight, frame, whole, look } : null);
  const beside = useMemo(
    () =>
      network && frame
        ? {
            joining: joining(network, seen, frame.ids, frame.chainage),
            passing: passing(network, seen, frame.chainage),
          }
        : { joining: [], passing: [] },
    [network, seen, frame],
  );
  if (!network || !project || !frame) return null;
  const { links, nodes, ids, chainage, x, y } = frame;
  // the highest of all storms or, in steady flow, what that settles to; an outfall's is that of what leaves by it
  const leaving = new Map(
    links.map(({ id, link }) => [link.downstream, along.highest?.all(id).at(-1)?.[1] ?? Number.NaN] as const),
  );
  const worst = (id: string) =>
    (steady ? profile?.level[id] : (answer?.nodes[id]?.level ?? leaving.get(id))) ?? Number.NaN;
  const ground = nodes.map((node, i) => [x(chainage[i] ?? 0), topOf(node)] as const);
  const least = project.check_limits.cover;

  const keys = (event: KeyboardEvent) => {
    const id = cursor.element ?? "";
    const link = network.links[id];
    const step = { ArrowUp: 0.01, ArrowDown: -0.01 }[event.key];
    const size = { "+": 1, "-": -1 }[event.key] as 1 | -1 | undefined;
    if (step && isConduit(link)) {
      const by = event.shiftKey ? 10 * step : step;
      void setLevels([id], { how: "levels", levels: [[link.upstream_invert + by, link.downstream_invert + by]] });
    } else if (size && link?.kind === "pipe") {
      const next = nextSize(project.catalogue, link, size);
      if (next) void edit([{ op: "replace", path: `${optionPath}/links/${id}/section/diameter`, value: next }]);
    } else return;
    event.preventDefault();
  };

  return (
    <svg
      ref={sheet}
      width={width}
      height={Math.max(frame.bottom + 16 + 16 * rows, exaggeration && !sight ? 0 : height)}
      className="select-none outline-none"
      data-testid="long-section"
      role="application"
      aria-label="Long section drawing"
      // biome-ignore lint/a11y/noNoninteractiveTabindex: the picked pipe is moved by keyboard
      tabIndex={0}
      onKeyDown={keys}
      {...pulled}
      onPointerMove={(event) => {
        const box = event.currentTarget.getBoundingClientRect();
        setUnder(event.buttons ? null : [event.clientX - box.left, event.clientY - box.top]);
        pulled.onPointerMove(event);
      }}
      onPointerLeave={() => setUnder(null)}
    >
      <defs>
        <clipPath id={clip}>
          <rect x={frame.left - 8} y={0} width={Math.max(width - frame.left + 8, 0)} height={frame.bottom + 1} />
        </clipPath>
        <pattern id="stones" width={8} height={8} patternUnits="userSpaceOnUse">
          <rect width={8} height={8} fill="var(--color-hi)" />
          <circle cx={2} cy={2} r={1.4} fill="var(--color-rule2)" />
          <circle cx={6} cy={6} r={1.4} fill="var(--color-rule2)" />
        </pattern>
      </defs>
      <Levels frame={frame} width={width} />
      <g clipPath={`url(#${clip})`}>
        <polygon
          points={[...ground, [x(chainage.at(-1) ?? 0), frame.low], [x(0), frame.low]]
            .map(([c = 0, z = 0]) => `${c},${y(z)}`)
            .join(" ")}
          fill="var(--color-lo)"
          opacity={0.45}
        />
        {links.map(({ id, link }, i) =>
          isConduit(link) ? <ConduitMark key={id} id={id} conduit={link} frame={frame} at={i} /> : null,
        )}
        <ConduitWater frame={frame} steady={steady} profile={profile} along={along.storm} />
        {nodes.map((node, i) => {
          const id = ids[i] ?? "";
          const half = halfOf(node);
          const top = topOf(node);
          return (
            <rect
              key={id}
              onClick={() => point({ element: id })}
              className="cursor-pointer"
              data-testid={`section-node-${node.name}`}
              x={x(chainage[i] ?? 0) - half}
              y={y(top)}
              width={2 * half}
              height={Math.max(y(node.invert) - y(top), 1)}
              fill={node.kind === "outfall" ? "none" : "var(--color-hi)"}
              stroke="var(--color-ink)"
              strokeWidth={picked.has(id) ? 2.2 : 1}
            />
          );
        })}
        <NodeWater frame={frame} steady={steady} profile={profile} />
        {links.map(({ id, link }, i) =>
          isConduit(link) ? null : (
            <ControlSign
              key={id}
              control={link}
              cx={(x(chainage[i] ?? 0) + x(chainage[i + 1] ?? 0)) / 2}
              sill={y(levelOf(link))}
              foot={y(frame.low)}
              picked={id === cursor.element}
              pick={() => point({ element: id })}
            />
          ),
        )}
        {beside.joining.map((other) => (
          <BesideMark key={`${other.id}/${other.chainage}`} other={other} x={x} y={y} joins />
        ))}
        {beside.passing.map((other) => (
          <BesideMark key={`${other.id}/${other.chainage}`} other={other} x={x} y={y} />
        ))}
        <polyline
          points={ground.map(([c, z]) => `${c},${y(z)}`).join(" ")}
          fill="none"
          pointerEvents="none"
          stroke="var(--color-ink)"
          strokeWidth={1.2}
        />
        <polyline
          points={ground.map(([c, z]) => `${c},${y(z - least)}`).join(" ")}
          fill="none"
          pointerEvents="none"
          stroke="var(--color-ink3)"
          strokeDasharray="5 4"
          strokeWidth={0.8}
          data-testid="least-cover"
        />
        <WaterLines frame={frame} shown={shown} along={along} steady={steady} />
        <ChainMark frame={frame} />
        <Flagged frame={frame} />
        <Grips frame={frame} />
      </g>
      <Figures frame={frame} width={width} worst={worst} pipes={rows > 4} steady={steady} profile={profile} />
      <Names frame={frame} steady={steady} profile={profile} />
      {under !== null && (
        <Reading frame={frame} at={under} width={width} along={along} steady={steady} profile={profile} />
      )}
    </svg>
  );
}

/** The levels that are in sight, of those that there are. */
function levelsIn(frame: Frame, whole: Sight): Pick<Sight, "low" | "high"> {
  return { low: Math.max(frame.low, whole.low), high: Math.min(frame.high, whole.high) };
}

const BEGINS = 4; // px of a pull, below which it is a click

/** Drags what is in sight along the run and up and down; grips keep their own drag, and a click stays a click. */
function usePull(on: { sight: Sight; frame: Frame; whole: Sight; look: (sight: Sight | null) => void } | null) {
  const began = useRef<{ x: number; y: number; sight: Sight; perX: number; perY: number; pulls: boolean } | null>(null);
  return {
    onPointerDown: (event: PointerEvent<SVGSVGElement>) => {
      if (!on || event.button !== 0 || (event.target as Element).closest('[data-testid^="grip-"]')) return;
      const perX = on.frame.alongAt(1) - on.frame.alongAt(0);
      const sight = { ...on.sight, ...levelsIn(on.frame, on.whole) };
      began.current = { x: event.clientX, y: event.clientY, sight, perX, perY: on.frame.perPixel, pulls: false };
    },
    onPointerMove: (event: PointerEvent<SVGSVGElement>) => {
      const from = began.current;
      if (!from || !on) return;
      if (event.buttons !== 1) {
        began.current = null;
        return;
      }
      const [dx, dy] = [event.clientX - from.x, event.clientY - from.y];
      if (!from.pulls && Math.hypot(dx, dy) < BEGINS) return;
      if (!from.pulls) event.currentTarget.setPointerCapture(event.pointerId);
      from.pulls = true;
      on.look(moved(from.sight, on.whole, -dx * from.perX, dy * from.perY));
    },
    onPointerUp: () => {
      began.current = null;
    },
  };
}

/** Lines of equal level, with their figures at the left. */
function Levels({ frame, width }: { frame: Frame; width: number }) {
  const { low, high, left, y } = frame;
  // even steps of the unit that levels are read in
  const unit = 1 / ruleOf("level").factor;
  const step = [0.25, 0.5, 1, 2, 5, 10, 20].find((s) => (high - low) / unit / s <= 6) ?? 50;
  const first = Math.ceil(low / unit / step);
  const count = Math.ceil((high - low) / unit / step);
  const marks = Array.from({ length: count }, (_, i) => (first + i) * step * unit).filter((z) => z < high);
  return marks.map((z) => (
    <g key={z}>
      <line x1={left - 4} x2={width - 8} y1={y(z)} y2={y(z)} stroke="var(--color-rule)" />
      <text x={left - 8} y={y(z) + 4} fontSize={10.5} textAnchor="end" className="figure" fill="var(--color-ink3)">
        {show(z, "level", step < 1 ? 2 : 1)}
      </text>
    </g>
  ));
}

/** A conduit as it lies. */
function ConduitMark({ id, conduit, frame, at }: { id: string; conduit: Conduit; frame: Frame; at: number }) {
  const { picked, point } = useProject();
  const { chainage, x, y } = frame;
  const [a, b] = [chainage[at] ?? 0, chainage[at + 1] ?? 0];
  const d = depthOf(conduit);
  const [z0, z1] = [conduit.upstream_invert, conduit.downstream_invert];
  const { body } = conduitKind(conduit);
  return (
    <polygon
      onClick={() => point({ element: id })}
      className="cursor-pointer"
      data-testid={`section-${conduit.name}`}
      points={`${x(a)},${y(z0)} ${x(b)},${y(z1)} ${x(b)},${y(z1 + d)} ${x(a)},${y(z0 + d)}`}
      fill={body.fill}
      stroke="var(--color-ink)"
      strokeWidth={picked.has(id) ? 2.2 : 1}
      strokeDasharray={body.dash}
    />
  );
}

import { type PointerEvent, useState } from "react";
import { ladderOf } from "../../document/catalogue";
import { useProject } from "../../document/store";
import {
  type Conduit,
  type Control,
  depthOf,
  type Edit,
  isConduit,
  type Network,
  type Project,
  topOf,
} from "../../document/types";
import { show, unitOf } from "../../document/units";
import { controlKind, levelOf } from "../../kinds";
import type { Frame } from "./frame";

/**
 * What is dragged: an end of a conduit, with Shift both; a cover; a control's level, or the top of its opening; the
 * soffit of a round pipe. And the level that it would have.
 */
type Drag = {
  id: string;
  what: "up" | "down" | "both" | "cover" | "level" | "opening" | "diameter";
  from: number;
  level: number;
  start: number;
};

/** m of an opening or of a diameter that a pixel of the hand's way makes. */
const OPENING_STEP = 0.001;
const DIAMETER_STEP = 0.01;

const rounded = (level: number, fine: boolean) =>
  fine ? Math.round(level * 1000) / 1000 : Math.round(level * 200) / 200;

/** Handles at the ends of conduits and at covers: dragging sets a level to 5 mm, with Alt to 1 mm. */
export function Grips({ frame }: { frame: Frame }) {
  const { network, project, cursor, apply, point, tryOut, endTrial } = useProject();
  const [drag, setDrag] = useState<Drag | null>(null);
  const { x, y, chainage, perPixel } = frame;
  const begin = (id: string, what: Drag["what"], level: number) => (event: PointerEvent<SVGElement>) => {
    event.currentTarget.setPointerCapture(event.pointerId);
    point({ element: id });
    const both = event.shiftKey && (what === "up" || what === "down");
    setDrag({ id, what: both ? "both" : what, from: level, level, start: event.clientY });
  };
  const edits = (at: Drag) => (network && project ? editsOf(network, project, at) : []);
  const on = (event: PointerEvent) => {
    if (!drag) return;
    // sizes are far smaller than what a pixel of the section is high
    const step = drag.what === "opening" ? OPENING_STEP : drag.what === "diameter" ? DIAMETER_STEP : perPixel;
    const fine = event.altKey || drag.what === "opening";
    const level = rounded(drag.from - (event.clientY - drag.start) * step, fine);
    if (level === drag.level) return;
    const next = { ...drag, level };
    setDrag(next);
    const tried = edits(next);
    if (tried.length > 0) tryOut(tried);
  };
  const end = () => {
    setDrag(null);
    const done = drag && drag.level !== drag.from ? edits(drag) : [];
    if (done.length > 0) void apply(done).finally(endTrial);
    else endTrial();
  };
  const grip = (key: string, cx: number, cy: number, id: string, what: Drag["what"], level: number, label: string) => (
    <circle
      key={key}
      cx={cx}
      cy={drag?.id === id && drag.what === what ? cy + y(drag.level) - y(drag.from) : cy}
      r={4.5}
      className={`cursor-ns-resize ${cursor.element === id ? "" : "opacity-0 hover:opacity-100"}`}
      fill="var(--color-hi)"
      stroke="var(--color-ink)"
      strokeWidth={1.4}
      onPointerDown={begin(id, what, level)}
      onPointerMove={on}
      onPointerUp={end}
      onPointerCancel={() => {
        setDrag(null);
        endTrial();
      }}
      data-testid={`grip-${label}`}
    >
      <title>{label.replaceAll("-", " ")}: drag it</title>
    </circle>
  );
  return (
    <g>
      {frame.nodes.map((node, i) =>
        node.kind === "outfall" && node.ground === null
          ? null
          : grip(
              `${i}/cover`,
              x(chainage[i] ?? 0),
              y(topOf(node)),
              frame.ids[i] ?? "",
              "cover",
              topOf(node),
              `cover-${node.name}`,
            ),
      )}
      {frame.links.map(({ id, link }, i) => {
        if (!isConduit(link)) {
          const at = (x(chainage[i] ?? 0) + x(chainage[i + 1] ?? 0)) / 2;
          const height = openingOf(link);
          const sill = levelOf(link);
          // below and above its sign, which a click picks
          return (
            <g key={id}>
              {controlKind(link).level && grip(`${id}/level`, at, y(sill) + 7, id, "level", sill, `level-${link.name}`)}
              {height > 0 &&
                grip(`${id}/opening`, at, y(sill) - 22, id, "opening", sill + height, `opening-${link.name}`)}
            </g>
          );
        }
        const [a, b] = [x(chainage[i] ?? 0) + 9, x(chainage[i + 1] ?? 0) - 9];
        return (
          <g key={id}>
            {grip(`${id}/up`, a, y(link.upstream_invert), id, "up", link.upstream_invert, `up-${link.name}`)}
            {link.kind === "pipe" &&
              link.section.shape === "circular" &&
              grip(
                `${id}/diameter`,
                // beside the middle, where a click picks the pipe
                a + 0.75 * (b - a),
                y(soffitAt(link, 0.75)),
                id,
                "diameter",
                soffitAt(link, 0.75),
                `diameter-${link.name}`,
              )}
            {grip(`${id}/down`, b, y(link.downstream_invert), id, "down", link.downstream_invert, `down-${link.name}`)}
          </g>
        );
      })}
      {drag && <Ghost frame={frame} drag={drag} />}
    </g>
  );
}

/** Of a conduit at a share of its way down, m. */
const soffitAt = (link: Conduit, share: number) =>
  link.upstream_invert + share * (link.downstream_invert - link.upstream_invert) + depthOf(link);

/** The edits that a drag comes to; none where it leaves a pipe at its size. */
function editsOf(network: Network, project: Project, drag: Drag): Edit[] {
  const link = network.links[drag.id];
  if (!link) {
    const field = network.nodes[drag.id]?.kind === "outfall" ? "ground" : "cover";
    return [{ edit: "set", element: drag.id, field, value: drag.level }];
  }
  if (isConduit(link)) {
    if (drag.what === "diameter") {
      const size = sizeUnder(network, project, drag);
      return size === null ? [] : [{ edit: "set", element: drag.id, field: "section/diameter", value: size }];
    }
    const by = drag.level - drag.from;
    const { upstream_invert: up, downstream_invert: down } = link;
    const levels: [number, number][] = [[drag.what === "down" ? up : up + by, drag.what === "up" ? down : down + by]];
    return [{ edit: "set levels", links: [drag.id], how: "levels", levels, gradient: 0.01, cover: 1 }];
  }
  if (drag.what === "level" && controlKind(link).level)
    return [{ edit: "set", element: drag.id, field: controlKind(link).level ?? "", value: drag.level }];
  const height = Math.round(Math.max(drag.level - levelOf(link), 0.01) * 1000) / 1000;
  const field = controlKind(link).opening?.field(link);
  return field ? [{ edit: "set", element: drag.id, field, value: height }] : [];
}

/** The made size nearest to where the soffit is dragged; null where it is the pipe's own. */
function sizeUnder(network: Network, project: Project, drag: Drag): number | null {
  const pipe = network.links[drag.id];
  if (pipe?.kind !== "pipe" || pipe.section.shape !== "circular") return null;
  const wanted = pipe.section.diameter + drag.level - drag.from;
  const made = ladderOf(project.catalogue, pipe.material);
  const own = pipe.section.diameter;
  const size = [...made, own].reduce((best, d) => (Math.abs(d - wanted) < Math.abs(best - wanted) ? d : best), own);
  return size === own ? null : size;
}

/** How high the opening of a control is that can be dragged; 0 where it has none. */
const openingOf = (link: Control) => controlKind(link).opening?.height(link) ?? 0;

/** What is dragged where it would come to lie, and what that means. */
function Ghost({ frame, drag }: { frame: Frame; drag: Drag }) {
  const { network, project } = useProject();
  const { x, y, chainage } = frame;
  const i = frame.links.findIndex(({ id }) => id === drag.id);
  const link = frame.links[i]?.link;
  const look = { stroke: "var(--color-ochre-ink)", strokeDasharray: "4 3", fill: "none" };
  if (link && !isConduit(link)) {
    const at = (x(chainage[i] ?? 0) + x(chainage[i + 1] ?? 0)) / 2;
    const text =
      drag.what === "level"
        ? `${show(drag.level, "level")} ${unitOf("level")}`
        : `${show(Math.max(drag.level - levelOf(link), 0.01), "diameter")} ${unitOf("diameter")}`;
    return (
      <g pointerEvents="none">
        <line x1={at - 16} x2={at + 16} y1={y(drag.level)} y2={y(drag.level)} {...look} />
        <Label x={at} text={text} />
      </g>
    );
  }
  if (!isConduit(link)) {
    const k = frame.ids.indexOf(drag.id);
    const at = x(chainage[k] ?? 0);
    return (
      <g pointerEvents="none">
        <line x1={at - 16} x2={at + 16} y1={y(drag.level)} y2={y(drag.level)} {...look} />
        <Label x={at} text={`${show(drag.level, "level")} ${unitOf("level")}`} />
      </g>
    );
  }
  const size = network && project && drag.what === "diameter" ? sizeUnder(network, project, drag) : null;
  const by = drag.what === "diameter" ? 0 : drag.level - drag.from;
  const up = link.upstream_invert + (drag.what === "down" ? 0 : by);
  const down = link.downstream_invert + (drag.what === "up" ? 0 : by);
  const [a, b, d] = [x(chainage[i] ?? 0), x(chainage[i + 1] ?? 0), size ?? depthOf(link)];
  const fall = up - down;
  const gradient = fall > 0 ? `1 in ${(link.length / fall).toFixed(0)}` : fall === 0 ? "level" : "falls back";
  const over = (node: string, invert: number) => {
    const found = network?.nodes[node];
    return found ? topOf(found) - invert - d : 0;
  };
  const cover = Math.min(over(link.upstream, up), over(link.downstream, down));
  return (
    <g pointerEvents="none">
      <polygon points={`${a},${y(up)} ${b},${y(down)} ${b},${y(down + d)} ${a},${y(up + d)}`} {...look} />
      <Label
        x={(a + b) / 2}
        text={`${drag.what === "diameter" ? `${show(d, "diameter")} ${unitOf("diameter")}` : show(drag.level, "level")} · ${gradient} · cover ${show(cover, "length")} ${unitOf("length")}`}
      />
    </g>
  );
}

/** Over the drawing, where no name stands. */
function Label({ x, text }: { x: number; text: string }) {
  return (
    <text
      x={x}
      y={11}
      fontSize={11}
      textAnchor="middle"
      className="figure"
      stroke="var(--color-paper)"
      strokeWidth={4}
      paintOrder="stroke"
      data-testid="drag-label"
    >
      {text}
    </text>
  );
}

import { type PointerEvent, useState } from "react";
import { useProject } from "../../document/store";
import { depthOf, isConduit, topOf } from "../../document/types";
import { show, unitOf } from "../../document/units";
import type { Frame } from "./frame";
import { setLevels } from "./setLevels";

/** What is dragged: an end of a conduit, with Shift both, or a cover; and the level that it would have. */
type Drag = { id: string; what: "up" | "down" | "both" | "cover"; from: number; level: number; start: number };

const rounded = (level: number, fine: boolean) =>
  fine ? Math.round(level * 1000) / 1000 : Math.round(level * 200) / 200;

/** Handles at the ends of conduits and at covers: dragging sets a level to 5 mm, with Alt to 1 mm. */
export function Grips({ frame }: { frame: Frame }) {
  const { network, optionPath, cursor, edit, point } = useProject();
  const [drag, setDrag] = useState<Drag | null>(null);
  const { x, y, chainage, perPixel } = frame;
  const begin = (id: string, what: Drag["what"], level: number) => (event: PointerEvent<SVGElement>) => {
    event.currentTarget.setPointerCapture(event.pointerId);
    point({ element: id });
    setDrag({ id, what: event.shiftKey && what !== "cover" ? "both" : what, from: level, level, start: event.clientY });
  };
  const on = (event: PointerEvent) => {
    if (drag) setDrag({ ...drag, level: rounded(drag.from - (event.clientY - drag.start) * perPixel, event.altKey) });
  };
  const end = () => {
    setDrag(null);
    if (!drag || !network || drag.level === drag.from) return;
    const link = network.links[drag.id];
    if (isConduit(link)) {
      const by = drag.level - drag.from;
      const { upstream_invert: up, downstream_invert: down } = link;
      void setLevels([drag.id], {
        how: "levels",
        levels: [[drag.what === "down" ? up : up + by, drag.what === "up" ? down : down + by]],
      });
    } else {
      const field = network.nodes[drag.id]?.kind === "outfall" ? "ground" : "cover";
      void edit([{ op: "replace", path: `${optionPath}/nodes/${drag.id}/${field}`, value: drag.level }]);
    }
  };
  const grip = (key: string, cx: number, cy: number, id: string, what: Drag["what"], level: number, label: string) => (
    <circle
      key={key}
      cx={cx}
      cy={drag?.id === id && drag.what === what ? y(drag.level) : cy}
      r={4.5}
      className={`cursor-ns-resize ${cursor.element === id ? "" : "opacity-0 hover:opacity-100"}`}
      fill="var(--color-hi)"
      stroke="var(--color-ink)"
      strokeWidth={1.4}
      onPointerDown={begin(id, what, level)}
      onPointerMove={on}
      onPointerUp={end}
      onPointerCancel={() => setDrag(null)}
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
        if (!isConduit(link)) return null;
        const [a, b] = [x(chainage[i] ?? 0) + 9, x(chainage[i + 1] ?? 0) - 9];
        return (
          <g key={id}>
            {grip(`${id}/up`, a, y(link.upstream_invert), id, "up", link.upstream_invert, `up-${link.name}`)}
            {grip(`${id}/down`, b, y(link.downstream_invert), id, "down", link.downstream_invert, `down-${link.name}`)}
          </g>
        );
      })}
      {drag && <Ghost frame={frame} drag={drag} />}
    </g>
  );
}

/** The dragged conduit or cover where it would come to lie, and what that means. */
function Ghost({ frame, drag }: { frame: Frame; drag: Drag }) {
  const { network } = useProject();
  const { x, y, chainage } = frame;
  const i = frame.links.findIndex(({ id }) => id === drag.id);
  const link = frame.links[i]?.link;
  const look = { stroke: "var(--color-ochre-ink)", strokeDasharray: "4 3", fill: "none" };
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
  const by = drag.level - drag.from;
  const up = link.upstream_invert + (drag.what === "down" ? 0 : by);
  const down = link.downstream_invert + (drag.what === "up" ? 0 : by);
  const [a, b, d] = [x(chainage[i] ?? 0), x(chainage[i + 1] ?? 0), depthOf(link)];
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
        text={`${show(drag.level, "level")} · ${gradient} · cover ${show(cover, "length")} ${unitOf("length")}`}
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

import { useProject } from "../../document/store";
import { isConduit, isStore, topOf } from "../../document/types";
import { show, unitOf } from "../../document/units";
import { fitting } from "./fitting";
import type { Frame } from "./frame";
import type { Profile } from "./SteadyFlow";

const LABELS = ["Cover", "Invert", "Peak, all", "Chainage", "Pipe"];

const FIGURE = 6.4; // px, of a digit
const LETTER = 6.2; // px, of a letter in a name

/** Nodes that have room for texts of theirs: the ends first, then what is picked, stores, and the others in order. */
function roomFor(frame: Frame, picked: ReadonlySet<string>, widthOf: (i: number) => number): boolean[] {
  const last = frame.nodes.length - 1;
  const { from, to } = frame.seen;
  const inSight = (i: number) => (frame.chainage[i] ?? 0) >= from - 1e-6 && (frame.chainage[i] ?? 0) <= to + 1e-6;
  const fits = fitting(
    frame.nodes.map((node, i) => ({
      at: frame.x(frame.chainage[i] ?? 0),
      width: widthOf(i),
      rank: !inSight(i) ? 4 : i === 0 || i === last ? 0 : picked.has(frame.ids[i] ?? "") ? 1 : isStore(node) ? 2 : 3,
    })),
  );
  return fits.map((fit, i) => fit && inSight(i));
}

/** Names over the nodes, higher where a flood stands between. */
export function Names({ frame, steady, profile }: { frame: Frame; steady: boolean; profile: Profile | null }) {
  const { nodes, ids, chainage, x, y } = frame;
  const point = useProject((s) => s.point);
  const picked = useProject((s) => s.picked);
  // drawn again only when a flood comes or goes
  const flooded = useProject((s) =>
    nodes
      .flatMap((node, i) => {
        const id = ids[i] ?? "";
        const level = steady ? profile?.level[id] : s.series?.at(`level:${id}`, s.moment);
        return level !== undefined && level > topOf(node) ? [id] : [];
      })
      .join(" "),
  );
  const room = roomFor(frame, picked, (i) => (nodes[i]?.name.length ?? 0) * LETTER);
  return nodes.map((node, i) => {
    const id = ids[i] ?? "";
    return room[i] ? (
      <text
        key={id}
        x={x(chainage[i] ?? 0)}
        y={Math.max(y(topOf(node)) - (flooded.includes(id) ? 17 : 5), 26)}
        fontSize={11}
        fontWeight={600}
        textAnchor="middle"
        className="cursor-pointer"
        onClick={() => point({ element: id })}
        data-testid={`section-name-${node.name}`}
      >
        {node.name}
      </text>
    ) : null;
  });
}

/** Flow and greatest velocity of a conduit in steady flow. */
function steadyWords(profile: Profile, id: string): string {
  const speed = Math.max(...(profile.reaches[id]?.speed ?? [Number.NaN]));
  return `${show(profile.flow[id], "flow")}, ${show(speed, "speed")} ${unitOf("speed")}`;
}

/** Under the drawing what stands at each node: cover, invert, highest water, chainage, pipes. */
export function Figures({
  frame,
  width,
  worst,
  pipes,
  steady,
  profile,
}: {
  frame: Frame;
  width: number;
  worst: (id: string) => number;
  pipes: boolean;
  steady: boolean;
  profile: Profile | null;
}) {
  const { network, depths, picked } = useProject();
  const { nodes, ids, links, chainage, x, bottom } = frame;
  if (!network) return null;
  const labelled = roomFor(frame, picked, (i) => {
    const node = nodes[i];
    return node ? FIGURE * Math.max(show(topOf(node), "level", 2).length, show(chainage[i], "length", 0).length) : 0;
  });
  return (
    <g pointerEvents="none">
      {nodes.map((node, i) => {
        if (!labelled[i]) return null;
        const c = x(chainage[i] ?? 0);
        const top = topOf(node);
        const peak = worst(ids[i] ?? "");
        return (
          <g key={ids[i]} fontSize={10.5} textAnchor="middle">
            <g className="figure">
              <text x={c} y={bottom + 18}>
                {show(top, "level", 2)}
              </text>
              <text x={c} y={bottom + 34}>
                {show(depths ? top - node.invert : node.invert, "level", 2)}
              </text>
              <text x={c} y={bottom + 50} fill={peak > top ? "var(--color-madder)" : "var(--color-ink)"}>
                {show(peak, "level", 2)}
              </text>
              <text x={c} y={bottom + 66} fill="var(--color-ink2)">
                {show(chainage[i] ?? 0, "length", 0)}
              </text>
            </g>
          </g>
        );
      })}
      {pipes &&
        links.map(({ id, link }, i) => {
          const [a, b] = [x(chainage[i] ?? 0), x(chainage[i + 1] ?? 0)];
          if (!isConduit(link) || b - a < 58) return null;
          const fall = link.upstream_invert - link.downstream_invert;
          const size = link.kind === "pipe" && link.section.shape === "circular" ? link.section.diameter : null;
          return (
            <text key={id} x={(a + b) / 2} y={bottom + 82} fontSize={10.5} textAnchor="middle" className="figure">
              {steady && profile ? (
                steadyWords(profile, id)
              ) : (
                <>
                  {size ? `${show(size, "diameter")} ` : ""}
                  {fall > 0 ? `1:${(link.length / fall).toFixed(0)}` : "level"}
                </>
              )}
            </text>
          );
        })}
      <g fontSize={11} fill="var(--color-ink2)">
        {LABELS.slice(0, pipes ? 5 : 4).map((label, i) => (
          <g key={label}>
            <text x={6} y={bottom + 18 + i * 16} data-testid={`section-row-${i}`}>
              {depths && label === "Invert" ? "Depth" : steady && label === "Peak, all" ? "Water" : label}
            </text>
            <line x1={0} x2={width} y1={bottom + 5 + i * 16} y2={bottom + 5 + i * 16} stroke="var(--color-rule)" />
          </g>
        ))}
      </g>
    </g>
  );
}

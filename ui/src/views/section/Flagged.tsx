import { useProject } from "../../document/store";
import { depthOf, isConduit, topOf } from "../../document/types";
import { flagsOf, useRuleElements } from "../results/useRuleElements";
import type { Frame } from "./frame";

/** A flag on each element of the run that breaks the picked rule, or nearly does: hatched, or dotted. */
export function Flagged({ frame }: { frame: Frame }) {
  const { cursor, answer } = useProject();
  const flags = flagsOf(useRuleElements(cursor.rule));
  const { nodes, ids, links, chainage, x, y } = frame;
  const rule = answer?.verdicts[cursor.rule]?.name ?? "";
  const flag = (id: string, name: string, px: number, py: number) => {
    const state = flags.get(id);
    if (!state) return null;
    return (
      <g key={id} data-testid={`flag-${name}`}>
        <title>{`${name} ${state === "fails" ? "breaks" : "nearly breaks"} ${rule}`}</title>
        <line x1={px} x2={px} y1={py} y2={py - 27} stroke="var(--color-ink)" strokeWidth={0.8} />
        <path
          d={`M${px} ${py - 27}h11l-4 4l4 4h-11z`}
          fill={state === "fails" ? "url(#over)" : "url(#tight)"}
          stroke={state === "fails" ? "var(--color-madder)" : "var(--color-ochre-ink)"}
          strokeWidth={0.8}
        />
      </g>
    );
  };
  return (
    <g>
      {nodes.map((node, i) =>
        flag(
          ids[i] ?? "",
          node.name,
          // beside its name, which stands above it
          x(chainage[i] ?? 0) + 3 + node.name.length * 3.1,
          y(topOf(node)) + 2,
        ),
      )}
      {links.map(({ id, link }, i) => {
        const middle = (x(chainage[i] ?? 0) + x(chainage[i + 1] ?? 0)) / 2;
        if (!isConduit(link)) return flag(id, link.name, middle, y(frame.low) - 12);
        return flag(id, link.name, middle, y((link.upstream_invert + link.downstream_invert) / 2 + depthOf(link)));
      })}
    </g>
  );
}

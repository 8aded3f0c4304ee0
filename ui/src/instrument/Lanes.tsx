import { useProject } from "../document/store";
import { clock } from "../document/units";
import { useMoments } from "../document/useMoments";

const KINDS = [
  { word: "floods", of: /^(flood|over its bank)$/, fill: "url(#over)", stroke: "var(--color-madder)" },
  { word: "pumps", of: /^pump/, fill: "var(--color-water3)", stroke: "var(--color-water5)" },
  { word: "flaps", of: /^flap/, fill: "var(--color-hi)", stroke: "var(--color-ink)" },
] as const;
export const LANE = 9;

/** Lanes of what acts in the picked storm: floods, pump runs, flaps that are shut. */
export function useLanes() {
  const moments = useMoments();
  const all = moments?.spans ?? [];
  return KINDS.map((kind) => ({ ...kind, spans: all.filter((span) => kind.of.test(span.kind)) })).filter(
    ({ spans }) => spans.length > 0,
  );
}

export function Lanes({
  lanes,
  top,
  x,
}: {
  lanes: ReturnType<typeof useLanes>;
  top: number;
  x: (t: number) => number;
}) {
  const { network, point } = useProject();
  return (
    <g>
      {lanes.map(({ word, fill, stroke, spans }, k) => (
        <g key={word} data-testid={`lane-${word}`}>
          {spans.map((span) => {
            const element = network?.nodes[span.element] ?? network?.links[span.element];
            return (
              <rect
                key={`${span.element}/${span.kind}/${span.begin}`}
                x={x(span.begin)}
                y={top + k * LANE}
                width={Math.max(x(span.end) - x(span.begin), 2)}
                height={LANE - 3}
                fill={fill}
                stroke={stroke}
                strokeWidth={0.8}
                className="cursor-pointer"
                // the bar beneath takes presses to move the clock
                onPointerDown={(event) => {
                  event.stopPropagation();
                  point({ element: span.element, moment: span.begin });
                }}
              >
                <title>
                  {`${element?.name ?? ""}: ${span.kind}, ${clock(span.begin)} to ${span.over ? clock(span.end) : "the end"}`}
                </title>
              </rect>
            );
          })}
          <text
            x={x(Math.min(...spans.map((s) => s.begin))) + (x(0) < 60 ? -4 : 0)}
            y={top + k * LANE + 6}
            fontSize={10.5}
            textAnchor="end"
            fill="var(--color-ink2)"
            paintOrder="stroke"
            stroke="var(--color-paper)"
            strokeWidth={3}
            pointerEvents="none"
          >
            {x(Math.min(...spans.map((s) => s.begin))) > 44 ? word : ""}
          </text>
        </g>
      ))}
    </g>
  );
}

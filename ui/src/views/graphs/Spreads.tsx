import { useQueries } from "@tanstack/react-query";
import { api, call } from "../../api/client";
import type { components } from "../../api/schema";
import { useResults } from "../../document/results";
import { useProject } from "../../document/store";
import type { Drawn, Network } from "../../document/types";
import { type Quantity, show, unitOf } from "../../document/units";
import { SpreadBox } from "../../primitives/SpreadBox";
import { MEASURES } from "../results/Measures";
import { marksOf } from "./Panels";

type Out = components["schemas"]["SpreadOut"];
export type Spread = {
  element: string;
  panel: Drawn;
  word: string;
  quantity: Quantity;
  durations: Out["durations"];
  critical: Out["critical"];
};

const [LEFT, RIGHT, TOP, FOOT] = [62, 14, 18, 24];
const BOXES = 5; // storms of a duration from which their spread says more than they do
const FILLS = ["var(--color-water2)", "var(--color-hi)", "var(--color-water4)", "var(--color-rule2)"];

/** The peak that stands for a quantity of an element; null where none is kept of it. */
export function measureOf(network: Network, element: string, quantity: Drawn): Out["measure"] | null {
  const node = network.nodes[element];
  if (node && node.kind !== "outfall") return quantity === "level" ? "level" : null;
  if (node) return quantity === "flow" ? "outflow" : null;
  return quantity === "flow" || quantity === "speed" ? quantity : null;
}

/** Peaks by duration in the row of the picked storm, of each element and quantity that has them. */
export function useSpreads(elements: string[], quantities: Drawn[], wanted: boolean): Spread[] {
  const { id, option, network, answer, cursor } = useProject();
  const { of, still } = useResults();
  const storm = answer?.storms.find((s) => s.key === cursor.storm);
  const asked = !network || !storm || storm.given || !wanted ? [] : quantities;
  const wants = asked.flatMap((panel) =>
    elements.flatMap((element) => {
      const measure = network ? measureOf(network, element, panel) : null;
      return measure ? [{ element, panel, measure }] : [];
    }),
  );
  const found = useQueries({
    queries: wants.map(({ element, measure }) => ({
      queryKey: ["spread", id, option, element, storm?.row, "mean", measure, ...of],
      enabled: still && answer?.state === "settled",
      queryFn: () =>
        call(
          api.GET("/api/projects/{project_id}/options/{option}/elements/{element}/spread", {
            params: { path: { project_id: id ?? "", option, element }, query: { row: storm?.row ?? "", measure } },
          }),
        ) as Promise<Out>,
    })),
  });
  return wants.flatMap(({ element, panel, measure }, k) => {
    const data = found[k]?.data;
    const { word, quantity } = MEASURES[measure];
    return data ? [{ element, panel, word, quantity, durations: data.durations, critical: data.critical }] : [];
  });
}

/** Peaks by duration, a panel for each quantity, with a value axis; boxes where a duration has many storms. */
export function Spreads({
  spreads,
  quantities,
  places,
  width,
  height,
  name,
}: {
  spreads: Spread[];
  quantities: Drawn[];
  places: Map<string, number>;
  width: number;
  height: number;
  name: (id: string) => string;
}) {
  const { answer, cursor, point } = useProject();
  const panels = quantities.filter((q) => spreads.some((s) => s.panel === q && s.durations.length > 0));
  if (panels.length === 0)
    return (
      <p className="p-4 text-ink3">
        Nothing to draw: peaks by duration are kept of the level of a node, the flow of an outfall, and the flow and
        velocity of a link.
      </p>
    );
  const durations = [...new Set(spreads.flatMap((s) => s.durations.map((d) => d.duration)))].sort((a, b) => a - b);
  const wide = (width - LEFT - RIGHT) / Math.max(durations.length, 1);
  const many = Math.max(places.size, 1);
  const half = Math.min(14, (0.36 * wide) / many);
  const x = (duration: number, element: string) =>
    LEFT +
    (durations.indexOf(duration) + 0.5) * wide +
    ((places.get(element) ?? 0) - (many - 1) / 2) * Math.min(2.4 * half, wide / many);
  const each = (height - FOOT) / panels.length;
  const storm = answer?.storms.find((s) => s.key === cursor.storm);
  return (
    <svg
      width={width}
      height={height}
      viewBox={`0 0 ${width} ${height}`}
      role="img"
      aria-label={`peaks by duration of ${places.size} elements, ${storm?.row ?? ""}`}
      data-testid="graph-spreads"
    >
      {panels.map((panel, k) => {
        const own = spreads.filter((s) => s.panel === panel && places.has(s.element));
        const [of] = own;
        if (!of) return null;
        const all = own.flatMap((s) => s.durations.flatMap((d) => [d.lowest, d.highest]));
        const least = panel === "level" ? Math.min(...all) : 0;
        const most = Math.max(...all, least + (panel === "level" ? 0.05 : 1e-6));
        const room = 0.06 * (most - least);
        const [top, foot] = [k * each + TOP, (k + 1) * each - 6];
        const low = panel === "level" ? least - room : 0;
        const y = (v: number) => foot - ((v - low) / (most + room - low)) * (foot - top);
        return (
          <g key={panel}>
            <text x={LEFT} y={top - 5} fontSize={11} fontWeight={600}>
              {of.word}, {unitOf(of.quantity)}; {storm?.row}
            </text>
            {marksOf(low, most + room, Math.max(each / 32, 2), of.quantity).map((v) => (
              <g key={v}>
                <line x1={LEFT} x2={width - RIGHT} y1={y(v)} y2={y(v)} stroke="var(--color-rule)" />
                <text x={LEFT - 5} y={y(v) + 4} fontSize={10.5} textAnchor="end" className="figure">
                  {show(v, of.quantity, panel === "level" ? 2 : undefined)}
                </text>
              </g>
            ))}
            {own.map((one) =>
              one.durations.map((d) => {
                const at = x(d.duration, one.element);
                const boxed = Object.keys(d.peaks).length >= BOXES;
                return (
                  <g key={`${one.element}/${d.duration}`}>
                    {boxed && (
                      <SpreadBox
                        of={d}
                        at={at}
                        half={half}
                        y={y}
                        quantity={one.quantity}
                        name={name(one.element)}
                        fill={FILLS[(places.get(one.element) ?? 0) % FILLS.length] ?? ""}
                      />
                    )}
                    {Object.entries(d.peaks).map(([key, value]) => {
                      const picked = key === cursor.storm;
                      const told = answer?.storms.find((s) => s.key === key);
                      if (boxed && !picked) return null;
                      return (
                        <g key={key} className="cursor-pointer" onClick={() => point({ storm: key })}>
                          <title>{`${name(one.element)}, ${told?.label}: ${show(value, one.quantity)}`}</title>
                          <circle
                            cx={at}
                            cy={y(value)}
                            r={3.2}
                            fill={told?.season === "summer" ? "var(--color-hi)" : "var(--color-water5)"}
                            stroke="var(--color-water5)"
                          />
                          {picked && (
                            <circle
                              cx={at}
                              cy={y(value)}
                              r={6}
                              fill="none"
                              stroke="var(--color-ink)"
                              strokeWidth={1.5}
                            />
                          )}
                        </g>
                      );
                    })}
                    {one.critical?.duration === d.duration && many === 1 && (
                      <text x={at} y={y(d.highest) - 9} fontSize={10.5} textAnchor="middle" fontWeight={600}>
                        critical by mean
                      </text>
                    )}
                  </g>
                );
              }),
            )}
            <line x1={LEFT} x2={width - RIGHT} y1={foot} y2={foot} stroke="var(--color-ink)" />
          </g>
        );
      })}
      {durations.map((d, i) => (
        <text key={d} x={LEFT + (i + 0.5) * wide} y={height - 9} fontSize={10.5} className="figure" textAnchor="middle">
          {d}
        </text>
      ))}
      <text x={LEFT - 8} y={height - 9} fontSize={10.5} textAnchor="end" fill="var(--color-ink2)">
        min
      </text>
    </svg>
  );
}

import { useQuery } from "@tanstack/react-query";
import { api, call } from "../../api/client";
import type { components } from "../../api/schema";
import { useResults } from "../../document/results";
import { useProject } from "../../document/store";
import { spillOf } from "../../document/types";
import type { Quantity } from "../../document/units";
import { peakReadings, type Readings } from "./readings";

type Measure = components["schemas"]["SpreadOut"]["measure"];

export const MEASURES: Record<Measure, { word: string; quantity: Quantity; of: "nodes" | "links" }> = {
  level: { word: "highest level", quantity: "level", of: "nodes" },
  flooded: { word: "flood volume", quantity: "volume", of: "nodes" },
  flow: { word: "peak flow", quantity: "flow", of: "links" },
  speed: { word: "highest velocity", quantity: "speed", of: "links" },
  outflow: { word: "peak outflow", quantity: "flow", of: "nodes" },
};

/** What the matrix shows: null for margins, else a measure of the picked element or of the worst of all. */
export type Asked = { measure: Measure; own: boolean } | null;

/** The figures of a measure in every storm, and where each is; null while margins are asked or nothing is in. */
export function useMeasure(asked: Asked): { readings: Readings; where: (storm: string) => string | null } | null {
  const { id, option, answer, network, cursor } = useProject();
  const { of, still } = useResults();
  const fits = asked?.own ? elementOf(asked.measure, cursor.element) : null;
  function elementOf(measure: Measure, element: string | null) {
    const own = network?.[MEASURES[measure].of][element ?? ""];
    if (!own) return null;
    const outfall = own.kind === "outfall";
    return (measure === "outflow") === outfall || MEASURES[measure].of === "links" ? element : null;
  }
  const { data } = useQuery({
    queryKey: ["peaks", id, option, asked?.measure, fits, ...of],
    enabled: !!id && asked !== null && (!asked.own || fits !== null) && still,
    placeholderData: (old) => old,
    queryFn: () =>
      call(
        api.GET("/api/projects/{project_id}/options/{option}/peaks", {
          params: {
            path: { project_id: id ?? "", option },
            query: { measure: asked?.measure ?? "level", ...(fits ? { element: fits } : {}) },
          },
        }),
      ),
  });
  if (!data || !asked || !network || (asked.own && !fits)) return null;
  const { word, quantity } = MEASURES[asked.measure];
  const limited = Object.fromEntries(
    Object.entries(data).map(([key, peak]) => {
      const node = network.nodes[peak.element];
      const bounded = asked.measure === "level" && node && node.kind !== "outfall";
      return [
        key,
        { value: peak.value, ...(bounded ? { limit: spillOf(node), scale: spillOf(node) - node.invert } : {}) },
      ];
    }),
  );
  return {
    readings: peakReadings(word, limited, quantity, answer?.storms ?? []),
    where: (storm) => data[storm]?.element ?? null,
  };
}

/** Chooses between margins and measures, and between the picked element and the worst of all. */
export function MeasureChoice({ asked, ask }: { asked: Asked; ask: (asked: Asked) => void }) {
  const { network, cursor } = useProject();
  const element = network?.nodes[cursor.element ?? ""] ?? network?.links[cursor.element ?? ""];
  return (
    <span className="flex items-baseline gap-2">
      <select
        className="border-b border-ink3 bg-transparent font-semibold"
        aria-label="what the matrix shows"
        value={asked?.measure ?? ""}
        onChange={(event) =>
          ask(event.target.value ? { measure: event.target.value as Measure, own: asked?.own ?? false } : null)
        }
        data-testid="matrix-measure"
      >
        <option value="">margin of a rule</option>
        {Object.entries(MEASURES).map(([key, { word }]) => (
          <option key={key} value={key}>
            {word}
          </option>
        ))}
      </select>
      {asked && (
        <select
          className="border-b border-ink3 bg-transparent"
          aria-label="of which element"
          value={asked.own ? "own" : "all"}
          onChange={(event) => ask({ ...asked, own: event.target.value === "own" })}
          data-testid="matrix-element"
        >
          <option value="all">of the worst of all</option>
          <option value="own">of the picked {element ? element.name : "element"}</option>
        </select>
      )}
    </span>
  );
}

/** Which cell governs, where, and how much. */
export function Governing({ found }: { found: NonNullable<ReturnType<typeof useMeasure>> }) {
  const { answer, network, point } = useProject();
  const key = found.readings.governs;
  const reading = found.readings.of.get(key ?? "");
  if (!key || !reading) return null;
  const where = found.where(key);
  const name = network?.nodes[where ?? ""]?.name ?? network?.links[where ?? ""]?.name ?? "";
  return (
    <button
      type="button"
      className="textlink"
      onClick={() => point({ storm: key, ...(where ? { element: where } : {}) })}
      data-testid="matrix-governs"
    >
      {answer?.storms.find((s) => s.key === key)?.label}: {name} {reading.text}
    </button>
  );
}

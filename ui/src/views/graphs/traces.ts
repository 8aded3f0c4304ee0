import { useQuery } from "@tanstack/react-query";
import { tableFromIPC, type Vector } from "apache-arrow";
import type { StormInfo } from "../../api/client";
import { Problem } from "../../api/client";
import { between, frameAt } from "../../document/series";
import { useProject } from "../../document/store";
import type { Drawn, Graph } from "../../document/types";
import type { Quantity } from "../../document/units";

/** A quantity of an element in a storm at times (s), straight between them. tolerance: m, of levels between. */
export type Trace = {
  storm: string;
  element: string;
  quantity: Drawn;
  tolerance: number;
  /** Name of the other option that it is of, drawn beside the one that is looked at. */
  beside?: string;
  times: Float32Array;
  values: Float32Array;
};

export const DRAWN: Record<Drawn, { word: string; quantity: Quantity }> = {
  flow: { word: "flow", quantity: "flow" },
  level: { word: "level", quantity: "level" },
  depth: { word: "depth", quantity: "length" },
  speed: { word: "velocity", quantity: "speed" },
  volume: { word: "volume", quantity: "volume" },
  fill: { word: "fill", quantity: "share" },
  entering: { word: "inflow of stores", quantity: "flow" },
  leaving: { word: "outflow of stores", quantity: "flow" },
};

/** Storms that a graph shows, the picked one first. */
export function stormsOf(storms: StormInfo[], picked: string | null, which: Graph["storms"]): string[] {
  const own = storms.find((s) => s.key === picked);
  if (!own) return [];
  const like = (s: StormInfo) =>
    which === "all" ||
    (which !== "picked" && s.row === own.row && !s.given && (which === "row" || s.duration === own.duration));
  return [own.key, ...storms.filter((s) => s.key !== own.key && s.state === "in" && like(s)).map((s) => s.key)];
}

/** Traces of the picked elements as the graph's look asks; null until they are in. of : another option. */
export function useTraces(elements: string[], quantities: Drawn[], storms: string[], of?: string) {
  const { id, option: own, answer } = useProject();
  const option = of ?? own;
  // what another option has computed is for the server to say
  const ready = of !== undefined || storms.every((key) => answer?.storms.find((s) => s.key === key)?.state === "in");
  return useQuery({
    queryKey: ["traces", id, option, answer?.revision, elements, quantities, storms],
    enabled: !!id && ready && quantities.length > 0 && storms.length > 0 && elements.length > 0,
    placeholderData: (old) => old,
    retry: false,
    queryFn: async () => {
      const asked = new URLSearchParams();
      for (const element of elements) asked.append("element", element);
      for (const quantity of quantities) asked.append("quantity", quantity);
      for (const storm of storms) asked.append("storm", storm);
      const response = await fetch(`/api/projects/${id}/options/${option}/traces?${asked}`);
      if (!response.ok) {
        const told = (await response.json().catch(() => ({}))) as { title?: string; detail?: string };
        throw new Problem(response.status, told.title ?? "these graphs cannot be drawn", told.detail);
      }
      return readTraces(await response.arrayBuffer());
    },
  });
}

export function readTraces(buffer: ArrayBuffer): Trace[] {
  const table = tableFromIPC(new Uint8Array(buffer));
  const cell = <T>(name: string, k: number) => table.getChild(name)?.get(k) as T;
  return Array.from({ length: table.numRows }, (_, k) => ({
    storm: cell<string>("storm", k),
    element: cell<string>("element", k),
    quantity: cell<Drawn>("quantity", k),
    tolerance: cell<number>("tolerance", k),
    times: cell<Vector>("times", k).toArray() as Float32Array,
    values: cell<Vector>("values", k).toArray() as Float32Array,
  }));
}

/** The same elements and storms of another option, drawn beside; nothing while none is chosen. */
export function useBeside(elements: string[], quantities: Drawn[], storms: string[], other: string) {
  const { project } = useProject();
  const option = project?.options[other];
  const there = option ? elements.filter((id) => option.network.nodes[id] || option.network.links[id]) : [];
  const { data, error } = useTraces(there, quantities, storms, other || undefined);
  const traces: Trace[] = option ? (data ?? []).map((trace) => ({ ...trace, beside: option.name })) : [];
  return { traces, error: option ? error : null };
}

/** How far apart the moments of traces lie, and how far straight lines between them may miss a level. */
export function interval(traces: Trace[]): { least: number; most: number; tolerance: number } {
  let least = Number.POSITIVE_INFINITY;
  let most = 0;
  for (const { times } of traces)
    for (let k = 1; k < times.length; k++) {
      const apart = (times[k] as number) - (times[k - 1] as number);
      least = Math.min(least, apart);
      most = Math.max(most, apart);
    }
  return { least, most, tolerance: Math.max(0, ...traces.map((t) => t.tolerance)) };
}

/** Value at a moment, between frames; that of the last frame after it. */
export function valueAt(trace: Trace, moment: number): number {
  return between(trace.values, frameAt(trace.times, moment));
}

import { useQuery } from "@tanstack/react-query";
import { api, call } from "../../api/client";
import type { components } from "../../api/schema";
import { useResults } from "../../document/results";
import { useProject } from "../../document/store";

export type Found = components["schemas"]["ElementsOut"];

/** Every element under a criterion, by its place among the verdicts; null until it is known. */
export function useRuleElements(place: number): Found | null {
  const { id, option, answer } = useProject();
  const { of, still } = useResults();
  const { data } = useQuery({
    queryKey: ["rule-elements", id, option, place, ...of],
    enabled: !!id && still && place < (answer?.verdicts.length ?? 0),
    placeholderData: (old) => old,
    queryFn: () =>
      call(
        api.GET("/api/projects/{project_id}/options/{option}/verdicts/{place}/elements", {
          params: { path: { project_id: id ?? "", option, place } },
        }),
      ),
  });
  return data ?? null;
}

export type Flags = ReadonlyMap<string, "fails" | "tight">;

/** Elements that break the picked rule, or nearly do. */
export function flagsOf(found: Found | null): Flags {
  const flags = new Map<string, "fails" | "tight">();
  for (const { element, state } of found?.elements ?? [])
    if (state === "fails" || state === "tight") flags.set(element, state);
  return flags;
}

import { useQuery } from "@tanstack/react-query";
import { api, call } from "../api/client";
import type { components } from "../api/schema";
import { useProject } from "./store";
import { type Basin, drawnAs } from "./types";

export type Pond = components["schemas"]["PondOut"];

/** Ponds with an outline, by id: their edges on the plan and, where a terrain is known, how they lie in it. */
export function usePonds(): Record<string, Pond> | null {
  const { id, option, revision, network } = useProject();
  const some = Object.values(network?.nodes ?? {}).some((node) => node.kind === "basin");
  const { data } = useQuery({
    queryKey: ["ponds", id, option, revision],
    enabled: !!id && some,
    placeholderData: (old) => old,
    queryFn: () =>
      call(
        api.GET("/api/projects/{project_id}/options/{option}/ponds", {
          params: { path: { project_id: id ?? "", option } },
        }),
      ) as Promise<Record<string, Pond>>,
  });
  return some ? (data ?? null) : null;
}

/** Says that the other edge of a pond is what is drawn: the pond stays as it is, where that edge is known. */
export function useRedrawn(id: string, basin: Basin) {
  const { edit, optionPath } = useProject();
  return (at: "base" | "rim", edge: number[][] | undefined) => {
    if (at === drawnAs(basin) || !edge || edge.length < 3) return;
    const path = `${optionPath}/nodes/${id}`;
    const corners = edge.map((corner) => corner.map((v) => Math.round(v * 1000) / 1000));
    void edit([
      { op: "replace", path: `${path}/${at === "base" ? "rim" : "base"}`, value: [] },
      { op: "replace", path: `${path}/${at}`, value: corners },
    ]);
  };
}

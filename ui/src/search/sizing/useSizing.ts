import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { api, call } from "../../api/client";
import type { components } from "../../api/schema";
import { useProject } from "../../document/store";

export type Asked = Omit<components["schemas"]["SizingIn"], "pipes">;
export type Designs = components["schemas"]["SizingOut"];
export type Design = components["schemas"]["DesignOut"];
export type Laid = components["schemas"]["SizedPipe"];
export type Aim = "excavation" | "diameter" | "cost";

export const AIMS: Record<Aim, string> = {
  excavation: "Least excavation",
  diameter: "Least diameter",
  cost: "Least cost",
};

/** The pipes as they lie and as each aim would have them, by the rules that the project keeps. */
export function useSizing(pipes: string[], asked: Asked) {
  const { id, option, revision } = useProject();
  return useQuery({
    queryKey: ["sizing", id, option, revision, pipes, asked],
    enabled: !!id,
    placeholderData: keepPreviousData,
    retry: false,
    queryFn: () =>
      call(
        api.POST("/api/projects/{project_id}/options/{option}/sizing", {
          params: { path: { project_id: id ?? "", option } },
          body: { ...asked, pipes },
        }),
      ) as Promise<Designs>,
  });
}

import { useQuery } from "@tanstack/react-query";
import { api, call } from "../api/client";
import { useProject } from "../document/store";

/** What ran off the site before the works in the picked storm; null where the rule does not permit it by a model. */
export function useBefore(place: number): { times: number[]; flow: number[] } | null {
  const { id, option, project, answer, cursor } = useProject();
  const rule = project?.brief.rules[place];
  const asked = rule?.kind === "outflow" && rule.by === "model" && !!cursor.storm;
  const { data } = useQuery({
    queryKey: ["before", id, option, place, cursor.storm, answer?.revision],
    enabled: !!id && asked,
    retry: false,
    queryFn: () =>
      call(
        api.GET("/api/projects/{project_id}/options/{option}/permits/{rule}/before/{storm}", {
          params: { path: { project_id: id ?? "", option, rule: place, storm: cursor.storm ?? "" } },
        }),
      ),
  });
  return asked ? (data ?? null) : null;
}

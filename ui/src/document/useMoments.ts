import { useQuery } from "@tanstack/react-query";
import { api, call } from "../api/client";
import { useResults } from "./results";
import { useProject } from "./store";

/** What happened when in the picked storm; null while it is not in. */
export function useMoments() {
  const { id, option, answer, cursor } = useProject();
  const { still } = useResults();
  const known = answer?.storms.find((s) => s.key === cursor.storm)?.state === "in";
  const { data } = useQuery({
    queryKey: ["moments", id, option, cursor.storm, answer?.revision],
    enabled: !!id && known && still,
    queryFn: () =>
      call(
        api.GET("/api/projects/{project_id}/options/{option}/storms/{storm}/moments", {
          params: { path: { project_id: id ?? "", option, storm: cursor.storm ?? "" } },
        }),
      ),
  });
  return data ?? null;
}

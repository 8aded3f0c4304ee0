import { useQuery } from "@tanstack/react-query";
import { api, call } from "../../api/client";
import { useResults } from "../../document/results";
import { useProject } from "../../document/store";
import type { Statistic } from "../../fields/StatisticChoice";
import type { RowResults } from "./elementResults";

export type Over = "periods" | "all" | "row" | "duration" | "storm";

/** What every element does over the storms that are asked for; null until it is known. */
export function useElementResults(
  over: Over,
  of: string,
  by: Statistic = "highest",
  wanted = true,
): RowResults[] | null {
  const { id, option } = useProject();
  const { of: results, still } = useResults();
  const { data } = useQuery({
    queryKey: ["results", id, option, over, of, by, ...results],
    enabled: wanted && !!id && still && (over === "periods" || over === "all" || of !== ""),
    placeholderData: (old) => old,
    queryFn: () =>
      call(
        api.GET("/api/projects/{project_id}/options/{option}/results", {
          params: { path: { project_id: id ?? "", option }, query: { over, of, by } },
        }),
      ),
  });
  return data ?? null;
}

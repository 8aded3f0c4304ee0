import { useQueries } from "@tanstack/react-query";
import { useState } from "react";
import { api, call } from "../api/client";
import { useProject } from "../document/store";
import { percentOf } from "../document/units";
import type { Search } from "../search/useSearch";

type Asked = { rain: number; creep: number; search: string; option: string };
/** A column: the option that is looked at with more rain or more paved ground. */
export type WhatIf = { key: string; label: string; found: Search | null; why: string };

const percent = (share: number) => `${share > 0 ? "+" : ""}${percentOf(share)}`;

/** Suppositions that stand as columns beside the options; they are computed and change nothing. */
export function useWhatIfs() {
  const { id, option, say } = useProject();
  const [all, setAll] = useState<Asked[]>([]);
  const own = all.filter((one) => one.option === option);
  const answers = useQueries({
    queries: own.map((one) => ({
      queryKey: ["search", id, option, one.search],
      retry: false,
      queryFn: () =>
        call(
          api.GET("/api/projects/{project_id}/options/{option}/searches/{search}", {
            params: { path: { project_id: id ?? "", option, search: one.search } },
          }),
        ) as Promise<Search>,
      refetchInterval: (query: { state: { data?: Search | undefined } }) =>
        query.state.data && query.state.data.state !== "running" ? 5000 : 400,
    })),
  });
  const add = async (rain: number, creep: number) => {
    try {
      const begun = (await call(
        api.POST("/api/projects/{project_id}/options/{option}/searches/what-if", {
          params: { path: { project_id: id ?? "", option } },
          body: { rain, creep },
        }),
      )) as Search;
      const rest = all.filter((one) => one.option !== option || one.rain !== rain || one.creep !== creep);
      setAll([...rest, { rain, creep, search: begun.id, option }]);
    } catch (error) {
      say(error instanceof Error ? error.message : String(error));
    }
  };
  const columns = own.map((one, k): WhatIf => {
    const found = answers[k]?.data ?? null;
    const why = found?.problem;
    return {
      key: one.search,
      label: [one.rain ? `${percent(one.rain)} rain` : "", one.creep ? `${percent(one.creep)} paved ground` : ""]
        .filter(Boolean)
        .join(", "),
      found,
      why: answers[k]?.error?.message ?? (why ? `${why.element}, ${why.field}: ${why.problem}` : ""),
    };
  });
  return { columns, add, drop: (key: string) => setAll(all.filter((one) => one.search !== key)) };
}

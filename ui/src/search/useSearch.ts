import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, call } from "../api/client";
import type { components } from "../api/schema";
import { useProject } from "../document/store";

export type Search = components["schemas"]["SearchOut"];
type Kind = Search["kind"];
export type Body = {
  fit: components["schemas"]["FitIn"];
  "single-changes": components["schemas"]["SingleChangeIn"];
  repair: components["schemas"]["RepairIn"];
  capacity: components["schemas"]["LoadIn"];
  "what-if": components["schemas"]["WhatIfIn"];
};

const PACE = 350; // ms between looks while it goes on

/** A search that runs on the server: begun, looked at while it goes on, stopped. It changes nothing by itself. */
export function useSearch<K extends Kind>(kind: K) {
  const { id: project_id, option } = useProject();
  const [begun, setBegun] = useState<{ search: string; option: string } | null>(null);
  const search = begun?.option === option ? begun.search : null; // another option has searches of its own
  const [refused, setRefused] = useState<string | null>(null);
  const at = { project_id: project_id ?? "", option };
  const { data, refetch } = useQuery({
    queryKey: ["search", project_id, option, search],
    enabled: search !== null,
    retry: false,
    queryFn: () =>
      call(
        api.GET("/api/projects/{project_id}/options/{option}/searches/{search}", {
          params: { path: { ...at, search: search ?? "" } },
        }),
      ) as Promise<Search>,
    refetchInterval: (query) => (query.state.data && query.state.data.state !== "running" ? false : PACE),
  });
  const begin = async (body: Body[K]) => {
    setRefused(null);
    try {
      const path = `/api/projects/{project_id}/options/{option}/searches/${kind}` as const;
      const { id } = (await call(
        api.POST(path as "/api/projects/{project_id}/options/{option}/searches/repair", {
          params: { path: at },
          body: body as Body["repair"],
        }),
      )) as Search;
      setBegun({ search: id, option });
    } catch (error) {
      setBegun(null);
      setRefused(error instanceof Error ? error.message : String(error));
    }
  };
  const stop = async () => {
    if (search === null) return;
    await call(
      api.DELETE("/api/projects/{project_id}/options/{option}/searches/{search}", {
        params: { path: { ...at, search } },
      }),
    );
    await refetch();
  };
  const found = search !== null && data?.id === search ? data : null;
  const why = found?.problem;
  return {
    found,
    running: search !== null && (found === null || found.state === "running"),
    problem: refused ?? (why ? `${why.element}, ${why.field}: ${why.problem}; ${why.remedy}` : null),
    begin,
    stop,
  };
}

import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { api, call } from "../api/client";
import type { components } from "../api/schema";
import { useProject } from "../document/store";

export type Report = components["schemas"]["ReportOut"];

const PACE = 120; // ms between looks while it is made
const STILL = 120; // ms without an edit before it is made again

/** The report of a layout as it would be printed now; made anew after each change of anything that it tells. */
export function useReport(layout: string | null, incomplete: boolean) {
  const { id: project_id, option, revision, answer } = useProject();
  const [begun, setBegun] = useState<string | null>(null);
  const [refused, setRefused] = useState<string | null>(null);
  const [stopped, setStopped] = useState(false);
  const at = { project_id: project_id ?? "", option };
  const settled = answer?.state === "settled" || answer?.state === "part";
  // what of an answer a report tells: how its rules fare, and what the grid is worth
  const told = answer
    ? `${answer.overall.said} ${answer.overall.missing} ${answer.worth.checked} ${answer.worth.refined}`
    : "";
  const [again, setAgain] = useState(0);
  // biome-ignore lint/correctness/useExhaustiveDependencies: a new revision or answer asks for a new report
  useEffect(() => {
    if (!project_id || layout === null || !settled) return;
    const waiting = setTimeout(async () => {
      setStopped(false);
      try {
        const made = (await call(
          api.POST("/api/projects/{project_id}/options/{option}/reports", {
            params: { path: { project_id, option } },
            body: { layout, incomplete },
          }),
        )) as Report;
        setRefused(null);
        setBegun(made.id);
      } catch (error) {
        setBegun(null);
        setRefused(error instanceof Error ? error.message : String(error));
      }
    }, STILL);
    return () => clearTimeout(waiting);
  }, [project_id, option, revision, told, layout, incomplete, settled, again]);
  const { data, refetch } = useQuery({
    queryKey: ["report", project_id, option, begun],
    enabled: begun !== null,
    retry: false,
    queryFn: () =>
      call(
        api.GET("/api/projects/{project_id}/options/{option}/reports/{report}", {
          params: { path: { ...at, report: begun ?? "" } },
        }),
      ) as Promise<Report>,
    refetchInterval: (query) => (query.state.data && query.state.data.state !== "running" ? false : PACE),
  });
  const found = begun !== null && data?.id === begun ? data : null;
  // the pages that were made last stay in sight while new ones are made
  const [shown, setShown] = useState<Report | null>(null);
  useEffect(() => {
    if (found?.state === "done") setShown(found);
  }, [found]);
  const stop = async () => {
    if (begun === null) return;
    setStopped(true);
    await call(
      api.DELETE("/api/projects/{project_id}/options/{option}/reports/{report}", {
        params: { path: { ...at, report: begun } },
      }),
    );
    await refetch();
  };
  const why = found?.problem;
  return {
    shown,
    making: begun !== null && (found === null || found.state === "running") ? (found ?? null) : null,
    running: begun !== null && (found === null || found.state === "running"),
    stopped: stopped || found?.state === "stopped",
    problem: refused ?? (why ? `${why.element}, ${why.field}: ${why.problem}; ${why.remedy}` : null),
    stop,
    makeAgain: () => setAgain((n) => n + 1),
    pageUrl: (page: number, wide: number) =>
      `/api/projects/${project_id}/options/${option}/reports/${shown?.id}/pages/${page}.png?wide=${wide}`,
  };
}

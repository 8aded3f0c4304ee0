import { useQuery } from "@tanstack/react-query";
import { useMemo } from "react";
import { api, call } from "../../api/client";
import type { components } from "../../api/schema";
import { AlongSeries, type Station } from "../../document/along";
import { useResults } from "../../document/results";
import { useProject } from "../../document/store";

/** The highest water of a conduit over all storms, and by return period. */
export type Highest = {
  all: (id: string) => Station[];
  rows: Record<string, (id: string) => Station[]>;
};

/** What stands along the conduits of a run: in the picked storm over time, and at its highest over all. */
export type Along = { storm: AlongSeries | null; highest: Highest | null };

const paired = (chainage: number[] | undefined, levels: number[] | undefined): Station[] =>
  (chainage ?? []).flatMap((at, k): Station[] => (levels?.[k] === undefined ? [] : [[at, levels[k]]]));

function highestOf(found: components["schemas"]["Along"]): Highest {
  const of = (levels: Record<string, number[]>) => (id: string) => paired(found.chainage[id], levels[id]);
  return {
    all: of(found.highest),
    rows: Object.fromEntries(Object.entries(found.rows).map(([row, levels]) => [row, of(levels)])),
  };
}

/** Read anew where the inputs change; what belongs to other inputs than the series is not shown. */
export function useAlong(path: string[]): Along {
  const { id, option, answer, cursor, series, seriesOf, fingerprint, network } = useProject();
  const { of: results, still } = useResults();
  const link = useMemo(() => path.filter((one) => network?.links[one]), [path, network]);
  const { storm } = cursor;
  const current = seriesOf?.storm === storm && seriesOf?.inputs === fingerprint;
  const of = link.join();
  const result = answer?.storms.find((one) => one.key === storm)?.result;
  const where = { project_id: id ?? "", option };
  const { data: content } = useQuery({
    queryKey: ["along", id, option, storm, of, result],
    enabled: !!id && current && !!series && !!result && link.length > 0,
    staleTime: Number.POSITIVE_INFINITY,
    // until the storm is in anew, what it was on the same run: as the rest of the water that is shown
    placeholderData: (old, query) => (query?.queryKey[3] === storm && query?.queryKey[4] === of ? old : undefined),
    queryFn: () =>
      call(
        api.GET("/api/projects/{project_id}/options/{option}/storms/{storm}/profile", {
          params: { path: { ...where, storm: storm ?? "" }, query: { link } },
          parseAs: "arrayBuffer",
        }),
      ) as unknown as Promise<ArrayBuffer>,
  });
  const { data: highest } = useQuery({
    queryKey: ["highest", id, option, of, ...results],
    placeholderData: (old, query) => (query?.queryKey[3] === of ? old : undefined),
    enabled: !!id && still && answer?.state === "settled" && link.length > 0,
    queryFn: () =>
      call(
        api.GET("/api/projects/{project_id}/options/{option}/highest", {
          params: { path: where, query: { link } },
        }),
      ),
  });
  return useMemo(
    () => ({ storm: content ? new AlongSeries(content) : null, highest: highest ? highestOf(highest) : null }),
    [content, highest],
  );
}

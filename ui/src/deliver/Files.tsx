import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, call } from "../api/client";
import type { components } from "../api/schema";
import { useProject } from "../document/store";

type FileInfo = components["schemas"]["FileOut"];
const FIRST = ["report.pdf", "workbook.xlsx", "results.geojson", "madidus.json"];

/** What can be handed over: each file alone, or those that are ticked in one archive with a manifest. */
export function Files({ layout, selection }: { layout: string; selection: string }) {
  const { id, option, project, answer } = useProject();
  const [picked, setPicked] = useState(new Set(FIRST));
  const [incomplete, setIncomplete] = useState(false);
  const { data } = useQuery({
    queryKey: ["files", id, option],
    enabled: id !== null,
    staleTime: Number.POSITIVE_INFINITY,
    queryFn: () =>
      call(
        api.GET("/api/projects/{project_id}/options/{option}/files", {
          params: { path: { project_id: id ?? "", option } },
        }),
      ) as Promise<FileInfo[]>,
  });
  const missing = answer?.overall.missing ?? "";
  const base = `/api/projects/${id}/options/${option}`;
  const query = (names: string[], results: boolean) => {
    const asked = new URLSearchParams();
    for (const name of names) asked.append("name", name);
    if (results && layout) asked.set("layout", layout);
    if (results && selection) asked.set("selection", selection);
    if (results && missing) asked.set("incomplete", "true");
    return asked.size ? `?${asked}` : "";
  };
  const placed = (file: FileInfo) => !file.grid || Boolean(project?.grid);
  const ready = (file: FileInfo) => placed(file) && (!file.results || !missing || incomplete);
  const chosen = (data ?? []).filter((file) => picked.has(file.name) && ready(file));
  return (
    <>
      <p className="flex items-baseline justify-between">
        <b className="text-[14px] font-semibold">Files</b>
        <span className="text-ink2">{chosen.length} picked</span>
      </p>
      <ul className="border-t border-rule2" data-testid="files">
        {(data ?? []).map((file) => (
          <li key={file.name} className="flex items-start gap-2 border-b border-rule py-[3px]" title={file.holds}>
            <input
              type="checkbox"
              className="mt-[2px]"
              checked={picked.has(file.name)}
              aria-label={`${file.title} goes into the archive`}
              onChange={(event) =>
                setPicked((now) => {
                  const next = new Set(now);
                  if (event.target.checked) next.add(file.name);
                  else next.delete(file.name);
                  return next;
                })
              }
            />
            <b className="w-[104px] shrink-0 font-semibold">{file.title}</b>
            <span className="figure min-w-0 flex-1 truncate text-ink3">{file.name.split(".").pop()}</span>
            {!placed(file) ? (
              <span className="text-ink3" title="name the coordinate system first: Network, Backgrounds">
                no grid
              </span>
            ) : !ready(file) ? (
              <span className="text-ochre-ink">see below</span>
            ) : (
              <a
                className="textlink"
                href={`${base}/files/${file.name}${query([], file.results)}`}
                download
                data-testid={`get-${file.name}`}
              >
                {missing && file.results ? "take, incomplete" : "take"}
              </a>
            )}
          </li>
        ))}
      </ul>
      {missing && (
        <label className="flex items-baseline gap-2 pt-2 text-ochre-ink">
          <input
            type="checkbox"
            checked={incomplete}
            onChange={(event) => setIncomplete(event.target.checked)}
            data-testid="incomplete"
          />
          {missing}. What tells of results would not be whole: hand it over all the same, marked as incomplete.
        </label>
      )}
      <p className="pt-2">
        {chosen.length ? (
          <a
            className="block bg-ink px-3 py-[5px] text-center font-semibold text-hi"
            href={`${base}/everything.zip${query(
              chosen.map((file) => file.name),
              true,
            )}`}
            download
            data-testid="everything"
          >
            Write {chosen.length} files as one
          </a>
        ) : (
          <span className="block border border-rule2 px-3 py-[5px] text-center text-ink2" data-testid="nothing-picked">
            {data ? "Nothing is picked that can be written" : "Files are being listed"}
          </span>
        )}
      </p>
    </>
  );
}

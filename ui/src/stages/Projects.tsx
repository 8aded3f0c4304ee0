import { keepPreviousData, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { api, call, type Listed, type ProjectList } from "../api/client";
import { readIn, showMargin } from "../document/units";
import { Gauge } from "../instrument/Gauge";
import { stateOf } from "../primitives/tone";
import { Thumbnail } from "./Thumbnail";

const PAGE = 60;

/** Every project on this machine: a small plan, a gauge for each rule, the worst margin named. */
export function Projects() {
  const client = useQueryClient();
  const navigate = useNavigate();
  const [name, setName] = useState("Untitled site");
  const [problem, setProblem] = useState<string | null>(null);
  const [most, setMost] = useState(PAGE);
  const { data, error } = useQuery({
    queryKey: ["projects", most],
    queryFn: () => call(api.GET("/api/projects", { params: { query: { most } } })) as Promise<ProjectList>,
    placeholderData: keepPreviousData,
  });
  const attempt = async (work: () => Promise<unknown>) => {
    setProblem(null);
    try {
      await work();
    } catch (e) {
      setProblem(e instanceof Error ? e.message : String(e));
    }
    await client.invalidateQueries({ queryKey: ["projects"] });
  };
  const bring = (file: File | undefined) =>
    file &&
    void attempt(async () => {
      let document: Record<string, unknown>;
      try {
        document = JSON.parse(await file.text()) as Record<string, unknown>;
      } catch {
        throw new Error(`${file.name} is not JSON; choose a *.madidus.json file`);
      }
      const made = await call(api.POST("/api/projects/import", { body: document }));
      navigate(`/p/${made.id}/network`);
    });
  return (
    <div className="flex h-full flex-col">
      <header className="flex h-8 shrink-0 items-center gap-3 border-b border-rule2 px-3">
        <svg width={24} height={22} viewBox="0 0 24 22" aria-hidden="true">
          <path d="M6 2h12l-6 7z" fill="var(--color-ink)" />
          <path d="M1 12h22M5 16h14M9 20h6" stroke="var(--color-water4)" strokeWidth={2} />
        </svg>
        <b className="pl-8 text-[16px] font-semibold">Madidus</b>
        <span className="h-4 border-l border-rule2" />
        <h1 className="font-semibold">Projects</h1>
      </header>
      {(problem ?? error) && (
        <p role="alert" className="border-b border-madder bg-madder-tint px-3 py-1" data-testid="notice">
          {problem ?? String(error)}
        </p>
      )}
      <div className="flex min-h-0 flex-1">
        <aside className="w-[300px] shrink-0 border-r border-rule2">
          <div className="border-b border-rule2 p-3">
            <h2 className="pb-2 text-[14px] font-semibold">Blank sheet</h2>
            <label className="flex justify-between gap-2">
              Name
              <input
                className="field !w-44 !text-left !font-sans"
                value={name}
                onChange={(e) => setName(e.target.value)}
              />
            </label>
            <button
              type="button"
              className="mt-3 w-full bg-ink py-1 font-semibold text-hi"
              disabled={!name.trim()}
              onClick={() =>
                void attempt(async () =>
                  navigate(`/p/${(await call(api.POST("/api/projects", { body: { name: name.trim() } }))).id}/network`),
                )
              }
            >
              Begin with a blank sheet
            </button>
          </div>
          <div
            className="p-3"
            onDragOver={(e) => e.preventDefault()}
            onDrop={(e) => {
              e.preventDefault();
              bring(e.dataTransfer.files[0]);
            }}
          >
            <h2 className="pb-2 text-[14px] font-semibold">From a file</h2>
            <label className="block cursor-pointer border border-dashed border-ink bg-hi p-4 focus-within:outline-2">
              <b className="font-semibold">Drop a project file here</b>
              <br />
              <span className="text-ink2">or choose one: *.madidus.json</span>
              <input
                type="file"
                accept=".json"
                className="sr-only"
                data-testid="import"
                onChange={(e) => {
                  bring(e.target.files?.[0]);
                  e.target.value = "";
                }}
              />
            </label>
          </div>
        </aside>
        <main className="min-w-0 flex-1 overflow-auto">
          <p className="border-b border-rule2 px-3 py-2">
            <b className="text-[15px] font-semibold">On this machine</b>{" "}
            <span className="text-ink2">
              {data ? `${data.whole} project${data.whole === 1 ? "" : "s"}` : "looking…"}
            </span>
          </p>
          <div className="grid grid-cols-[repeat(auto-fill,minmax(300px,1fr))]">
            {data?.projects.map((entry) => (
              <Card key={entry.id} entry={entry} attempt={attempt} />
            ))}
          </div>
          {data && data.projects.length < data.whole && (
            <button type="button" className="textlink m-3" onClick={() => setMost(most + PAGE)} data-testid="more">
              show {Math.min(PAGE, data.whole - data.projects.length)} more
            </button>
          )}
          {data?.whole === 0 && (
            <p className="p-6 text-ink3">Nothing here yet: begin with a blank sheet, or bring a file.</p>
          )}
        </main>
      </div>
    </div>
  );
}

const day = (moment: string) =>
  new Date(moment).toLocaleDateString("en-GB", { day: "numeric", month: "short", year: "numeric" });

function Card({ entry, attempt }: { entry: Listed; attempt: (work: () => Promise<unknown>) => Promise<void> }) {
  const { verdict, current } = entry;
  const worst = [...(verdict?.rules ?? [])]
    .filter((rule) => rule.state !== "not judged")
    .sort((a, b) => (a.value ?? 0) / (a.scale || 1) - (b.value ?? 0) / (b.scale || 1))[0];
  // each project of the list is read in its own units
  readIn(entry.units as "metric" | "us", entry.flow_unit);
  const margin = worst ? showMargin(worst.value, worst.unit) : null;
  const path = { params: { path: { project_id: entry.id } } };
  return (
    <article className="border-b border-r border-rule2 p-3" data-testid={`card-${entry.name}`}>
      <p className="flex justify-between gap-2">
        <Link to={`/p/${entry.id}/network`} className="truncate text-[14px] font-semibold">
          {entry.name}
        </Link>
        <span className="shrink-0 text-[11px] text-ink3" title={`opened ${day(entry.opened)}`}>
          {day(entry.changed)}
        </span>
      </p>
      <Link to={`/p/${entry.id}/network`} aria-label={`open ${entry.name}`}>
        <Thumbnail picture={entry.picture} name={entry.name} />
      </Link>
      <p className="flex min-h-4 gap-1">
        {verdict?.rules.map((rule) => (
          <Gauge
            key={rule.name}
            value={rule.value}
            scale={rule.scale}
            state={stateOf(rule)}
            width={44}
            stale={!current}
          />
        ))}
      </p>
      <p className="flex items-baseline gap-3">
        <span className={`figure text-[22px] ${worst?.state === "fails" && current ? "text-madder" : ""}`}>
          {margin?.text ?? "–"}
        </span>
        <span className="text-ink3">{margin?.unit}</span>
        <span>
          <b className="font-semibold">{worst?.name ?? "nothing judged yet"}</b>
          <br />
          <span className={verdict?.state === "fails" && current ? "text-madder" : "text-ink3"} data-testid="said">
            {verdict ? (current ? verdict.said : `before the last changes: ${verdict.said}`) : "not run yet"}
          </span>
        </span>
      </p>
      <p className="mt-1 flex gap-3 border-t border-rule pt-1 text-[11px] text-ink2">
        <span className="mr-auto truncate">
          option {entry.option}
          {entry.options > 1 ? `, one of ${entry.options}` : ""}
          {verdict ? ` · ${verdict.storms} storms` : ""}
        </span>
        <Link className="textlink" to={`/p/${entry.id}/network`}>
          open
        </Link>
        <button
          type="button"
          className="textlink"
          onClick={() => void attempt(() => call(api.POST("/api/projects/{project_id}/duplicate", path)))}
        >
          copy
        </button>
        <a className="textlink" href={`/api/projects/${entry.id}/file`} download>
          export
        </a>
        <button
          type="button"
          className="textlink"
          onClick={() =>
            window.confirm(`Remove ${entry.name} for good? Export it first to keep a copy.`) &&
            void attempt(() => call(api.DELETE("/api/projects/{project_id}", path)))
          }
        >
          remove
        </button>
      </p>
    </article>
  );
}

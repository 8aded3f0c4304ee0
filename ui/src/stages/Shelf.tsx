import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { api, call, type ShelfEntry } from "../api/client";
import { isStore, type Project, shownOption } from "../document/types";
import { readIn, showMargin } from "../document/units";
import { Gauge } from "../instrument/Gauge";
import { stateOf } from "../instrument/tone";

/** Every project on this machine: a small plan, a gauge for each rule, the worst margin named. */
export function Shelf() {
  const client = useQueryClient();
  const navigate = useNavigate();
  const [name, setName] = useState("Untitled site");
  const [problem, setProblem] = useState<string | null>(null);
  const { data, error } = useQuery({
    queryKey: ["shelf"],
    queryFn: () => call(api.GET("/api/projects")),
    refetchInterval: (query) => (query.state.data?.some((p) => p.answer.state === "running") ? 700 : false),
  });
  const attempt = async (work: () => Promise<unknown>) => {
    setProblem(null);
    try {
      await work();
    } catch (e) {
      setProblem(e instanceof Error ? e.message : String(e));
    }
    await client.invalidateQueries({ queryKey: ["shelf"] });
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
            <b className="text-[15px] font-semibold">Shelf</b>{" "}
            <span className="text-ink2">
              {data ? `${data.length} project${data.length === 1 ? "" : "s"}` : "looking…"}
            </span>
          </p>
          <div className="grid grid-cols-[repeat(auto-fill,minmax(300px,1fr))]">
            {data?.map((entry) => (
              <Card key={entry.id} entry={entry as ShelfEntry} attempt={attempt} />
            ))}
          </div>
          {data?.length === 0 && (
            <p className="p-6 text-ink3">Nothing here yet: begin with a blank sheet, or bring a file.</p>
          )}
        </main>
      </div>
    </div>
  );
}

function Card({ entry, attempt }: { entry: ShelfEntry; attempt: (work: () => Promise<unknown>) => Promise<void> }) {
  const project = entry.document as unknown as Project;
  const asked = entry.answer.verdicts.filter((v) => v.asked);
  const worst = [...asked]
    .filter((v) => v.state !== "not judged")
    .sort((a, b) => (a.value ?? 0) / (a.scale || 1) - (b.value ?? 0) / (b.scale || 1))[0];
  const { fails, state, said } = entry.answer.overall;
  readIn(project.units, project.flow_unit); // each project on the shelf is read in its own units
  const margin = worst ? showMargin(worst.value, worst.unit) : null;
  const path = { params: { path: { project_id: entry.id } } };
  return (
    <article className="border-b border-r border-rule2 p-3" data-testid={`card-${entry.name}`}>
      <p className="flex justify-between gap-2">
        <Link to={`/p/${entry.id}/network`} className="truncate text-[14px] font-semibold">
          {entry.name}
        </Link>
        <span className="text-[11px] text-ink3">
          {new Date(entry.opened).toLocaleDateString("en-GB", { day: "numeric", month: "short" })}
        </span>
      </p>
      <Link to={`/p/${entry.id}/network`} aria-label={`open ${entry.name}`}>
        <Thumbnail project={project} />
      </Link>
      <p className="flex gap-1">
        {asked.map((v) => (
          <Gauge
            key={v.name}
            value={v.value}
            scale={v.scale}
            state={stateOf(v)}
            width={44}
            stale={entry.answer.state !== "settled"}
          />
        ))}
      </p>
      <p className="flex items-baseline gap-3">
        <span className={`figure text-[22px] ${worst?.state === "fails" ? "text-madder" : ""}`}>
          {margin?.text ?? "–"}
        </span>
        <span className="text-ink3">{margin?.unit}</span>
        <span>
          <b className="font-semibold">{worst?.name ?? (state === "not judged" ? "nothing judged yet" : "")}</b>
          <br />
          <span className={fails ? "text-madder" : "text-ink3"}>{said}</span>
        </span>
      </p>
      <p className="mt-1 flex gap-3 border-t border-rule pt-1 text-[11px] text-ink2">
        <span className="mr-auto">{entry.answer.storms.length} storms</span>
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

function Thumbnail({ project }: { project: Project }) {
  const { network } = shownOption(project);
  const nodes = Object.values(network.nodes);
  if (nodes.length === 0) {
    return (
      <svg viewBox="0 0 280 110" className="my-2 h-[110px] w-full" role="img" aria-label="empty sheet">
        <path d="M60 40L130 65L210 62" stroke="var(--color-rule2)" strokeDasharray="5 4" fill="none" />
        {[
          [60, 40],
          [130, 65],
          [210, 62],
        ].map(([x, y]) => (
          <circle
            key={x}
            cx={x}
            cy={y}
            r={7}
            fill="var(--color-paper)"
            stroke="var(--color-rule2)"
            strokeDasharray="3 2"
          />
        ))}
      </svg>
    );
  }
  const xs = nodes.map((n) => n.x);
  const ys = nodes.map((n) => n.y);
  const [x0, x1, y0, y1] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)];
  const span = Math.max((x1 - x0) / 270, (y1 - y0) / 100, 0.01);
  const at = (x: number, y: number): [number, number] => [5 + (x - x0) / span, 105 - (y - y0) / span];
  return (
    <svg viewBox="0 0 280 110" className="my-2 h-[110px] w-full" role="img" aria-label={`plan of ${project.name}`}>
      {project.backdrop.map((b) => {
        const key = `${b.kind}-${b.points[0]}`;
        const points = b.points.map(([x, y]) => at(x, y).join(",")).join(" ");
        if (b.kind === "water") return <polygon key={key} points={points} fill="var(--color-water1)" />;
        if (b.kind === "building")
          return (
            <polygon key={key} points={points} fill="var(--color-hi)" stroke="var(--color-rule2)" strokeWidth={0.6} />
          );
        return null;
      })}
      {Object.entries(network.links).map(([id, l]) => {
        const [a, b] = [network.nodes[l.upstream], network.nodes[l.downstream]];
        if (!a || !b) return null;
        const [[ax, ay], [bx, by]] = [at(a.x, a.y), at(b.x, b.y)];
        return <line key={id} x1={ax} y1={ay} x2={bx} y2={by} stroke="var(--color-water4)" strokeWidth={2.4} />;
      })}
      {Object.entries(network.nodes).map(([id, n]) => {
        const [x, y] = at(n.x, n.y);
        return (
          <circle
            key={id}
            cx={x}
            cy={y}
            r={isStore(n) ? 7 : 2.4}
            fill={isStore(n) ? "var(--color-water2)" : "var(--color-hi)"}
            stroke="var(--color-ink)"
          />
        );
      })}
    </svg>
  );
}

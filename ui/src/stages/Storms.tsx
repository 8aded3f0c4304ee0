import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { type Answer, api, call } from "../api/client";
import { useProject } from "../document/store";
import type { RunControl } from "../document/types";
import { clock, show, showBand, unitOf } from "../document/units";
import { qualityOf, wordsOf, worstFirst } from "../inspector/Quality";
import { Tick } from "../primitives/Choice";
import { NumberField } from "../primitives/NumberField";
import { useWidth } from "../primitives/useWidth";
import { orderOf, StormMatrix } from "../views/results/StormMatrix";
import { StormReport } from "./StormReport";

/** The run: progress, the matrix in numbers, and how far each storm can be trusted. */
export function Storms() {
  const { answer, run, runStorm, cancel, point, network, cursor } = useProject();
  const [ref, width] = useWidth<HTMLDivElement>();
  const storms = answer?.storms ?? [];
  const done = storms.filter((s) => s.state === "in").length;
  const worst = worstFirst(storms);
  const toCheck = storms.some((s) => s.beyond.length > 0);
  return (
    <>
      <div className="flex min-w-0 flex-1 flex-col gap-2 overflow-auto p-3">
        <p className="flex items-center gap-3">
          <b className="text-[15px] font-semibold">Run</b>
          <Bar done={done} total={storms.length} />
          <span className="text-ink2">
            {done} of {storms.length} storms in
            {answer?.seconds && answer.state === "settled" ? `, ${answer.seconds.toFixed(1)} s` : ""}
            {answer && answer.kept > 0 ? `, ${answer.kept} kept from earlier runs` : ""}
          </span>
          {answer?.state === "running" && (
            <button type="button" className="border border-ink px-3" onClick={() => void cancel()}>
              Stop, keep the {done}
            </button>
          )}
          {answer?.state === "part" && (
            <button type="button" className="bg-ink px-3 text-hi" onClick={() => void run()}>
              Run {storms.length - done} storms
            </button>
          )}
        </p>
        {answer?.failures.map((f) => (
          <p key={f.key} role="alert" className="border-l-4 border-madder bg-hi px-3 py-1">
            <b className="font-semibold text-madder">{storms.find((s) => s.key === f.key)?.label} failed</b>:{" "}
            {f.element} {f.problem}{" "}
            <button
              type="button"
              className="textlink"
              onClick={() => void runStorm(f.key)}
              data-testid={`again-${f.key}`}
            >
              compute it again
            </button>
          </p>
        ))}
        <p className="text-ink2">
          <b className="text-[15px] font-semibold text-ink">Storms</b> tone and figure:{" "}
          {answer?.verdicts[cursor.rule]?.name}
          {orderOf(answer?.storms ?? [], "above", "below")}
        </p>
        <div ref={ref}>{width > 0 && <StormMatrix width={width} cell={24} numbers />}</div>
        {cursor.storm && <StormReport storm={cursor.storm} />}
        <RunLog />
      </div>
      <aside
        // biome-ignore lint/a11y/noNoninteractiveTabindex: what scrolls must be reachable by keyboard
        tabIndex={0}
        className="w-[440px] shrink-0 overflow-auto border-l border-rule2 p-3"
      >
        <StormEnd />
        <Grid />
        <p>
          <b className="text-[15px] font-semibold">Quality</b>{" "}
          <span className={toCheck ? "font-semibold text-ochre-ink" : "text-ink2"} data-testid="quality">
            {qualityOf(storms)}
          </span>{" "}
          <span className="text-ink3">listed worst first</span>
        </p>
        <table className="mt-1 w-full">
          <thead>
            <tr className="border-b border-ink text-left text-ink3">
              <th className="font-normal">Storm</th>
              <th className="text-right font-normal">Continuity error</th>
              <th className="text-right font-normal">Oscillation {unitOf("sharp")}</th>
              <th className="text-right font-normal">Steps</th>
              <th className="text-right font-normal">Ends</th>
            </tr>
          </thead>
          <tbody>
            {worst.map((s) => (
              <tr
                key={s.key}
                className={`cursor-pointer border-b border-rule ${s.key === cursor.storm ? "bg-hi" : ""}`}
                onClick={() => point({ storm: s.key })}
              >
                <td className="py-[3px]">
                  <b className="font-semibold">{s.label}</b>
                  {s.beyond.map((beyond) => (
                    <span
                      key={`${beyond.kind}/${beyond.element}/${beyond.value}`}
                      className="block text-[11px] text-ochre-ink"
                    >
                      {wordsOf(beyond)}
                    </span>
                  ))}
                </td>
                <td className="figure whitespace-nowrap pl-2 text-right">
                  {s.balance_error?.toExponential(0).replace("-", "−")}
                </td>
                <td className="figure pl-2 text-right">{show(s.oscillation ?? 0, "sharp")}</td>
                <td className="figure pl-2 text-right">{s.steps}</td>
                <td className="figure pl-2 text-right">{clock(s.end_time ?? 0)}</td>
              </tr>
            ))}
          </tbody>
        </table>
        <p className="pt-2 text-[11px] text-ink3">
          Continuity error: water missing, as a share of all handled; to be checked over 0.01 %. Oscillation: the
          largest level change that turned back twice, anywhere in {Object.keys(network?.nodes ?? {}).length} nodes and
          their pipes; to be checked over {show(0.02, "sharp", 0)} {unitOf("sharp")}. To be checked too: a flow that
          oscillates by over 5 % of its peak, a control beyond its curve, a run cut off after 14 days. Solver{" "}
          {answer?.solver}.
        </p>
      </aside>
    </>
  );
}

/** What the last run did, once it is asked for. */
function RunLog() {
  const { id, option, answer } = useProject();
  const [open, setOpen] = useState(false);
  const { data } = useQuery({
    queryKey: ["run log", id, option, answer?.revision, answer?.version],
    enabled: open && !!id,
    placeholderData: (old) => old,
    queryFn: () =>
      call(
        api.GET("/api/projects/{project_id}/options/{option}/run/log", {
          params: { path: { project_id: id ?? "", option } },
        }),
      ),
  });
  const name = (key: string) => answer?.storms.find((s) => s.key === key)?.label ?? "";
  return (
    <details
      className="max-w-[780px] border-t border-ink pt-2"
      onToggle={(event) => setOpen(event.currentTarget.open)}
      data-testid="run-log"
    >
      <summary className="cursor-pointer font-semibold">Log of the run</summary>
      {data?.length === 0 && <p className="text-ink3">Every storm was kept from earlier runs: nothing was computed.</p>}
      <ol>
        {data?.map((line, k) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: lines only follow one another
          <li key={k} className="flex gap-3 border-b border-rule py-[1px]">
            <span className="figure w-16 text-right">{line.at.toFixed(2)} s</span>
            <span className="w-56">{name(line.storm)}</span>
            <span className="text-ink2">{line.what}</span>
          </li>
        ))}
      </ol>
    </details>
  );
}

/** The project's rules for the end of a storm. */
function StormEnd() {
  const { project, edit } = useProject();
  if (!project) return null;
  const set = (field: keyof RunControl) => (value: number | boolean) =>
    void edit([{ op: "add", path: `/run/${field}`, value }]);
  const { receded, lag, half_drain } = project.run;
  return (
    <details className="mb-2 border-b border-rule pb-2" data-testid="storm-end">
      <summary className="cursor-pointer">
        <b className="font-semibold">A storm ends</b>{" "}
        <span className="text-ink2">
          with rain over, outflows at {show(receded, "share")} % of their rise for {show(lag, "minutes", 0)} min
          {half_drain ? ", stores half drained" : ""}
        </span>
      </summary>
      <NumberField
        label="outflows are back to, of their rise"
        value={receded}
        quantity="share"
        commit={set("receded")}
        testId="receded"
      />
      <NumberField label="and have stayed there for" value={lag} quantity="minutes" commit={set("lag")} testId="lag" />
      <Tick label="stores have half drained, or stand still" value={half_drain} commit={set("half_drain")} />
      <p className="text-[11px] text-ink3">Steps need no choosing: the solver takes what its errors allow.</p>
    </details>
  );
}

/** How finely conduits are cut, and what results stand on. */
function Grid() {
  const { project, answer, edit } = useProject();
  if (!project) return null;
  const set = (spacing: number) => void edit([{ op: "add", path: "/run/spacing", value: spacing }]);
  return (
    <details className="mb-2 border-b border-rule pb-2" data-testid="grid">
      <summary className="cursor-pointer">
        <b className="font-semibold">Grid</b>{" "}
        {answer?.cells && (
          <span className="text-ink2">
            {answer.cells.count} cells of {show(answer.cells.longest, "length")} {unitOf("length")} at most, two at
            least in every conduit
          </span>
        )}
      </summary>
      <NumberField
        label="longest cell of a conduit"
        value={project.run.spacing}
        quantity="length"
        commit={set}
        testId="spacing"
      />
      {answer && <Worth worth={answer.worth} />}
    </details>
  );
}

/** What the grid may have wrong, by the storms that were run on finer cells. */
function Worth({ worth }: { worth: Answer["worth"] }) {
  const { network } = useProject();
  const name = (id: string | undefined) => (id ? (network?.nodes[id] ?? network?.links[id])?.name : "");
  const most = (by: Record<string, number>) => Object.entries(by).sort((a, b) => b[1] - a[1])[0];
  const [level, flow] = [most(worth.level), most(worth.flow)];
  if (!level || !flow)
    return (
      <p className="text-[11px] text-ink3" data-testid="worth">
        {worth.looking ? "being checked on cells half as long …" : "What it is worth is known once all storms are in."}
      </p>
    );
  return (
    <p className="text-[11px] text-ink2" data-testid="worth">
      Levels {showBand(level[1], "m")} at most ({name(level[0])}), flows {showBand(flow[1], "m3/s")} ({name(flow[0])}),
      by {worth.checked} storms that decide, run on cells half as long
      {worth.refined > 0 ? `, ${worth.refined} of them on a quarter` : ""}. Shorter cells make runs longer.
    </p>
  );
}

function Bar({ done, total }: { done: number; total: number }) {
  return (
    <span
      role="progressbar"
      aria-label="storms in"
      aria-valuemin={0}
      aria-valuemax={total}
      aria-valuenow={done}
      className="h-2 w-64 border border-ink"
    >
      <i className="block h-full bg-ink" style={{ width: `${(100 * done) / Math.max(total, 1)}%` }} />
    </span>
  );
}

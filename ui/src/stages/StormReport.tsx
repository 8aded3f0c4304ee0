import { Fragment, useEffect, useState } from "react";
import { api, call } from "../api/client";
import type { components } from "../api/schema";
import { useProject } from "../document/store";
import { clock, percentOf, show, unitOf } from "../document/units";
import { Figure } from "../primitives/Figure";

type Report = components["schemas"]["StormReport"];

/** Where the water of a storm went, how smooth its run was, and the event log. */
export function StormReport({ storm }: { storm: string }) {
  const { id, option, answer, point } = useProject();
  const [report, setReport] = useState<Report | null>(null);
  const label = answer?.storms.find((s) => s.key === storm)?.label;
  const version = answer?.storms.find((s) => s.key === storm)?.state === "in" ? answer.revision : null;
  useEffect(() => {
    if (!id || version === null) return;
    let current = true;
    call(
      api.GET("/api/projects/{project_id}/options/{option}/storms/{storm}/report", {
        params: { path: { project_id: id, option, storm } },
      }),
    )
      .then((found) => current && setReport(found))
      .catch(() => current && setReport(null)); // a storm that has just become stale: the next answer brings it back
    return () => {
      current = false;
    };
  }, [id, storm, version, option]);
  if (!report) return null;
  const volume = (name: string, value: number, note?: string) =>
    value !== 0 && <Figure label={name} value={show(value, "volume")} unit={unitOf("volume")} note={note ?? ""} />;
  return (
    <section
      aria-label="Storm report"
      className="mt-2 grid max-w-[780px] grid-cols-2 gap-x-8 border-t border-ink pt-2"
      data-testid="storm-report"
    >
      <div>
        <p>
          <b className="text-[15px] font-semibold">{label}</b> <span className="text-ink2">where the water went</span>
        </p>
        {volume("Rain on catchments", report.rain.fallen)}
        {volume("on ground that drains nowhere", -report.rain.undrained)}
        {Object.entries(report.rain.lost).map(([name, lost]) => (
          <Fragment key={name}>{volume(`lost: ${name}`, -lost)}</Fragment>
        ))}
        {volume("held on the ground", -report.rain.kept)}
        <div className="border-t border-rule2">{volume("Ran off", report.rain.ran)}</div>
        {volume("entered besides", report.besides, "base flow and inflows")}
        {volume("ran past inlets", -report.passed_by, "never entered")}
        <div className="border-t border-rule2">{volume("Entered the network", report.entered)}</div>
        {volume("stood before", report.before)}
        {Object.entries(report.outfalls).map(([name, left]) => (
          <Fragment key={name}>{volume(`left by ${name}`, -left)}</Fragment>
        ))}
        {volume("lost in floods", -report.lost)}
        {volume("infiltrated", -report.infiltrated)}
        <div className="border-t border-rule2">{volume("Stands at the end", report.after)}</div>
        {report.flooded > 0 && volume("most above covers", report.flooded, "at nodes, each at its worst")}
        <Figure
          label="Continuity error"
          value={report.balance_error.toExponential(0).replace("-", "−")}
          unit=""
          note=""
        />
        <Figure
          label="Level oscillation"
          value={show(report.level_oscillation, "sharp")}
          unit={unitOf("sharp")}
          note={report.level_oscillation_at}
        />
        <Figure
          label="Flow oscillation"
          value={show(report.flow_oscillation, "flow", 2)}
          unit={unitOf("flow")}
          note={report.flow_oscillation_at}
        />
        {report.swings.length > 0 && (
          <details>
            <summary className="cursor-pointer text-ink2">
              {report.swings.length} link{report.swings.length > 1 ? "s" : ""} ranked by share of their own peak
            </summary>
            <ol data-testid="swings">
              {report.swings.map((one) => (
                <li key={one.element} className="flex gap-2 border-b border-rule py-[2px]">
                  <button type="button" className="textlink mr-auto" onClick={() => point({ element: one.element })}>
                    {one.name}
                  </button>
                  <span className="figure">
                    {show(one.flow, "flow", 2)} {unitOf("flow")}
                  </span>
                  <span className="figure w-12 text-right">{percentOf(one.share, 1)}</span>
                </li>
              ))}
            </ol>
          </details>
        )}
        <Figure
          label={`Shortest of ${report.steps} steps`}
          value={report.smallest_step.toFixed(2)}
          unit="s"
          note={`${report.smallest_in}, ${clock(report.smallest_at)}`}
        />
      </div>
      <div>
        <p className="font-semibold">Event log</p>
        {report.events.length === 0 && <p className="text-ink3">nothing flooded, no flap shut, no pump ran</p>}
        <ol>
          {report.events.slice(0, 200).map((event, i) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: events have no other identity
            <li key={i} className="flex gap-2 border-b border-rule py-[2px]">
              <span className="figure">{clock(event.time)}</span>
              <button
                type="button"
                className="textlink"
                onClick={() => point({ element: event.element, moment: event.time })}
              >
                {event.name}
              </button>
              <span
                className={
                  (event.kind === "flood" || event.kind === "over its bank") && event.begins ? "text-madder" : ""
                }
              >
                {event.kind} {event.begins ? "begins" : "ends"}
              </span>
            </li>
          ))}
        </ol>
      </div>
    </section>
  );
}

import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { api, call, type Verdict } from "../api/client";
import { useProject } from "../document/store";
import { show, showMargin, unitOf } from "../document/units";
import { Gauge } from "../instrument/Gauge";
import { against, type Compared, pairedWith } from "../options/compared";
import { Differences } from "../options/Differences";
import { DiffPlan } from "../options/DiffPlan";
import { DiffSection } from "../options/DiffSection";
import { useWhatIfs } from "../options/useWhatIfs";
import { WhatIfForm } from "../options/WhatIfForm";
import { stateOf, TEXT_TONE, WORD } from "../primitives/tone";

/** Options side by side: where they differ, their margins with what governs them, what they are made of. */
export function OptionsStage() {
  const { id, project, revision, answer, option, showOption, sizePipes, edit, cursor } = useProject();
  const navigate = useNavigate();
  const [retired, setRetired] = useState(false);
  const whatIfs = useWhatIfs();
  const { data, refetch } = useQuery({
    queryKey: ["compare", id, revision, answer?.version],
    enabled: !!id,
    placeholderData: (old) => old,
    queryFn: () =>
      call(api.GET("/api/projects/{project_id}/compare", { params: { path: { project_id: id ?? "" } } })) as Promise<
        Compared[]
      >,
    // other options run out of sight: what they reach is looked for while they do
    refetchInterval: (query) => (query.state.data?.some((one) => one.running) ? 1500 : false),
  });
  if (!data) return <p className="p-4 text-ink3">Gathering …</p>;
  const base = data.find((one) => one.option === option) ?? data[0];
  if (!base) return null;
  const shown = data.filter((one) => retired || !one.retired || one === base);
  const run = (one: Compared) =>
    void call(
      api.POST("/api/projects/{project_id}/options/{option}/run", {
        params: { path: { project_id: id ?? "", option: one.option } },
      }),
    ).then(() => refetch());
  // the order is the rank: the best first
  const neighbour = (one: Compared, way: -1 | 1) => shown[shown.indexOf(one) + way];
  const rank = (one: Compared, way: -1 | 1) => {
    const next = neighbour(one, way);
    if (!project || !next) return;
    const order = project.order.filter((other) => other !== one.option);
    order.splice(order.indexOf(next.option) + (way > 0 ? 1 : 0), 0, one.option);
    void edit([{ op: "replace", path: "/order", value: order }]);
  };
  const wide = `${Math.max(240, Math.floor(100 / shown.length))}px`;
  const cell = (one: Compared) => `border-l border-rule2 px-3 align-top ${one === base ? "bg-hi" : ""}`;
  const bills: [string, (one: Compared) => number, (value: number) => string, string][] = [
    ["Storage", (one) => one.bill.storage, (v) => show(v, "volume", 0), unitOf("volume")],
    ["Excavation of pipes", (one) => one.bill.excavation, (v) => show(v, "volume", 0), unitOf("volume")],
    ["Length of pipes", (one) => one.bill.pipes, (v) => show(v, "length", 0), unitOf("length")],
    ["Cost of pipes", (one) => one.bill.cost, (v) => v.toFixed(0), ""],
  ];
  const diameters = [...new Set(shown.flatMap((one) => one.bill.by_diameter.map(([d]) => d)))].sort((a, b) => a - b);
  const lengthOf = (one: Compared, d: number) => one.bill.by_diameter.find(([own]) => own === d)?.[1] ?? 0;
  return (
    <div className="min-w-0 flex-1 overflow-auto" data-testid="options-stage">
      <table className="min-w-full">
        <thead>
          <tr className="border-b border-rule2 text-left align-top">
            <th className="w-[190px] min-w-[170px] px-3 py-2 font-normal">
              <b className="text-[15px] font-semibold">Options</b>
              <p className="text-ink2">faded: the same as {base.name}</p>
              {data.some((one) => one.retired) && (
                <label className="flex items-center gap-1 pt-1">
                  <input type="checkbox" checked={retired} onChange={(event) => setRetired(event.target.checked)} />
                  retired ones too
                </label>
              )}
              <WhatIfForm name={base.name} add={(rain, creep) => void whatIfs.add(rain, creep)} />
            </th>
            {shown.map((one) => (
              <th key={one.option} className={`${cell(one)} py-2 font-normal`} style={{ minWidth: wide }}>
                <p className="flex items-baseline gap-2">
                  <b className="text-[14px] font-semibold">{one.name}</b>
                  {one.retired && <span className="text-ink3">retired</span>}
                  {([-1, 1] as const).map((way) => (
                    <button
                      key={way}
                      type="button"
                      className="px-1 text-ink2 disabled:text-rule2"
                      disabled={!neighbour(one, way)}
                      onClick={() => rank(one, way)}
                      aria-label={`rank ${one.name} ${way < 0 ? "higher" : "lower"}`}
                      title={way < 0 ? "rank it higher" : "rank it lower"}
                      data-testid={`rank-${way < 0 ? "up" : "down"}-${one.name}`}
                    >
                      {way < 0 ? "‹" : "›"}
                    </button>
                  ))}
                  {one === base ? (
                    <span className="ml-auto text-ink2">in every view</span>
                  ) : (
                    <button
                      type="button"
                      className="ml-auto border border-ink px-2"
                      onClick={() => void showOption(one.option)}
                      data-testid={`look-at-${one.name}`}
                    >
                      look at it
                    </button>
                  )}
                </p>
                {one.note && <p className="text-[11px] text-ink2">{one.note}</p>}
                <DiffPlan of={one} base={base} />
                <DiffSection
                  of={one}
                  base={base}
                  picked={
                    [cursor.element, ...one.differences.map(({ element }) => element)].find(
                      (id) => project?.options[one.option]?.network.links[id ?? ""]?.kind === "pipe",
                    ) ?? null
                  }
                />
                <Differences of={one} base={base} />
              </th>
            ))}
            {whatIfs.columns.map((one) => (
              <th key={one.key} className="min-w-[170px] border-l border-rule2 px-3 py-2 align-top font-normal">
                <p className="flex items-baseline gap-2">
                  <b className="text-[14px] font-semibold">{base.name}</b>
                  <button
                    type="button"
                    className="textlink ml-auto"
                    onClick={() => whatIfs.drop(one.key)}
                    aria-label={`take the column ${one.label} away`}
                  >
                    remove
                  </button>
                </p>
                <p data-testid={`what-if-${one.label}`}>what if {one.label}</p>
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          <tr className="border-b border-ink">
            <th className="px-3 py-1 text-left font-semibold">Margin</th>
            {shown.map((one) => (
              <td key={one.option} className={`${cell(one)} py-1 text-[11px] text-ink2`}>
                {one.problem ? (
                  <span className="text-madder">cannot run: {one.problem}</span>
                ) : one.missing ? (
                  <span className="text-ochre-ink">
                    {one.missing}
                    {one.running ? ", running" : ""}{" "}
                    {!one.running && (
                      <button
                        type="button"
                        className="textlink"
                        onClick={() => run(one)}
                        data-testid={`run-${one.name}`}
                      >
                        run it
                      </button>
                    )}
                  </span>
                ) : (
                  "governing storm, element"
                )}
              </td>
            ))}
            {whatIfs.columns.map((one) => (
              <td key={one.key} className="border-l border-rule2 px-3 py-1 align-top text-[11px] text-ink2">
                {one.why ? (
                  <span className="text-madder">cannot run: {one.why}</span>
                ) : one.found?.what_if ? (
                  <>
                    {one.found.what_if.seen} of {one.found.what_if.due} storms
                    {one.found.stale && <span className="text-ochre-ink">, of before the last edit</span>}
                  </>
                ) : one.found?.state === "stopped" ? (
                  "stopped"
                ) : (
                  "running …"
                )}
              </td>
            ))}
          </tr>
          {base.verdicts.map((verdict, k) => (
            <tr key={`${verdict.rule}/${verdict.row}`} className="border-b border-rule">
              <th className="px-3 py-1 text-left font-normal">{verdict.name}</th>
              {shown.map((one) => {
                const own = pairedWith(verdict, one);
                const state = stateOf(own);
                const margin = showMargin(own?.state === "not judged" ? null : own?.value, verdict.unit);
                const same = one !== base && own?.value === verdict.value && own?.storm === verdict.storm;
                return (
                  <td
                    key={one.option}
                    className={`${cell(one)} py-1 ${same ? "opacity-45" : ""}`}
                    data-testid={`margin-${one.name}-${k}`}
                  >
                    <span className="flex items-center gap-2">
                      <span className={`figure w-[74px] text-right text-[15px] ${TEXT_TONE[state]}`}>
                        {margin.text}
                      </span>
                      <span className="w-7 text-[11px] text-ink3">{margin.unit}</span>
                      <Gauge value={own?.value} scale={own?.scale} state={state} />
                      <span className="ml-auto text-right text-[11px] leading-[13px] text-ink2">
                        {own?.state === "not judged" ? own.reason || WORD[state] : one.storms[own?.storm ?? ""]}
                        <br />
                        <b className="font-semibold">{one.names[own?.element ?? ""]}</b>
                      </span>
                    </span>
                  </td>
                );
              })}
              {whatIfs.columns.map((one) => {
                const own = one.found?.what_if?.verdicts.find((v) => v.rule === verdict.rule && v.row === verdict.row);
                const state = stateOf(own as Verdict | undefined);
                const margin = showMargin(own?.state === "not judged" ? null : own?.value, verdict.unit);
                return (
                  <td
                    key={one.key}
                    className={`border-l border-rule2 px-3 py-1 align-top ${one.found?.stale ? "opacity-45" : ""}`}
                    data-testid={`what-if-${one.label}-${k}`}
                  >
                    <span className={`figure text-[15px] ${TEXT_TONE[state]}`}>{margin.text}</span>{" "}
                    <span className="text-[11px] text-ink3">{margin.unit}</span>
                    <span className="block text-[11px] leading-[13px] text-ink2">
                      {own
                        ? own.state === "not judged"
                          ? own.reason
                          : one.found?.what_if?.storms[own.storm ?? ""]
                        : ""}
                    </span>
                  </td>
                );
              })}
            </tr>
          ))}
          <tr className="border-b border-ink">
            <th className="px-3 py-1 text-left font-semibold">Quantity</th>
            {shown.map((one) => (
              <td key={one.option} className={`${cell(one)} py-1 text-right text-[11px] text-ink2`}>
                {one === base ? "" : `against ${base.name}`}
              </td>
            ))}
          </tr>
          {[
            ...bills,
            ...diameters.map((d): (typeof bills)[number] => [
              `Ø ${show(d, "diameter")} ${unitOf("diameter")}`,
              (one) => lengthOf(one, d),
              (v) => show(v, "length", 0),
              unitOf("length"),
            ]),
          ].map(([label, of, told, unit]) => {
            const most = Math.max(...shown.map(of), 1e-9);
            return (
              <tr key={label} className="border-b border-rule">
                <th className="px-3 py-[2px] text-left font-normal">{label}</th>
                {shown.map((one) => (
                  <td key={one.option} className={`${cell(one)} py-[2px]`}>
                    <span className="flex items-center gap-2">
                      <span className="figure w-[74px] text-right">{told(of(one))}</span>
                      <span className="w-7 text-[11px] text-ink3">{unit}</span>
                      <span
                        className="inline-block h-[6px]"
                        style={{ width: 72 * (of(one) / most), background: "var(--color-water4)" }}
                      />
                      <span className="figure ml-auto text-[11px] text-ink2">
                        {against(of(one), of(base), one === base, told)}
                      </span>
                    </span>
                  </td>
                ))}
              </tr>
            );
          })}
          <tr>
            <th className="px-3 py-2 text-left font-semibold">Result</th>
            {shown.map((one) => (
              <td key={one.option} className={`${cell(one)} py-2`} data-testid={`result-${one.name}`}>
                <b className={one.state === "fails" ? "font-semibold text-madder" : "font-semibold"}>
                  {one.overall.said}
                </b>
                {one.bill.unknown.length > 0 && (
                  <p className="text-[11px] text-ochre-ink">
                    not in excavation and cost, the ground at an end is not known: {one.bill.unknown.join(", ")}
                  </p>
                )}
                {one === base && (
                  <p className="pt-1">
                    <button
                      type="button"
                      className="textlink"
                      onClick={() => {
                        sizePipes([]);
                        navigate(`/p/${id}/network`);
                      }}
                    >
                      size its pipes
                    </button>
                  </p>
                )}
              </td>
            ))}
          </tr>
        </tbody>
      </table>
    </div>
  );
}

import { useQuery } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { api, call } from "../../api/client";
import type { components } from "../../api/schema";
import { useProject } from "../../document/store";
import type { OutflowRule, Permit } from "../../document/types";
import { show, showMargin, unitOf } from "../../document/units";
import { MethodInputs } from "../../fields/MethodInputs";
import { Gauge } from "../../instrument/Gauge";
import { Choice } from "../../primitives/Choice";
import { NumberField } from "../../primitives/NumberField";
import { Rows } from "../../primitives/Rows";
import { marginState, overWord, TEXT_TONE, WORD } from "../../primitives/tone";
import { useWidth } from "../../primitives/useWidth";

type Found = components["schemas"]["PermitsOut"];
type Way = Permit["by"];

export const WAY: Record<Way, string> = {
  typed: "Typed",
  hectare: "By area",
  formula: "Pre-development, formula",
  model: "Pre-development, model",
};
const SHORT: Record<Way, string> = { typed: "typed", hectare: "by area", formula: "formula", model: "model" };
const ACRE = 0.40468564224; // ha

/** The ways to the permitted rate of an outflow rule side by side, each with the margin it would give. */
export function Permits({ rule, criterion: c }: { rule: number; criterion: OutflowRule }) {
  const { id, option, project, network, answer, edit } = useProject();
  const { data } = useQuery({
    queryKey: ["permits", id, option, rule, answer?.revision, answer?.version],
    enabled: !!id && !!answer,
    placeholderData: (old) => old,
    queryFn: () =>
      call(
        api.GET("/api/projects/{project_id}/options/{option}/permits/{rule}", {
          params: { path: { project_id: id ?? "", option, rule } },
        }),
      ),
  });
  const { hectare, formula, model } = c;
  if (!project || !data) return null;
  const set = (field: string, value: unknown) =>
    void edit([{ op: "add", path: `/brief/rules/${rule}/${field}`, value }]);
  const rarest = Math.max(...c.limits.map((limit) => limit.return_period));
  const row = c.limits.findIndex((limit) => limit.return_period === rarest);
  const verdict = answer?.verdicts.find((v) => v.rule === rule && v.row === row);
  const leaving = verdict?.value != null ? verdict.limit - verdict.value : null;
  const us = project.units === "us";
  const per = us ? ACRE : 1;
  const name = network?.nodes[c.element]?.name ?? network?.links[c.element]?.name ?? "";
  const column = (way: Way, inputs: ReactNode) => (
    <Column
      way={way}
      found={data.ways[way]}
      period={rarest}
      leaving={leaving}
      used={c.by === way}
      use={() => set("by", way)}
    >
      {inputs}
    </Column>
  );
  return (
    <section className="mt-2 border-t border-ink pt-1" aria-label="Permitted discharge" data-testid="permits">
      <p>
        <b className="text-[15px] font-semibold">Permitted discharge at {name}</b>{" "}
        <span className="text-ink2">
          {c.name}: the way in use is the limit of the rule; the others keep their figures
        </span>
      </p>
      <div className="flex gap-4 pt-1">
        {column(
          "typed",
          <>
            {c.limits.map((limit, k) => (
              <NumberField
                key={`${limit.return_period} ${limit.allowance} ${limit.duration}`}
                label={c.limits.length > 1 ? `${limit.return_period} yr` : "Rate"}
                value={limit.value}
                quantity="flow"
                commit={(value) => set(`limits/${k}/value`, value)}
                testId={k === row ? "permit-typed" : `permit-typed-${k}`}
              />
            ))}
            <p className="text-[11px] text-ink3">
              {c.limits.length > 1 ? "each until the next rarer one" : "holds for every return period"}
            </p>
          </>,
        )}
        {column(
          "hectare",
          <>
            <NumberField
              label={us ? "For each acre" : "For each hectare"}
              value={hectare.rate * per}
              quantity="flow"
              commit={(value) => set("hectare/rate", value / per)}
              testId="permit-rate"
            />
            <Choice
              label="Area counted"
              value={hectare.counted}
              options={{ drained: "all that drains", paved: "paved part", site: "the site" }}
              commit={(value) => set("hectare/counted", value)}
              testId="permit-counted"
            />
            {hectare.counted === "site" ? (
              <NumberField
                label="Site"
                value={hectare.site}
                quantity="area"
                commit={(value) => set("hectare/site", value)}
              />
            ) : (
              <p className="flex justify-between py-[3px]">
                <span>Counted now</span>
                <span className="figure">
                  {show(data.area, "area")} <span className="text-[11px] text-ink3">{unitOf("area")}</span>
                </span>
              </p>
            )}
            <NumberField
              label="At least"
              value={hectare.least}
              quantity="flow"
              commit={(value) => set("hectare/least", value)}
            />
          </>,
        )}
        {column(
          "formula",
          <>
            <Site area={formula.area} drains={data.drains} commit={(area) => set("formula/area", area)} />
            <NumberField
              label="Mean annual rainfall"
              value={formula.mean_annual_rainfall}
              quantity="rain"
              commit={(value) => set("formula/mean_annual_rainfall", value)}
            />
            <NumberField
              label="Soil index"
              value={formula.soil}
              quantity="plain"
              commit={(value) => set("formula/soil", value)}
            />
            <p className="flex justify-between py-[3px]">
              <span title="QBAR = 0.00108 A^0.89 SAAR^1.17 SOIL^2.17 (Institute of Hydrology, Report 124)">
                Mean annual flood
              </span>
              <span className="figure">
                {show(data.mean_annual_flood, "flow")} <span className="text-[11px] text-ink3">{unitOf("flow")}</span>
              </span>
            </p>
            <details>
              <summary className="cursor-pointer text-ink2">growth factors</summary>
              <Rows
                title="Growth"
                columns={[
                  { key: "return_period", label: "", quantity: "years" },
                  { key: "factor", label: "factor", quantity: "plain" },
                ]}
                rows={formula.growth}
                commit={(rows) => set("formula/growth", rows)}
              />
            </details>
          </>,
        )}
        {column(
          "model",
          <>
            <Site area={model.area} drains={data.drains} commit={(area) => set("model/area", area)} />
            <NumberField
              label="Paved then"
              value={model.paved}
              quantity="share"
              commit={(value) => set("model/paved", value)}
            />
            {(model.method.kind === "coefficient" || model.method.kind === "losses") && (
              <NumberField
                label="Time of entry"
                value={model.entry}
                quantity="minutes"
                commit={(value) => set("model/entry", value)}
              />
            )}
            <MethodInputs
              method={model.method}
              commit={(method) => set("model/method", method)}
              testId="permit-method"
            />
          </>,
        )}
        <ByPeriod found={data} used={c.by} judged={overWord(verdict)} />
      </div>
    </section>
  );
}

/** The site's area: typed, or all that drains to the place. */
function Site({
  area,
  drains,
  commit,
}: {
  area: number | null;
  drains: number;
  commit: (area: number | null) => void;
}) {
  return (
    <>
      <NumberField label="Site" value={area ?? drains} quantity="area" commit={commit} />
      <p className="text-right text-[11px] text-ink3">
        {area === null ? (
          "all that drains there"
        ) : (
          <button type="button" className="textlink" onClick={() => commit(null)}>
            take all that drains there
          </button>
        )}
      </p>
    </>
  );
}

/** One way: what it takes, the rate that it gives, and the margin that would be. */
function Column({
  way,
  found,
  period,
  leaving,
  used,
  use,
  children,
}: {
  way: Way;
  found: Found["ways"][string] | undefined;
  period: number;
  leaving: number | null;
  used: boolean;
  use: () => void;
  children: ReactNode;
}) {
  const rate = found?.rate ?? null;
  const value = rate === null || leaving === null ? null : rate - leaving;
  const margin = showMargin(value, "m3/s");
  const state = marginState(value, rate);
  return (
    <div
      className={`flex min-w-0 flex-1 flex-col border-t-2 px-2 pt-1 ${used ? "border-ink bg-hi" : "border-rule"}`}
      data-testid={`way-${way}`}
    >
      <p className="flex items-baseline justify-between">
        <b className="font-semibold">{WAY[way]}</b>
        {used ? (
          <b className="font-semibold">in use</b>
        ) : (
          <button type="button" className="textlink" onClick={use} data-testid={`use-${way}`}>
            use this
          </button>
        )}
      </p>
      {children}
      <div className="mt-auto border-t border-rule pt-1">
        <p className="flex items-baseline gap-2">
          <span className="figure text-[22px]" data-testid={`rate-${way}`}>
            {rate === null ? "—" : show(rate, "flow")}
          </span>
          <span className="text-ink3">{unitOf("flow")}</span>
          <span className="ml-auto font-semibold">{period} yr</span>
        </p>
        {found?.problem ? (
          <p className="text-[11px] text-madder">{found.problem}</p>
        ) : (
          <p className="flex items-center gap-2">
            <span className={`figure ${state === "fails" ? "text-madder" : ""}`}>{margin.text}</span>
            <span className="text-ink3">{margin.unit}</span>
            <Gauge value={value} scale={rate} width={60} />
            <span className={TEXT_TONE[state]}>{WORD[state]}</span>
          </p>
        )}
      </div>
    </div>
  );
}

/** What every way allows and what leaves now, by return period. */
function ByPeriod({ found, used, judged }: { found: Found; used: Way; judged: string }) {
  const [ref, width, height] = useWidth<HTMLDivElement>();
  const { periods, ways, leaving } = found;
  const shown = (Object.entries(ways) as [Way, Found["ways"][string]][]).filter(([, way]) =>
    way.rates.some((rate) => rate !== null),
  );
  const top =
    1.12 * Math.max(1e-6, ...shown.flatMap(([, way]) => way.rates.map((r) => r ?? 0)), ...leaving.map((l) => l.flow));
  const [low, high] = [Math.log(periods[0] ?? 1), Math.log(periods[periods.length - 1] ?? 10)];
  const [left, foot] = [40, height - 18];
  const x = (t: number) => left + (high > low ? (Math.log(t) - low) / (high - low) : 0.5) * (width - left - 22);
  const y = (q: number) => foot - (q / top) * (foot - 8);
  const most = periods.flatMap((t) => {
    const flows = leaving.filter((l) => l.return_period === t).map((l) => l.flow);
    return flows.length ? [[x(t), y(Math.max(...flows))] as const] : [];
  });
  const labels = shown
    .map(([key, way]) => {
      const i = way.rates.findLastIndex((rate) => rate !== null);
      return { key, x: x(periods[i] ?? 1), y: y(way.rates[i] ?? 0) - 4 };
    })
    .sort((a, b) => a.y - b.y);
  for (const [i, label] of labels.entries()) label.y = Math.max(label.y, (labels[i - 1]?.y ?? -99) + 11);
  const dash: Record<Way, string> = { typed: "8 2 1.5 2", hectare: "4 3", formula: "1.5 3", model: "10 4" };
  return (
    <div className="flex min-w-0 flex-[1.2] flex-col">
      <p className="flex justify-between">
        <b className="font-semibold">By return period</b>
        <span className="text-[11px] text-ink3">{unitOf("flow")}</span>
      </p>
      <div ref={ref} className="min-h-[150px] flex-1">
        {width > 0 && (
          <svg width={width} height={height} role="img" aria-label="Permitted and leaving flow by return period">
            {most.length > 1 && (
              <polygon
                points={[
                  `${most[0]?.[0]},${foot}`,
                  ...most.map((p) => p.join(",")),
                  `${most.at(-1)?.[0]},${foot}`,
                ].join(" ")}
                fill="var(--color-water1)"
              />
            )}
            <polyline
              points={most.map((p) => p.join(",")).join(" ")}
              fill="none"
              stroke="var(--color-water5)"
              strokeWidth={1.8}
            />
            {most.map(([px, py]) => (
              <circle key={px} cx={px} cy={py} r={3} fill="var(--color-hi)" stroke="var(--color-water5)" />
            ))}
            {shown.map(([key, way]) => {
              const points = way.rates.flatMap((rate, i) =>
                rate === null ? [] : [[x(periods[i] ?? 1), y(rate)] as const],
              );
              return (
                <polyline
                  key={key}
                  points={points.map((p) => p.join(",")).join(" ")}
                  fill="none"
                  stroke="var(--color-ink)"
                  strokeWidth={key === used ? 1.8 : 1}
                  strokeDasharray={dash[key]}
                />
              );
            })}
            {labels.map((label) => (
              <text
                key={label.key}
                x={label.x + 14}
                y={label.y}
                textAnchor="end"
                fontSize={10.5}
                fontWeight={label.key === used ? 600 : 400}
              >
                {SHORT[label.key]}
              </text>
            ))}
            <line x1={left} x2={width - 8} y1={foot} y2={foot} stroke="var(--color-ink)" />
            {periods.map((t) => (
              <text key={t} x={x(t)} y={height - 5} fontSize={10.5} textAnchor="middle" className="figure">
                {t}
              </text>
            ))}
            {[0, 0.5, 1].map((share) => (
              <text
                key={share}
                x={left - 6}
                y={y((share * top) / 1.12) + 4}
                fontSize={10.5}
                textAnchor="end"
                className="figure"
              >
                {show((share * top) / 1.12, "flow")}
              </text>
            ))}
          </svg>
        )}
      </div>
      <p className="text-[11px] text-ink3">
        shaded: outflow of the storms of each return period{judged ? `, ${judged}` : ""}
      </p>
    </div>
  );
}

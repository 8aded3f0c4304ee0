import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, call } from "../../api/client";
import type { components } from "../../api/schema";
import { useProject } from "../../document/store";
import type { Rainfall } from "../../document/types";
import { percentOf, unitOf } from "../../document/units";
import { NumberField } from "../../primitives/NumberField";
import { Rows } from "../../primitives/Rows";
import { SmallTable } from "./SmallTable";
import { Source } from "./Source";

type Formula = Extract<Rainfall, { kind: "formula" }>;
type Ratio = Extract<Rainfall, { kind: "ratio" }>;
type Table = Extract<Rainfall, { kind: "table" }>;
type Growth = components["schemas"]["GrowthTable"];
type Fit = components["schemas"]["FitOut"];

/** a/(t + b)^c for each return period. */
export function FormulaForm({ formula, keep }: { formula: Formula; keep: (next: Formula) => void }) {
  return (
    <div className="max-w-[520px]" data-testid="formula">
      <p className="pb-2">
        Mean intensity i = a / (t + b)<sup>c</sup> in {unitOf("rate")}, t in minutes; a is in {unitOf("formula")} · min
        <sup>c</sup>, b in minutes.
      </p>
      <Source value={formula.source} keep={(source) => keep({ ...formula, source })} />
      <Rows
        title="Formula by return period"
        columns={[
          { key: "return_period", label: "return period", quantity: "years" },
          { key: "a", label: "a", quantity: "formula" },
          { key: "b", label: "b", quantity: "plain" },
          { key: "c", label: "c", quantity: "third" },
        ]}
        rows={formula.rows}
        commit={(rows) => keep({ ...formula, rows: rows as Formula["rows"] })}
      />
    </div>
  );
}

/** Growth factors of a shipped table as a rainfall keeps them. */
const factorsOf = ({ name, source, uncertainty, return_periods, growth }: Growth) => ({
  return_periods,
  growth,
  source: `${name}: ${source}; ${uncertainty}`,
});

/** The 60-minute 5-year depth, its ratio to the 48-hour one, and growth factors. */
export function RatioForm({ ratio, keep }: { ratio: Ratio; keep: (next: Ratio) => void }) {
  const set = (field: keyof Ratio) => (value: unknown) => keep({ ...ratio, [field]: value });
  const periods = ratio.return_periods;
  const { data: tables } = useQuery({ queryKey: ["growth"], queryFn: () => call(api.GET("/api/rain/growth")) });
  return (
    <div className="max-w-[620px]" data-testid="ratio">
      <div className="max-w-[280px]">
        <NumberField
          label="Depth in 60 min, 5 years"
          value={ratio.depth}
          quantity="rain"
          commit={set("depth")}
          testId="ratio-depth"
        />
        <NumberField label="Ratio r, 60 min to 48 h" value={ratio.ratio} quantity="third" commit={set("ratio")} />
        <NumberField label="B per hour" value={ratio.b} quantity="plain" commit={set("b")} />
      </div>
      <Rows
        title="Growth factors, by the 5-year depth of the same duration"
        columns={[
          { key: "depth", label: "depth", quantity: "rain" },
          ...periods.map((period, j) => ({ key: `f${j}`, label: `${period} yr`, quantity: "third" as const })),
        ]}
        rows={ratio.growth.map((row) => ({
          depth: row.depth,
          ...Object.fromEntries(row.factors.map((factor, j) => [`f${j}`, factor])),
        }))}
        commit={(rows) =>
          set("growth")(
            rows.map((row) => {
              const cells = row as unknown as Record<string, number>;
              return { depth: cells.depth, factors: periods.map((_, j) => cells[`f${j}`]) };
            }),
          )
        }
      />
      <Source value={ratio.source} keep={(source) => keep({ ...ratio, source })} />
      <p className="flex gap-4 pt-1 text-[11px]">
        {tables?.map((table) => (
          <button
            key={table.name}
            type="button"
            className="textlink"
            title={`${table.source}; ${table.uncertainty}`}
            onClick={() => keep({ ...ratio, ...factorsOf(table) })}
            data-testid={`growth-${table.name}`}
          >
            factors of {table.name}
          </button>
        ))}
      </p>
      <p className="pt-1 text-[11px] text-ink3">
        Between rows linear in 3D, between columns linear in the logarithm of the return period; 5 years has the factor
        1. Outside the rows nothing is guessed: a storm there is refused. A two-parameter curve is an idealisation of
        published depths: expect some per cent.
      </p>
    </div>
  );
}

const FORMULA: Formula = { kind: "formula", rows: [{ return_period: 10, a: 1500, b: 12, c: 0.85 }], source: "" };

/** Another rainfall that is looked at, and not yet used. begun : with start values, which are of no place. */
interface Draft {
  rainfall: Formula | Ratio;
  begun: Formula | Ratio | null;
}

/** Other ways to state the region's rain, and a formula fitted to the table. Nothing is replaced before it is said. */
export function OtherRain({ rainfall, use }: { rainfall: Rainfall | null; use: (next: Rainfall) => Promise<unknown> }) {
  const [fit, setFit] = useState<Fit | null>(null);
  const [draft, setDraft] = useState<Draft | null>(null);
  const look = async (table: Table) => {
    try {
      setFit((await call(api.POST("/api/rain/fit", { body: table }))) as Fit);
    } catch (error) {
      useProject.setState({ notice: error instanceof Error ? error.message : String(error) });
    }
  };
  const begin = (begun: Formula | Ratio) => setDraft({ rainfall: begun, begun });
  const byRatio = async () => {
    const [first] = await call(api.GET("/api/rain/growth"));
    if (first) begin({ kind: "ratio", depth: 20, ratio: 0.4, b: 15, ...factorsOf(first) });
  };
  const close = () => {
    setDraft(null);
    setFit(null);
  };
  const worst = fit ? Math.max(...fit.residuals.flat().map(Math.abs)) : 0;
  if (draft) return <Staged draft={draft} present={rainfall} change={setDraft} use={use} close={close} />;
  return (
    <div className="flex flex-col">
      <p className="flex flex-wrap items-baseline gap-4 pt-1">
        {rainfall?.kind === "table" && (
          <button type="button" className="textlink" onClick={() => look(rainfall)} data-testid="fit">
            fit a formula to the table
          </button>
        )}
        {fit && (
          <span data-testid="fit-found">
            a/(t+b)^c lies within {percentOf(worst, 1)} of every depth{" "}
            <button
              type="button"
              className="textlink"
              onClick={() => setDraft({ rainfall: fit.formula as Formula, begun: null })}
            >
              look at it
            </button>
          </span>
        )}
        {rainfall?.kind !== "formula" && (
          <button type="button" className="textlink" onClick={() => begin(FORMULA)} data-testid="use-formula">
            type a formula
          </button>
        )}
        {rainfall?.kind !== "ratio" && (
          <button type="button" className="textlink" onClick={byRatio} data-testid="use-ratio">
            60-minute depth and ratio
          </button>
        )}
      </p>
      {fit && rainfall?.kind === "table" && <Residuals fit={fit} table={rainfall} />}
    </div>
  );
}

const CALLED: Record<Rainfall["kind"], string> = {
  table: "the table",
  formula: "the formula",
  ratio: "the 60-minute depth and ratio",
};

/** A rainfall beside the one in use: typed here, and put in its place only when that is said. */
function Staged(props: {
  draft: Draft;
  present: Rainfall | null;
  change: (next: Draft) => void;
  use: (next: Rainfall) => Promise<unknown>;
  close: () => void;
}) {
  const { draft, present, change, use, close } = props;
  const { rainfall, begun } = draft;
  const keep = (next: Formula | Ratio) => change({ ...draft, rainfall: next });
  const untouched =
    begun !== null && JSON.stringify({ ...rainfall, source: "" }) === JSON.stringify({ ...begun, source: "" });
  return (
    <div className="my-1 w-full border-l-4 border-ochre pl-3" data-testid="staged-rain">
      <p className="pb-1 text-ink2">
        Not in use yet{present ? `: the storms are made of ${CALLED[present.kind]}` : ""}.
        {untouched && (
          <span className="text-ochre-ink"> These are start values, of no place: type those of the site.</span>
        )}
      </p>
      {rainfall.kind === "formula" ? (
        <FormulaForm formula={rainfall} keep={keep} />
      ) : (
        <RatioForm ratio={rainfall} keep={keep} />
      )}
      <p className="flex items-center gap-3 pt-1">
        <button
          type="button"
          className="h-6 bg-ink px-4 font-semibold text-hi disabled:opacity-40"
          disabled={untouched}
          onClick={() => void use(rainfall).then(close)}
          data-testid="use-staged"
        >
          {present ? `Use it instead of ${CALLED[present.kind]}` : "Use it"}
        </button>
        <button type="button" className="textlink" onClick={close} data-testid="drop-staged">
          {present ? "keep the old one" : "leave it"}
        </button>
      </p>
    </div>
  );
}

/** By how much the fitted formula is off at each depth of the table, in per cent of it. */
function Residuals({ fit, table }: { fit: Fit; table: Table }) {
  return (
    <div className="mt-1" data-testid="residuals">
      <SmallTable
        label="Formula against table"
        corner="off by %"
        durations={table.durations}
        periods={table.return_periods}
        cell={(i, j) => {
          const off = fit.residuals[i]?.[j] ?? 0;
          const text = `${off < 0 ? "−" : "+"}${(Math.abs(off) * 100).toFixed(1)}`;
          return Math.abs(off) > 0.05 ? <span className="text-ochre-ink">{text}</span> : text;
        }}
      />
    </div>
  );
}

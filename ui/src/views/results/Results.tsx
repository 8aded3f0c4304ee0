import { useMemo, useState } from "react";
import { useProject } from "../../document/store";
import { type Statistic, StatisticChoice } from "../../fields/StatisticChoice";
import { byPeriod, overStorms } from "./elementResults";
import { ResultTable } from "./ResultTable";
import { layout } from "./StormMatrix";
import { type Over, useElementResults } from "./useElementResults";

const WORD: Record<Over, string> = {
  periods: "by return period",
  all: "all storms",
  row: "one return period",
  duration: "one duration",
  storm: "the picked storm",
};

/** Nodes, links, storage and outfalls in flow order: by return period side by side, or over the storms of one choice. */
export function Results() {
  const { network, answer, cursor } = useProject();
  const [over, setOver] = useState<Over>("periods");
  const [chosen, setChosen] = useState("");
  const [by, setBy] = useState<Statistic>("highest");
  const { rows } = layout(answer?.storms ?? []);
  const durations = [...new Set((answer?.storms ?? []).map((s) => s.duration))].sort((a, b) => a - b).map(String);
  const patterned = (answer?.storms ?? []).some((s) => s.pattern);
  const list = over === "row" ? rows : over === "duration" ? durations : [];
  const of = over === "storm" ? (cursor.storm ?? "") : list.includes(chosen) ? chosen : (list[0] ?? "");
  const found = useElementResults(over, of, over === "storm" ? "highest" : by);
  const tables = useMemo(() => {
    const first = found?.[0];
    if (!network || !answer || !found || !first) return null;
    return over === "periods"
      ? byPeriod({ network, answer }, found)
      : overStorms({ network, answer }, first, over === "storm");
  }, [network, answer, found, over]);
  const missing = over === "periods" ? "" : found?.[0]?.elements.missing;
  return (
    <div className="flex min-w-0 flex-1 flex-col overflow-auto" data-testid="results">
      <p className="flex flex-wrap items-baseline gap-2 px-3 pt-2">
        <b className="mr-2 text-[15px] font-semibold">Results</b>
        {(Object.keys(WORD) as Over[]).map((each) => (
          <button
            key={each}
            type="button"
            aria-pressed={over === each}
            className={`px-2 ${over === each ? "bg-ink text-hi" : "border-b border-rule2"}`}
            onClick={() => setOver(each)}
            data-testid={`results-over-${each}`}
          >
            {WORD[each]}
          </button>
        ))}
        {list.length > 0 && (
          <select
            className="border-b border-ink3 bg-transparent"
            aria-label={WORD[over]}
            value={of}
            onChange={(event) => setChosen(event.target.value)}
            data-testid="results-of"
          >
            {list.map((each) => (
              <option key={each} value={each}>
                {over === "duration" ? `${each} min` : each}
              </option>
            ))}
          </select>
        )}
        {over === "storm" && <span className="text-ink2">{found?.[0]?.name}</span>}
        {patterned && over !== "storm" && <StatisticChoice by={by} choose={setBy} testId="results-by" />}
        {missing && <span className="text-ochre-ink">{missing}, so far</span>}
      </p>
      {tables && <ResultTable title={found?.[0] && over !== "periods" ? found[0].name : WORD[over]} {...tables} />}
      <p className="px-3 py-2 text-[11px] text-ink3">
        left: water below cover. A state is one of: within, surcharged by own capacity, surcharged by what backs up,
        flood risk, floods. A click shows the storm and its moment on plan and section.
      </p>
    </div>
  );
}

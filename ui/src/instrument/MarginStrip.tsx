import type { Verdict } from "../api/client";
import { useProject } from "../document/store";
import { show, showMargin, unitOf } from "../document/units";
import { Gauge } from "./Gauge";
import { overWord, stateOf, TEXT_TONE, WORD } from "./tone";

const REFERENCE: Record<string, string> = {
  surcharge: "below soffit",
  cover: "below cover",
  flood_volume: "flooded",
  outflow: "of the limit",
  freeboard: "below bank",
};

/** One tile for each criterion, failing ones first; a click sets element, storm and moment everywhere. */
export function MarginStrip() {
  const { answer, before, cursor, point, project, revision } = useProject();
  const verdicts = answer?.verdicts ?? [];
  const criteria = project?.brief.criteria ?? [];
  const order = criteria.map((_, i) => i).filter((i) => criteria[i]?.asked);
  const rank = (v: Verdict | undefined) => (v?.state === "fails" ? 0 : 1);
  order.sort((a, b) => rank(verdicts[a]) - rank(verdicts[b]) || a - b);
  const current = answer?.revision === revision;
  return (
    <section
      aria-label="Margins"
      className="flex h-20 overflow-x-auto border-b border-rule2"
      data-testid="margin-strip"
    >
      {order.length === 0 && <p className="self-center px-3 text-ink3">No rule is asked yet: set them in Brief.</p>}
      {order.map((i) => {
        const criterion = criteria[i];
        const v = verdicts[i];
        const state = stateOf(v);
        // a rule that is judged is settled, whatever storms of others still do
        const soFar = state === "not judged" && answer?.state === "running" && v !== undefined && v.seen > 0;
        const stale = !current || soFar;
        const open = state === "not judged" && !soFar;
        const old = before?.verdicts[i];
        const dry = v?.dry ?? null;
        const margin =
          dry !== null && !open
            ? { text: show(dry, "length", 2), unit: `${unitOf("length")} below cover` }
            : showMargin(open ? null : v?.value, v?.unit ?? "m");
        const older = old && old.value !== null ? showMargin(old.value, old.unit) : null;
        const was = v && dry === null && older && older.text !== margin.text ? older : null;
        const storm = answer?.storms.find((s) => s.key === v?.storm);
        return (
          <button
            key={criterion?.name}
            type="button"
            data-testid={`tile-${i}`}
            onClick={() =>
              v && point({ rule: i, element: v.element ?? null, storm: v.storm ?? null, moment: v.time ?? 0 })
            }
            className={`relative min-w-[196px] flex-1 border-r border-rule2 px-3 py-1 text-left ${
              cursor.rule === i ? "bg-hi shadow-[inset_0_3px_0_var(--color-ink)]" : ""
            } ${stale ? "stale" : ""}`}
          >
            <span className="flex justify-between gap-2">
              <b className="truncate font-semibold">{criterion?.name}</b>
              <span className={`whitespace-nowrap ${TEXT_TONE[state]}`}>
                {soFar ? "so far" : dry !== null && !open ? "nothing floods" : WORD[state]}{" "}
                {dry === null && !open ? overWord(v) : ""}
              </span>
            </span>
            <span className="flex items-center justify-between">
              <span className="flex items-center gap-1 whitespace-nowrap">
                <span
                  className={`figure text-[27px] leading-8 ${stale ? "text-ink3" : state === "fails" ? "text-madder" : ""}`}
                  data-testid={`margin-${i}`}
                >
                  {margin.text}
                </span>
                <span className="text-ink3">{margin.unit}</span>
              </span>
              <span className="flex flex-col items-end">
                <Gauge value={open ? null : v?.value} scale={v?.scale} state={state} stale={stale} />
              </span>
            </span>
            <span className="flex justify-between gap-2 text-[11px] text-ink2">
              <span className="truncate">
                {open ? v?.reason : v && v.tied > 1 ? `${v.tied} storms tie` : storm?.label}
              </span>
              {was && (
                <span className="ml-auto shrink-0 text-ink3" data-testid={`was-${i}`}>
                  was <span className="figure">{was.text}</span>
                </span>
              )}
              <b className="max-w-[40%] shrink-0 truncate font-semibold">
                <ElementName
                  id={open ? null : (v?.element ?? null)}
                  fallback={REFERENCE[criterion?.kind ?? ""] ?? ""}
                />
              </b>
            </span>
          </button>
        );
      })}
    </section>
  );
}

function ElementName({ id, fallback }: { id: string | null; fallback: string }) {
  const network = useProject((s) => s.network);
  const found = id ? (network?.nodes[id] ?? network?.links[id]) : undefined;
  return <>{found ? found.name : fallback}</>;
}

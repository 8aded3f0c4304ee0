import { useNavigate, useParams } from "react-router";
import type { Verdict } from "../api/client";
import { criteriaOf, RULES } from "../document/criteria";
import { useProject } from "../document/store";
import { show, showBand, showMargin, unitOf } from "../document/units";
import { EDGE_NOTE, edgeWord, marginState, overWord, stateOf, TEXT_TONE, WORD } from "../primitives/tone";
import { Gauge } from "./Gauge";

/** One tile for each criterion, failing ones first; a click sets element, storm and moment everywhere. */
export function MarginStrip() {
  const { answer, before, cursor, point, project, revision, refine, trial } = useProject();
  const verdicts = answer?.verdicts ?? [];
  const criteria = criteriaOf(project);
  const order = criteria.map((_, i) => i).filter((i) => criteria[i]?.rule.asked);
  const { id } = useParams();
  const navigate = useNavigate();
  const rank = (v: Verdict | undefined) => (v?.state === "fails" ? 0 : v?.state === "too close" ? 1 : 2);
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
        const rule = criteria[i]?.rule;
        // while something is dragged: by the storms that govern, beyond them nothing is known
        const tried = trial?.[i];
        const hand = tried?.value != null && tried.due > 0 ? tried : undefined;
        const now = verdicts[i];
        // until the first storms that it is judged by are in: what it was, as of other inputs
        const until = current && answer?.state === "running" && now?.seen === 0 && now.due > 0 && before?.verdicts[i];
        const waiting = !hand && until && until.kind === now?.kind && until.name === now.name;
        const v = hand ?? (waiting ? until : now);
        const state = hand ? marginState(hand.value, hand.scale) : stateOf(v);
        // a rule that is judged is settled, whatever storms of others still do
        const soFar = !hand && state === "not judged" && answer?.state === "running" && v !== undefined && v.seen > 0;
        const provisional = !hand && !waiting && current && v?.provisional === true;
        const stale = !current || waiting || (soFar && !provisional);
        const open = !hand && state === "not judged" && !soFar && !provisional;
        const close = !hand && !waiting && current && v?.close === true;
        const known = current && !waiting && (close || v?.refined) && v?.band != null ? v.band : null;
        const old = hand ? verdicts[i] : before?.verdicts[i];
        const dry = v?.dry ?? null;
        const margin =
          dry !== null && !open
            ? { text: show(dry, "length", 2), unit: `${unitOf("length")} below cover` }
            : showMargin(open ? null : v?.value, v?.unit ?? "m");
        const older = old && old.value !== null ? showMargin(old.value, old.unit) : null;
        const was = v && dry === null && older && older.text !== margin.text ? older : null;
        const storm = answer?.storms.find((s) => s.key === v?.storm);
        return (
          <div key={i} className="relative min-w-[196px] flex-1 border-r border-rule2">
            <button
              type="button"
              data-testid={`tile-${i}`}
              onClick={() =>
                v &&
                point({
                  rule: i,
                  element: v.element ?? null,
                  moment: v.time ?? 0,
                  ...(v.storm ? { storm: v.storm } : {}),
                })
              }
              onDoubleClick={() => navigate(`/p/${id}/verdict`)}
              className={`h-full w-full px-3 py-1 text-left ${
                cursor.rule === i ? "bg-hi shadow-[inset_0_3px_0_var(--color-ink)]" : ""
              } ${stale ? "stale" : ""}`}
            >
              <span className="flex justify-between gap-2">
                <b className="truncate font-semibold">{v?.name ?? rule?.name}</b>
                <span className={`whitespace-nowrap ${TEXT_TONE[state]}`}>
                  {hand
                    ? "by hand"
                    : provisional
                      ? `provisional, ${v.seen} of ${v.due}`
                      : soFar
                        ? "so far"
                        : dry !== null && !open
                          ? "nothing floods"
                          : WORD[state]}
                  {close ? ", close" : ""} {dry === null && !open ? overWord(v) : ""}
                </span>
              </span>
              <span className="flex items-center justify-between">
                <span className="flex items-center gap-1 whitespace-nowrap">
                  <span
                    className={`figure text-[27px] leading-8 ${provisional || hand ? "underline decoration-dashed decoration-1 underline-offset-4" : ""} ${stale ? "text-ink3" : state === "fails" ? "text-madder" : ""}`}
                    data-testid={`margin-${i}`}
                  >
                    {margin.text}
                  </span>
                  <span className="text-ink3">{margin.unit}</span>
                </span>
                <span className={`flex flex-col items-end ${known === null ? "" : "mb-3"}`}>
                  <Gauge
                    value={open ? null : v?.value}
                    scale={v?.scale}
                    state={state}
                    stale={!hand && (stale || provisional)}
                    band={close || state === "too close" ? (v?.band ?? 0) : 0}
                  />
                </span>
              </span>
              <span className="flex justify-between gap-2 text-[11px] text-ink2">
                <span className="truncate">
                  {open
                    ? v?.reason
                    : v && v.tied > 1
                      ? `${v.tied} storms tie`
                      : (storm?.label ?? (v?.due === 0 ? "as drawn" : ""))}
                </span>
                {v && !open && edgeWord(v) && (
                  <span className="shrink-0 text-ochre-ink" title={EDGE_NOTE} data-testid={`edge-${i}`}>
                    {v.edge === "shortest" ? "↤" : "↦"}
                    <span className="sr-only"> {edgeWord(v)}</span>
                  </span>
                )}
                {was && (
                  <span className="ml-auto shrink-0 text-ink3" data-testid={`was-${i}`}>
                    was <span className="figure">{was.text}</span>
                  </span>
                )}
                <b className="max-w-[40%] shrink-0 truncate font-semibold">
                  <ElementName id={open ? null : (v?.element ?? null)} fallback={rule ? RULES[rule.kind].label : ""} />
                </b>
              </span>
            </button>
            {known !== null && (
              <span className="absolute right-3 top-[43px] text-[11px] leading-3 text-ink3" data-testid={`band-${i}`}>
                {showBand(known, v?.unit ?? "m")}{" "}
                {answer?.worth.looking === "refining" ? (
                  "refining …"
                ) : v?.refined ? (
                  "refined"
                ) : (
                  <button
                    type="button"
                    className="textlink ml-1 text-ink"
                    title="Compute the storms that may decide this on cells a quarter as long"
                    onClick={refine}
                    data-testid={`refine-${i}`}
                  >
                    refine
                  </button>
                )}
              </span>
            )}
          </div>
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

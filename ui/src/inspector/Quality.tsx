import type { Answer, StormInfo } from "../api/client";
import { useProject } from "../document/store";
import { clock, show, unitOf } from "../document/units";

type Beyond = StormInfo["beyond"][number];

/** What is beyond a limit, in words, with its limit. */
export function wordsOf({ kind, value, limit, name }: Beyond): string {
  const at = name ? ` at ${name}` : "";
  const percent = (share: number) => `${(share * 100).toPrecision(2)} %`;
  if (kind === "balance") return `${percent(value)} continuity error, over ${percent(limit)}`;
  if (kind === "level")
    return `a level oscillates by ${show(value, "sharp", 0)} ${unitOf("sharp")}${at}, over ${show(limit, "sharp", 0)}`;
  if (kind === "flow") return `flow oscillates by ${percent(value)} of its peak${at}, over ${percent(limit)}`;
  if (kind === "flood")
    return `a flood stands ${show(value, "length", 2)} ${unitOf("length")} deep${at}, over ${show(limit, "length", 2)}`;
  if (kind === "pressure")
    return `a level stands ${show(value, "length", 0)} ${unitOf("length")} above the ground${at}, over ${show(limit, "length", 0)}`;
  if (kind === "curve") return `${name} acts beyond its curve from ${clock(value)}`;
  return `the run ends after ${show(value, "hours", 0)} h, before the storm does`;
}

/** A mark beside a figure of a storm that is to be checked, or of one that is beyond a limit at this very element. */
export function QualityMark({ storm, element }: { storm: string | null | undefined; element?: string }) {
  const { answer, point } = useProject();
  const beyond = answer?.storms.find((s) => s.key === storm)?.beyond ?? [];
  const own = beyond.filter((d) => d.element === null || d.element === element);
  if (own.length === 0) return null;
  const words = own.map(wordsOf).join("; ");
  return (
    <button
      type="button"
      className="ml-1 border border-ochre px-[3px] text-[11px] leading-[13px] font-semibold text-ochre-ink"
      title={`to be checked: ${words}`}
      aria-label={`to be checked: ${words}`}
      onClick={() => storm && point({ storm })}
      data-testid="to-check"
    >
      ?
    </button>
  );
}

/** Where a figure comes from: inputs, storm, solver, result. */
export function Provenance({ storm }: { storm: string | null | undefined }) {
  const { answer, fingerprint } = useProject();
  const found = answer?.storms.find((s) => s.key === storm);
  if (!answer || !found) return null;
  return (
    <details className="text-[11px] text-ink3" data-testid="provenance">
      <summary className="cursor-pointer">where this comes from</summary>
      <p>
        inputs <span className="figure">{fingerprint.slice(0, 12)}</span>, revision {answer.revision}
        <br />
        storm {found.label}
        <br />
        solver {answer.solver}, result <span className="figure">{found.result}</span>
      </p>
    </details>
  );
}

/** How all storms fare together; of one that is not in nothing is known. */
export function qualityOf(storms: Answer["storms"]): string {
  const done = storms.filter((s) => s.state === "in").length;
  const toCheck = storms.filter((s) => s.beyond.length > 0).length;
  if (done === 0) return "no storm is in";
  if (toCheck > 0) return `${toCheck} of ${done} storms to be checked`;
  return done < storms.length ? `none of the ${done} storms in is to be checked` : "no storm is to be checked";
}

/** Storms in the order in which they want a look: first those beyond a limit, then by the larger oscillation. */
export function worstFirst(storms: Answer["storms"]): StormInfo[] {
  return storms
    .filter((s) => s.oscillation != null)
    .sort((a, b) => b.beyond.length - a.beyond.length || (b.oscillation ?? 0) - (a.oscillation ?? 0));
}

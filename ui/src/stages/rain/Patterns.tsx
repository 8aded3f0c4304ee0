import { useState } from "react";
import { sent } from "../../api/client";
import { useProject } from "../../document/store";
import type { BlockAt } from "../../document/stormBlocks";
import { Choice } from "../../primitives/Choice";
import { Source } from "./Source";

/** Temporal patterns from a file, one of several for each duration; and how probability is told. */
export function Patterns({ at }: { at: BlockAt }) {
  const { project, edit } = useProject();
  const [wrong, setWrong] = useState<string | null>(null);
  if (!project) return null;
  const { patterns, durations } = at.block;
  const bare = durations.filter((d) => !patterns.some((p) => p.duration === d));
  const set = (values: unknown[], source: string) =>
    edit([
      { op: "add", path: `${at.path}/patterns`, value: values },
      { op: "add", path: `${at.path}/pattern_source`, value: source },
    ]);
  const take = async (file: File | undefined) => {
    if (!file) return;
    setWrong(null);
    try {
      await set(await sent<unknown[]>("/api/rain/patterns", file), file.name);
    } catch (error) {
      setWrong(error instanceof Error ? error.message : String(error));
    }
  };
  return (
    <>
      <h3 className="mt-2 flex items-baseline justify-between text-[11px] text-ink3">
        temporal patterns
        {patterns.length > 0 && (
          <button type="button" className="textlink" onClick={() => set([], "")}>
            take them out
          </button>
        )}
      </h3>
      <p className="flex items-baseline justify-between" data-testid="patterns">
        <span>
          {patterns.length
            ? `${patterns.length} for ${new Set(patterns.map((p) => p.duration)).size} durations`
            : "none; storms take the shapes above"}
        </span>
        <label className="textlink cursor-pointer focus-within:outline">
          from CSV
          <input
            type="file"
            accept=".csv,.txt"
            className="sr-only"
            onChange={(event) => take(event.target.files?.[0])}
            data-testid="pattern-file"
          />
        </label>
      </p>
      {patterns.length > 0 && (
        <Source
          value={at.block.pattern_source}
          keep={(source) => void edit([{ op: "add", path: `${at.path}/pattern_source`, value: source }])}
          testId="pattern-source"
        />
      )}
      {patterns.length > 0 && bare.length > 0 && (
        <p className="text-[11px] text-ochre-ink">no patterns for {bare.join(", ")} min</p>
      )}
      {wrong && (
        <p role="alert" className="text-[11px] text-madder">
          {wrong}
        </p>
      )}
      <Choice
        label="Return period told as"
        value={project.rain.ensemble.labels}
        options={{ years: "return period", aep: "AEP" }}
        commit={(value) => void edit([{ op: "add", path: "/rain/ensemble/labels", value }])}
        testId="labels"
      />
    </>
  );
}

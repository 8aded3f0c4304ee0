import { standingOn } from "../document/standing";
import { useProject } from "../document/store";
import { LevelField } from "./LevelField";
import { useCommit } from "./useCommit";

/** The invert of a node, and what moves with it. */
export function InvertField({ id, value, top }: { id: string; value: number; top: number | null }) {
  const network = useProject((s) => s.network);
  const commit = useCommit("nodes", id);
  const standing = network ? standingOn(network, id) : [];
  return (
    <>
      <LevelField label="Invert" value={value} top={top} commit={commit("invert")} testId="invert" />
      {standing.length > 0 && (
        <p className="text-right text-[11px] text-ink3" data-testid="standing-on">
          with what stands on it: {standing.slice(0, 3).join(", ")}
          {standing.length > 3 && ` and ${standing.length - 3} more`}
        </p>
      )}
    </>
  );
}

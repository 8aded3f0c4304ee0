import { useMemo } from "react";
import { useProject } from "../../document/store";
import { useElementResults } from "../results/useElementResults";
import { type Themed, themed } from "./themes";

/** Results that the plan shows instead of the water of the moment, which is null; until they are known, that. */
const GATHERING: Themed = { nodes: new Map(), links: new Map(), legend: [], missing: "results are being gathered" };

export function useThemed(still: boolean): Themed | null {
  const { planLook, network, answer } = useProject();
  const shown = still ? "water" : planLook.theme;
  const rows = useElementResults(planLook.row ? "row" : "all", planLook.row, "highest", shown !== "water");
  const found = rows?.[0]?.elements;
  return useMemo(
    () => (shown === "water" || !network || !answer ? null : found ? themed(shown, found, network, answer) : GATHERING),
    [shown, found, network, answer],
  );
}

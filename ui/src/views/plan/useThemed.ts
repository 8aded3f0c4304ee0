import { useMemo } from "react";
import { useProject } from "../../document/store";
import { useFares } from "../results/useFares";
import { type Themed, themed } from "./themes";

/** Results that the plan shows instead of the water of the moment; null where it shows the water, or nothing is known. */
export function useThemed(still: boolean): Themed | null {
  const { planLook, network, answer } = useProject();
  const shown = still ? "water" : planLook.theme;
  const fares = useFares(planLook.row ? "row" : "all", planLook.row, "highest", shown !== "water");
  const found = fares?.[0]?.fares;
  return useMemo(
    () => (shown === "water" || !found || !network || !answer ? null : themed(shown, found, network, answer)),
    [shown, found, network, answer],
  );
}

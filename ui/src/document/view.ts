/** How things are shown: of no interest to the server. */
import type { Graph, NetworkView } from "./types";

export type GraphLook = Pick<Graph, "quantities" | "storms" | "against">;

export type ViewPart = {
  /** What the Network stage shows. */
  view: NetworkView;
  /** How picked elements are drawn as graphs. */
  graph: GraphLook;
  /** Levels are read and typed as depths below the ground, everywhere. */
  depths: boolean;
  look: (view: NetworkView) => void;
  drawGraph: (look: Partial<GraphLook>) => void;
  showDepths: (on: boolean) => void;
};

const DEPTHS = "madidus.depths";

export function viewPart(set: (part: Partial<ViewPart>) => void, get: () => ViewPart): ViewPart {
  return {
    view: "plan",
    graph: { quantities: ["flow", "level"], storms: "picked", against: null },
    depths: localStorage.getItem(DEPTHS) === "yes",
    look: (view) => set({ view }),
    drawGraph: (look) => set({ graph: { ...get().graph, ...look } }),
    showDepths: (depths) => {
      localStorage.setItem(DEPTHS, depths ? "yes" : "no");
      set({ depths });
    },
  };
}

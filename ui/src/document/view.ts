/** How things are shown: of no interest to the server. */
import type { Extent, Eye, Graph, NetworkView, PlanLook } from "./types";

export type GraphLook = Pick<Graph, "title" | "quantities" | "storms" | "against">;

export type ViewPart = {
  /** What the Network stage shows. */
  view: NetworkView;
  /** How picked elements are drawn as graphs. */
  graph: GraphLook;
  /** Levels are read and typed as depths below the ground, everywhere. */
  depths: boolean;
  /** What the plan shows by tone and label. */
  planLook: PlanLook;
  /** What is in sight of the plan and in 3D, as it was last left; null while it was never opened. */
  extent: Extent | null;
  eye: Eye | null;
  /** What is to be brought into sight once the view is there; it takes it, and leaves null. */
  wanted: { extent: Extent | null; eye: Eye | null };
  /** Ids of the pipes that are being sized, empty for all of them; null while none is. */
  sizing: string[] | null;
  sizePipes: (pipes: string[] | null) => void;
  /** Ids of the stores and controls with which a fit begins; null while none is looked at. */
  fitting: string[] | null;
  fitThese: (elements: string[] | null) => void;
  showOnPlan: (look: Partial<PlanLook>) => void;
  look: (view: NetworkView) => void;
  drawGraph: (look: Partial<GraphLook>) => void;
  showDepths: (on: boolean) => void;
};

const DEPTHS = "madidus.depths";

export function viewPart(set: (part: Partial<ViewPart>) => void, get: () => ViewPart): ViewPart {
  return {
    view: "plan",
    graph: { title: "", quantities: ["flow", "level"], storms: "picked", against: null },
    depths: localStorage.getItem(DEPTHS) === "yes",
    planLook: { theme: "water", row: "", labels: true },
    extent: null,
    eye: null,
    wanted: { extent: null, eye: null },
    sizing: null,
    sizePipes: (sizing) => set({ sizing, fitting: null }),
    fitting: null,
    fitThese: (fitting) => set({ fitting, sizing: null }),
    showOnPlan: (look) => set({ planLook: { ...get().planLook, ...look } }),
    look: (view) => set({ view }),
    drawGraph: (look) => set({ graph: { ...get().graph, ...look } }),
    showDepths: (depths) => {
      localStorage.setItem(DEPTHS, depths ? "yes" : "no");
      set({ depths });
    },
  };
}

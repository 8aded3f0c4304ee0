/** How things are shown: of no interest to the server. */
import type { Verdict } from "../api/client";
import type { Transport, Where } from "./transport";
import type { Edit, Extent, Eye, Graph, NetworkView, PlanLook } from "./types";

export type GraphLook = Pick<Graph, "title" | "quantities" | "storms" | "against">;

/** A picture with the fingerprint of the inputs whose results it shows, and the storm as people say it. */
export type Portrait = { picture: Blob; inputs: string; storm: string };

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
  /** Draws what is seen in 3D; null while nothing is. */
  portrait: (() => Promise<Portrait>) | null;
  /** Ids of the pipes that are being sized, empty for all of them; null while none is. */
  sizing: string[] | null;
  sizePipes: (pipes: string[] | null) => void;
  /** Ids of the stores and controls with which a fit begins; null while none is looked at. */
  fitting: string[] | null;
  fitThese: (elements: string[] | null) => void;
  /** Rules by the storms that govern, while something is dragged; null while nothing is. */
  trial: Verdict[] | null;
  tryOut: (edits: Edit[]) => void;
  endTrial: () => void;
  showOnPlan: (look: Partial<PlanLook>) => void;
  look: (view: NetworkView) => void;
  drawGraph: (look: Partial<GraphLook>) => void;
  showDepths: (on: boolean) => void;
};

const DEPTHS = "madidus.depths";

/** What trials need to know of the document. */
type Opened = { id: string | null; option: string };

export function viewPart(
  set: (part: Partial<ViewPart>) => void,
  get: () => ViewPart & Opened,
  tried: Transport["trial"],
): ViewPart {
  // a hand is faster than a storm: one trial is under way, and of those meanwhile the last waits
  let hand = 0;
  let busy = false;
  let waiting: Edit[] | null = null;
  const attempt = async (where: Where, edits: Edit[]): Promise<void> => {
    const own = hand;
    busy = true;
    // what cannot be computed where the hand is has no margins; the edit itself says why, once it is made
    const trial = await tried(where, edits).catch(() => null);
    busy = false;
    if (own === hand) set({ trial });
    const next = waiting;
    waiting = null;
    if (next) await attempt(where, next);
  };
  return {
    view: "plan",
    graph: { title: "", quantities: ["flow", "level"], storms: "picked", against: null },
    depths: localStorage.getItem(DEPTHS) === "yes",
    planLook: { theme: "water", row: "", labels: true },
    extent: null,
    eye: null,
    wanted: { extent: null, eye: null },
    portrait: null,
    sizing: null,
    sizePipes: (sizing) => set({ sizing, fitting: null }),
    fitting: null,
    fitThese: (fitting) => set({ fitting, sizing: null }),
    trial: null,
    tryOut: (edits) => {
      const { id: project_id, option } = get();
      if (!project_id) return;
      if (busy) waiting = edits;
      else void attempt({ project_id, option }, edits);
    },
    endTrial: () => {
      hand += 1;
      waiting = null;
      set({ trial: null });
    },
    showOnPlan: (look) => set({ planLook: { ...get().planLook, ...look } }),
    look: (view) => set({ view }),
    drawGraph: (look) => set({ graph: { ...get().graph, ...look } }),
    showDepths: (depths) => {
      localStorage.setItem(DEPTHS, depths ? "yes" : "no");
      set({ depths });
    },
  };
}

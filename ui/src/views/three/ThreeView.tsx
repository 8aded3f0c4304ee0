import { Component, lazy, type ReactNode, Suspense } from "react";
import { useProject } from "../../document/store";
import { StormAtMoment } from "../../primitives/MomentLine";

// what draws in 3D is large, and most views do without it
const Scene = lazy(() => import("./Scene"));

/** Whether this browser draws in 3D. */
function drawsInDepth(): boolean {
  try {
    return document.createElement("canvas").getContext("webgl2") !== null;
  } catch {
    return false;
  }
}

/** Where drawing in 3D fails midway, the rest of the sheet stays. */
class Guard extends Component<{ children: ReactNode }, { failed: boolean }> {
  override state = { failed: false };
  static getDerivedStateFromError() {
    return { failed: true };
  }
  override render() {
    return this.state.failed ? <Missing /> : this.props.children;
  }
}

function Missing() {
  const look = useProject((s) => s.look);
  return (
    <div className="m-6 max-w-[460px] border-l-4 border-ochre pl-3" role="status" data-testid="no-three">
      <p className="text-[14px] font-semibold">This browser does not draw 3D.</p>
      <p className="py-1 text-ink2">
        WebGL 2 is missing or switched off: look under hardware acceleration in the browser's settings. Plan and section
        show the same water at the same moment.
      </p>
      <button type="button" className="textlink" onClick={() => look("plan")}>
        to plan and section
      </button>
    </div>
  );
}

/** Ground, network and water in three dimensions, on the same clock and with the same pick as every other view. */
export function ThreeView() {
  const { network } = useProject();
  return (
    <section className="flex min-h-0 min-w-0 flex-1 flex-col" aria-label="3D">
      <p className="flex gap-3 px-2 py-1">
        <b className="text-[14px] font-semibold">3D</b>
        <span className="text-ink2">
          <StormAtMoment />
        </span>
        <span className="ml-auto text-[11px] text-ink3">
          curtain: under pressure, from the soffit up to the hydraulic grade line · red: floods standing
        </span>
      </p>
      {!network || Object.keys(network.nodes).length === 0 ? (
        <p className="p-4 text-ink3">Nothing is drawn yet.</p>
      ) : drawsInDepth() ? (
        <Guard>
          <Suspense fallback={<p className="p-4 text-ink3">Opening…</p>}>
            <Scene network={network} />
          </Suspense>
        </Guard>
      ) : (
        <Missing />
      )}
    </section>
  );
}

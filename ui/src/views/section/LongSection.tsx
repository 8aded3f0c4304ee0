import { Popover } from "radix-ui";
import { useCallback, useMemo, useState } from "react";
import { useProject } from "../../document/store";
import { partedBy, runThrough, wayThrough } from "../../kinds/path";
import { StormAtMoment } from "../../primitives/MomentLine";
import { useWidth } from "../../primitives/useWidth";
import { Drawing } from "./Drawing";
import { frameOf, wholeOf } from "./frame";
import { Overview } from "./Overview";
import { PrintedSection } from "./PrintedSection";
import { RunShape } from "./RunShape";
import { SectionLook, type Sheet } from "./SectionLook";
import { type Profile, SteadyFlow } from "./SteadyFlow";
import { SteadyTable } from "./SteadyTable";
import { shownAtFirst } from "./shown";
import type { Sight } from "./sight";
import { useAlong } from "./useAlong";

/**
 * The way through what is picked where several are, or else the run of the picked element, or of a shown chain. Between
 * two nodes without a way it is none: another run would be taken for theirs.
 */
function usePath(): { path: string[]; apart: string } {
  const { network, cursor, picked, chain } = useProject();
  const apart = network ? partedBy(network, picked) : "";
  const path = useMemo(() => {
    if (!network || apart) return [];
    const run = runThrough(network, chain?.[0] ?? null);
    if (chain?.every((id) => run.includes(id) || network.nodes[id])) return run;
    const nodes =
      picked.size < 2
        ? []
        : [
            ...new Set(
              [...picked].flatMap((id) => {
                const link = network.links[id];
                return network.nodes[id] ? [id] : link ? [link.upstream, link.downstream] : [];
              }),
            ),
          ];
    const way = nodes.length > 1 ? wayThrough(network, nodes) : null;
    if (way) return way;
    // a catchment shows the run that takes its water
    return runThrough(network, network.catchments[cursor.element ?? ""]?.node ?? cursor.element);
  }, [network, cursor.element, picked, chain, apart]);
  return { path, apart };
}

/** Ground, covers, pipes and water along a run, at the moment of the clock; levels are dragged and set on it. */
export function LongSection({ showTables }: { showTables: () => void }) {
  const { network } = useProject();
  const [ref, width, height] = useWidth<HTMLDivElement>();
  const [steady, setSteady] = useState(false);
  const [profile, setProfile] = useState<Profile | null>(null);
  const [asTable, setAsTable] = useState(false);
  const [shown, setShown] = useState(shownAtFirst);
  const [exaggeration, setExaggeration] = useState<number | null>(null);
  const [sheet, setSheet] = useState<Sheet | null>(null);
  const printed = useCallback(() => setSheet(null), []);
  const leave = () => {
    setSteady(false);
    setProfile(null);
  };
  const { path, apart } = usePath();
  const [kept, setKept] = useState<{ of: string; sight: Sight | null }>({ of: "", sight: null });
  const of = path.join();
  const own = kept.of === of ? kept.sight : null;
  const whole = useMemo(() => (network ? wholeOf(network, path) : null), [network, path]);
  const show = useCallback((next: Sight | null) => setKept({ of, sight: next }), [of]);
  // with a vertical factor of one's own the drawing is a window on the run as well, which drags and wheel move
  const sight = own ?? (exaggeration ? whole : null);
  const along = useAlong(path);
  const drawn = useMemo(
    () =>
      (network && width > 0
        ? frameOf(network, path, width, height, height > 230 ? 5 : 4, null, own)?.exaggeration
        : null) ?? 1,
    [network, path, width, height, own],
  );
  const first = network?.links[path[0] ?? ""];
  const last = network?.links[path[path.length - 1] ?? ""];
  return (
    <section className="flex min-h-0 min-w-0 flex-1 flex-col" aria-label="Long section">
      <div className="flex gap-3 px-2 py-1">
        <b className="text-[14px] font-semibold">Long section</b>
        {network && first && last && (
          <span className="truncate text-ink2">
            {network.nodes[first.upstream]?.name} to {network.nodes[last.downstream]?.name},{" "}
            {steady ? "steady flow" : <StormAtMoment />}
          </span>
        )}
        <span className="ml-auto truncate text-[11px] text-ink3">
          ×{(exaggeration ?? drawn).toFixed(1)} upward · grey dashes: least cover · drag ends of pipes and covers ·
          wheel: nearer · drag: move
        </span>
        {path.length > 0 && (
          <SectionLook
            shown={shown}
            show={setShown}
            exaggeration={exaggeration}
            exaggerate={setExaggeration}
            drawn={drawn}
            print={setSheet}
          />
        )}
        {!steady && path.length > 0 && (
          <Popover.Root>
            <Popover.Trigger className="textlink whitespace-nowrap" data-testid="shape-run">
              set levels
            </Popover.Trigger>
            <Popover.Portal>
              <Popover.Content
                align="end"
                side="top"
                className="z-20 w-[330px] border border-ink bg-hi p-3"
                data-testid="shape-page"
              >
                <RunShape path={path} />
              </Popover.Content>
            </Popover.Portal>
          </Popover.Root>
        )}
        {steady && profile && (
          <button
            type="button"
            className="textlink whitespace-nowrap"
            onClick={() => setAsTable(!asTable)}
            data-testid="steady-as-table"
          >
            {asTable ? "steady flow drawn" : "steady flow as a table"}
          </button>
        )}
        {!steady && (
          <button
            type="button"
            className="textlink whitespace-nowrap"
            onClick={() => setSteady(true)}
            data-testid="show-steady"
          >
            steady flow
          </button>
        )}
        <button type="button" className="textlink" onClick={showTables} data-testid="show-tables">
          tables
        </button>
      </div>
      {own && whole && width > 0 && <Overview path={path} sight={own} whole={whole} width={width} show={show} />}
      <div className="flex min-h-0 flex-1">
        {steady && <SteadyFlow profile={profile} shown={setProfile} leave={leave} />}
        {steady && profile && asTable && (
          <div className="min-w-0 flex-1 overflow-auto">
            <SteadyTable profile={profile} />
          </div>
        )}
        <div
          ref={ref}
          className={`min-h-0 min-w-0 flex-1 overflow-y-auto overflow-x-hidden ${steady && profile && asTable ? "hidden" : ""}`}
        >
          {network && path.length > 0 && width > 0 && (
            <Drawing
              path={path}
              width={width}
              height={height}
              steady={steady}
              profile={profile}
              shown={shown}
              along={along}
              exaggeration={exaggeration}
              sight={sight}
              look={show}
            />
          )}
          {sheet && <PrintedSection path={path} sheet={sheet} shown={shown} along={along} done={printed} />}
          {path.length === 0 && (
            <p className="p-4 text-ink3" data-testid="no-section">
              {apart || "No run to draw yet."}
            </p>
          )}
        </div>
      </div>
    </section>
  );
}

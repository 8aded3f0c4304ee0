import { Popover } from "radix-ui";
import { useMemo, useState } from "react";
import { runThrough, wayThrough } from "../../document/path";
import { useProject } from "../../document/store";
import { clock } from "../../document/units";
import { useWidth } from "../../instrument/useWidth";
import { Drawing } from "./Drawing";
import { RunShape } from "./RunShape";
import { type Profile, SteadyFlow } from "./SteadyFlow";

/** The way through the picked nodes where several are picked, or else the run of the picked element. */
function usePath(): string[] {
  const { network, cursor, picked } = useProject();
  return useMemo(() => {
    if (!network) return [];
    const nodes = [...picked].filter((id) => network.nodes[id]);
    const way = nodes.length > 1 ? wayThrough(network, nodes) : null;
    if (way) return way;
    // a catchment shows the run that takes its water
    return runThrough(network, network.catchments[cursor.element ?? ""]?.node ?? cursor.element);
  }, [network, cursor.element, picked]);
}

/** Ground, covers, pipes and water along a run, at the moment of the clock; levels are dragged and set on it. */
export function LongSection({ showTables }: { showTables: () => void }) {
  const { network, cursor, answer } = useProject();
  const [ref, width, height] = useWidth<HTMLDivElement>();
  const [steady, setSteady] = useState(false);
  const [profile, setProfile] = useState<Profile | null>(null);
  const leave = () => {
    setSteady(false);
    setProfile(null);
  };
  const path = usePath();
  const storm = answer?.storms.find((s) => s.key === cursor.storm);
  const first = network?.links[path[0] ?? ""];
  const last = network?.links[path[path.length - 1] ?? ""];
  return (
    <section className="flex min-h-0 min-w-0 flex-1 flex-col" aria-label="Long section">
      <div className="flex gap-3 px-2 py-1">
        <b className="text-[14px] font-semibold">Long section</b>
        {network && first && last && (
          <span className="truncate text-ink2">
            {network.nodes[first.upstream]?.name} to {network.nodes[last.downstream]?.name},{" "}
            {steady ? "steady flow" : storm ? `${storm.label} at ${clock(cursor.moment)}` : "as drawn"}
          </span>
        )}
        <span className="ml-auto truncate text-[11px] text-ink3">
          dotted: highest of every storm · dashed: least cover · drag ends of pipes and covers
        </span>
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
      <div className="flex min-h-0 flex-1">
        {steady && <SteadyFlow shown={setProfile} leave={leave} />}
        <div ref={ref} className="min-h-0 min-w-0 flex-1">
          {network && path.length > 0 && width > 0 && (
            <Drawing path={path} width={width} height={height} steady={steady} profile={profile} />
          )}
          {path.length === 0 && <p className="p-4 text-ink3">No run to draw yet.</p>}
        </div>
      </div>
    </section>
  );
}

import { useProject } from "../document/store";
import { useMoments } from "../document/useMoments";

/** Moments to jump to: the peak of what is picked, where a flood begins, when its store (or the largest) is half drained. */
export function Jumps() {
  const { network, series, cursor, point } = useProject();
  const moments = useMoments();
  if (!network || !series) return null;
  const element = cursor.element ?? "";
  const own = network.nodes[element] ?? network.links[element];
  const column =
    network.links[element] || own?.kind === "outfall"
      ? series.column(`flow:${network.links[element] ? element : (feeders(element)[0] ?? "")}`)
      : series.column(`level:${element}`);
  function feeders(node: string) {
    return Object.entries(network?.links ?? {}).flatMap(([id, link]) => (link.downstream === node ? [id] : []));
  }
  const peak = column && column.length > 0 ? (series.time[column.indexOf(Math.max(...column))] ?? null) : null;
  const flood = moments?.floods.find((f) => f.element === element) ?? moments?.floods[0];
  const drained = moments?.half_drained ?? {};
  const deepest = Object.keys(drained).sort((a, b) => rise(b) - rise(a))[0] ?? "";
  function rise(store: string) {
    return (series?.highest(`level:${store}`) ?? 0) - (series?.at(`level:${store}`, 0) ?? 0);
  }
  const store = element in drained ? element : deepest;
  const half = drained[store] ?? null;
  const jump = (key: string, word: string, moment: number | null, title: string, to?: string) => (
    <button
      type="button"
      className="textlink disabled:no-underline disabled:opacity-40"
      disabled={moment === null}
      title={title}
      onClick={() => moment !== null && point({ moment, ...(to && to !== cursor.element ? { element: to } : {}) })}
      data-testid={`jump-${key}`}
    >
      {word}
    </button>
  );
  return (
    <span className="flex gap-2" role="group" aria-label="jump to">
      {jump("peak", "peak", peak, own ? `peak of ${own.name}` : "pick an element")}
      {jump(
        "flood",
        "flood",
        flood?.begin ?? null,
        flood ? `flood of ${network.nodes[flood.element]?.name} begins` : "nothing floods",
        flood?.element,
      )}
      {jump(
        "half",
        "half-drained",
        half,
        store ? `${network.nodes[store]?.name} is half drained` : "no store",
        half ? store : undefined,
      )}
    </span>
  );
}

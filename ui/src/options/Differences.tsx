import { useProject } from "../document/store";
import type { Compared } from "./compared";

const NAMED = 6;
const GROUPS = { nodes: "nodes", links: "links", catchments: "catchments" } as const;

/** What an option has otherwise than the base, by name and field. */
export function Differences({ of, base }: { of: Compared; base: Compared }) {
  const { project, edit, say } = useProject();
  if (of === base) return null;
  /** Lay one element of that option into the one that is looked at, as it is there. */
  const take = (one: Compared["differences"][number]) => {
    const own = project?.options[of.option]?.network[one.group] as Record<string, unknown> | undefined;
    const value = own?.[one.element];
    if (value === undefined) return say(`${one.name} is not in ${of.name} any more`);
    void edit([{ op: "add", path: `/options/${base.option}/network/${one.group}/${one.element}`, value }]);
  };
  if (of.differences.length === 0) return <p className="text-[11px] text-ink3">the same network as {base.name}</p>;
  const counts = (Object.keys(GROUPS) as (keyof typeof GROUPS)[]).flatMap((group) => {
    const own = of.differences.filter((one) => one.group === group).length;
    return own ? [`${own} ${GROUPS[group]}`] : [];
  });
  return (
    <details className="text-[11px] leading-[14px]" data-testid={`differences-${of.name}`}>
      <summary>{counts.join(", ")} differ</summary>
      <ul className="max-h-[120px] overflow-y-auto">
        {of.differences.slice(0, 200).map((one) => (
          <li key={one.element}>
            <b className="font-semibold">{one.name}</b> {one.what}{" "}
            {one.what !== "removed" && (
              <button
                type="button"
                className="textlink"
                title={`as it is in ${of.name}`}
                onClick={() => take(one)}
                data-testid={`take-${one.name}`}
              >
                copy to {base.name}
              </button>
            )}
            {one.fields.length > 0 &&
              `: ${one.fields
                .slice(0, NAMED)
                .map((field) => field.replaceAll("_", " "))
                .join(", ")}`}
          </li>
        ))}
        {of.differences.length > 200 && <li className="text-ink3">and {of.differences.length - 200} more</li>}
      </ul>
    </details>
  );
}

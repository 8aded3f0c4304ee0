import { Popover } from "radix-ui";
import { useMemo, useState } from "react";
import { reach } from "../../document/reach";
import { useProject } from "../../document/store";
import { runThrough } from "../../kinds/path";
import { TABLES, unitOfColumn } from "../../tables/columns";
import { matching, type Query, RELATIONS } from "../../tables/query";

/** Picks elements together: along the run, above, below, or by what holds of them. */
export function PickMany() {
  const { project, network, fullBore, cursor, picked, pickAll, edit } = useProject();
  const [open, setOpen] = useState(false);
  const [query, setQuery] = useState<Query>({ table: "pipes", column: "section", relation: "<", value: "" });
  const table = TABLES.find((t) => t.key === query.table) ?? TABLES[0];
  const column = table?.columns.find((c) => c.key === query.column) ?? table?.columns[0];
  const found = useMemo(
    () => (network && open ? matching(network, query, fullBore) : []),
    [network, query, fullBore, open],
  );
  if (!network) return null;
  const element = cursor.element;
  const name = (network.nodes[element ?? ""] ?? network.links[element ?? ""])?.name;
  const take = (ids: Iterable<string>) => {
    pickAll(ids);
    setOpen(false);
  };
  const run = () => {
    const links = runThrough(network, element);
    return [...links, ...links.flatMap((id) => [network.links[id]?.upstream, network.links[id]?.downstream])].filter(
      (id) => id !== undefined,
    );
  };
  const set = (part: Partial<Query>) => setQuery({ ...query, ...part });
  const choice = "border-b border-ink3 bg-transparent";
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger className="textlink ml-auto" data-testid="pick-many">
        pick many{picked.size > 1 ? ` (${picked.size})` : ""}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="end"
          className="z-20 flex w-[330px] flex-col gap-2 border border-ink bg-hi p-3"
          data-testid="pick-page"
        >
          <p className="text-ink3">On the plan: Shift and a drag pick a box, Shift and a click add or take one.</p>
          {element && name && (
            <p className="flex gap-4">
              <button type="button" className="textlink" onClick={() => take(reach(network, element, "above"))}>
                above {name}
              </button>
              <button type="button" className="textlink" onClick={() => take(reach(network, element, "below"))}>
                below {name}
              </button>
              <button type="button" className="textlink" onClick={() => take(run())}>
                its run
              </button>
            </p>
          )}
          {project && project.selections.length > 0 && (
            <p className="flex flex-wrap gap-x-4" role="group" aria-label="kept selections">
              {project.selections.map((kept, i) => (
                // biome-ignore lint/suspicious/noArrayIndexKey: kept in the order in which they came, without ids
                <span key={i} className="whitespace-nowrap">
                  <button
                    type="button"
                    className="textlink"
                    onClick={() =>
                      take(
                        kept.elements.filter((id) => network.nodes[id] || network.links[id] || network.catchments[id]),
                      )
                    }
                    data-testid={`selection-${i}`}
                  >
                    {kept.name}
                  </button>
                  <button
                    type="button"
                    className="px-1 text-ink3"
                    aria-label={`forget ${kept.name}`}
                    onClick={() => void edit([{ op: "remove", path: `/selections/${i}` }])}
                  >
                    ×
                  </button>
                </span>
              ))}
            </p>
          )}
          <form
            className="flex flex-wrap items-baseline gap-2"
            onSubmit={(event) => {
              event.preventDefault();
              if (found.length) take(found);
            }}
          >
            <select
              className={choice}
              aria-label="kind of element"
              value={query.table}
              onChange={(e) => set({ table: e.target.value, column: "name" })}
            >
              {TABLES.map((t) => (
                <option key={t.key} value={t.key}>
                  {t.label}
                </option>
              ))}
            </select>
            where
            <select
              className={choice}
              aria-label="field"
              value={query.column}
              onChange={(e) => set({ column: e.target.value })}
            >
              {table?.columns.map((c) => (
                <option key={c.key} value={c.key}>
                  {c.label.toLowerCase()}
                </option>
              ))}
            </select>
            <select
              className={choice}
              aria-label="relation"
              value={query.relation}
              onChange={(e) => set({ relation: e.target.value as Query["relation"] })}
            >
              {RELATIONS.map((r) => (
                <option key={r}>{r}</option>
              ))}
            </select>
            <input
              className="field !w-20"
              aria-label="value"
              value={query.value}
              onChange={(e) => set({ value: e.target.value })}
              data-testid="query-value"
            />
            <span className="text-[11px] text-ink3">{column && unitOfColumn(column)}</span>
            <button
              type="submit"
              className="ml-auto bg-ink px-3 font-semibold text-hi disabled:opacity-40"
              disabled={found.length === 0}
              data-testid="pick-matching"
            >
              Pick {found.length}
            </button>
          </form>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

import { useState } from "react";
import { goesAlso } from "../document/selection";
import { type Change, useProject } from "../document/store";
import { NameForm } from "../primitives/NameForm";
import {
  type Column,
  cellChange,
  cellText,
  type Row,
  rowsOf,
  TABLES,
  type Table,
  unitOfColumn,
} from "../tables/columns";

/** Several elements picked together: what they share can be set for all of them at once. */
export function ManyCard() {
  const { network, picked, edit, apply, point, look } = useProject();
  const [naming, setNaming] = useState(false);
  if (!network) return null;
  const groups = TABLES.map((table) => ({ table, rows: rowsOf(network, table).filter((row) => picked.has(row.id)) }));
  const also = goesAlso(network, picked);
  return (
    <>
      <header className="mb-2 flex items-baseline border-b border-rule pb-1">
        <h2 className="text-[15px] font-semibold" data-testid="inspector-title">
          {picked.size} picked
        </h2>
        <button
          type="button"
          className="textlink ml-auto text-[11px]"
          title={also.length ? `takes ${also.slice(0, 20).join(", ")} with them` : undefined}
          data-testid="remove-picked"
          onClick={() => {
            void apply([{ edit: "remove", elements: [...picked] }]);
            point({ element: null });
          }}
        >
          remove{also.length ? ` with ${also.length} more link${also.length > 1 ? "s" : ""}` : " them"}
        </button>
      </header>
      {groups.map(({ table, rows }) => rows.length > 0 && <Group key={table.key} table={table} rows={rows} />)}
      <p className="mt-2 border-t border-rule pt-1">
        <button type="button" className="textlink" onClick={() => look("graphs")} data-testid="graph-picked">
          graph them together
        </button>
      </p>
      <p className="py-1">
        {!naming && (
          <button type="button" className="textlink" onClick={() => setNaming(true)} data-testid="keep-selection">
            keep as a selection
          </button>
        )}
      </p>
      {naming && (
        <NameForm
          label="name of the selection"
          keep={(name) => void edit([{ op: "add", path: "/selections/-", value: { name, elements: [...picked] } }])}
          leave={() => setNaming(false)}
          testId="selection-name"
        />
      )}
      <p className="mt-2 border-t border-rule pt-1 text-[11px] text-ink3">
        Drag one of them to move all, Ctrl C and Ctrl V on the plan to draw a copy.
      </p>
    </>
  );
}

function Group({ table, rows }: { table: Table; rows: Row[] }) {
  const { pickAll } = useProject();
  const columns = table.columns.filter((c) => !c.own && rows.some((row) => c.path?.(row.element)));
  return (
    <section aria-label={table.label}>
      <h3 className="mt-1 flex font-semibold">
        <button type="button" title="pick only these" onClick={() => pickAll(rows.map((row) => row.id))}>
          {table.label} {rows.length}
        </button>
      </h3>
      {columns.map((column) => (
        <Shared key={column.key} table={table} column={column} rows={rows} />
      ))}
    </section>
  );
}

/** One field of several elements: their common value, or that there are several; what is typed goes to all. */
function Shared({ table, column, rows }: { table: Table; column: Column; rows: Row[] }) {
  const { network, optionPath, edit } = useProject();
  const [typed, setTyped] = useState<string | null>(null);
  const [wrong, setWrong] = useState<string | null>(null);
  if (!network) return null;
  const values = new Set(rows.map((row) => cellText(column, row, network)));
  const [common = ""] = values.size === 1 ? values : [];
  const finish = () => {
    if (typed === null || typed.trim() === "" || typed === common) return setTyped(null);
    const changes: Change[] = [];
    for (const row of rows) {
      if (!column.path?.(row.element)) continue;
      const change = cellChange(table, column, row, network, optionPath, typed);
      if (typeof change === "string") return setWrong(`${row.element.name}: ${change}`);
      if (change) changes.push(change);
    }
    setWrong(null);
    setTyped(null);
    if (changes.length) void edit(changes);
  };
  return (
    <label className="flex items-center justify-between gap-2 py-[2px]">
      <span>{column.label}</span>
      <span className="flex items-baseline gap-1">
        <input
          className="field !w-20"
          value={typed ?? common}
          placeholder={values.size > 1 ? `${values.size} values` : ""}
          aria-label={`${column.label} of all`}
          aria-invalid={wrong !== null}
          title={wrong ?? undefined}
          data-testid={`all-${column.key}`}
          onChange={(event) => setTyped(event.target.value)}
          onBlur={finish}
          onKeyDown={(event) => {
            if (event.key === "Enter") finish();
            if (event.key === "Escape") {
              setTyped(null);
              setWrong(null);
            }
          }}
        />
        <span className="w-7 text-[11px] text-ink3">{unitOfColumn(column)}</span>
      </span>
    </label>
  );
}

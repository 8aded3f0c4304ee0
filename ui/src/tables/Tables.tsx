import { type ClipboardEvent, type KeyboardEvent, useEffect, useMemo, useRef, useState } from "react";
import { readBlock } from "../document/pastedBlock";
import { reach } from "../document/reach";
import { movesOthers } from "../document/standing";
import { useProject } from "../document/store";
import type { Edit, Network } from "../document/types";
import { PastedRows } from "../imports/PastedRows";
import { useWidth } from "../primitives/useWidth";
import {
  asDepths,
  type Column,
  cellChange,
  cellText,
  holds,
  inOrder,
  type Row,
  rowsOf,
  TABLES,
  type Table,
  unitOfColumn,
} from "./columns";
import { GridCell, type Staged } from "./GridCell";
import { byHeadings, headed, inPlace } from "./headings";
import { type NewRow, newRows } from "./newRows";

type Cell = { row: number; column: number };
const ROW = 22;
const keyOf = (id: string, column: Column) => `${id}/${column.key}`;

/** The elements of each kind as a grid: typed, pasted, filled down, sorted and filtered like a spreadsheet. */
export function Tables({ leave }: { leave: () => void }) {
  const { network, optionPath, fullBore, cursor, findings, depths, point, pickAll, edit, apply } = useProject();
  const [tab, setTab] = useState(1);
  const [order, setOrder] = useState<{ key: string; rising: boolean } | null>(null);
  const [filter, setFilter] = useState("");
  const [scope, setScope] = useState<{ label: string; ids: Set<string> } | null>(null);
  const [at, setAt] = useState<Cell>({ row: 0, column: 0 });
  const [to, setTo] = useState<Cell>({ row: 0, column: 0 });
  const [typing, setTyping] = useState<string | null>(null);
  const [staged, setStaged] = useState<Map<string, Staged> | null>(null);
  const [fresh, setFresh] = useState<NewRow[]>([]);
  const [size, setSize] = useState("");
  const [pasted, setPasted] = useState<string | null>(null);
  const [wrong, setWrong] = useState<{ key: string; why: string } | null>(null);
  const [scrolled, setScrolled] = useState(0);
  const [box, , height] = useWidth<HTMLDivElement>();
  const grid = useRef<HTMLDivElement>(null);
  const table = useMemo(() => {
    const plain = TABLES[tab] as Table;
    return depths ? asDepths(plain) : plain;
  }, [tab, depths]);

  const rows = useMemo(() => {
    if (!network) return [];
    const all = rowsOf(network, table, fullBore).filter((row) => !scope || scope.ids.has(row.id));
    const wanted = filter.trim().toLowerCase();
    const found = wanted
      ? all.filter((row) => table.columns.some((c) => cellText(c, row, network).toLowerCase().includes(wanted)))
      : all;
    const column = table.columns.find((c) => c.key === order?.key) ?? table.columns[0];
    return column ? inOrder(found, column, network, order?.rising ?? true) : found;
  }, [network, table, filter, scope, order, fullBore]);
  const marks = useMemo(() => {
    const found = new Map<string, string>();
    for (const f of findings) if (f.accepted === null) found.set(`${f.element}/${f.field}`, `${f.why}; ${f.remedy}`);
    return found;
  }, [findings]);

  // what is picked on the plan is brought into sight
  const picked = rows.findIndex((row) => row.id === cursor.element);
  useEffect(() => {
    const pane = grid.current;
    if (!pane || picked < 0) return;
    // after a sort or a filter the chosen cell stays on its element
    setAt((cell) => ({ ...cell, row: picked }));
    setTo((cell) => ({ ...cell, row: picked }));
    const top = picked * ROW;
    if (top < pane.scrollTop || top > pane.scrollTop + pane.clientHeight - 3 * ROW) pane.scrollTop = top - 2 * ROW;
  }, [picked]);

  // biome-ignore lint/correctness/useExhaustiveDependencies: only a new pick turns the page, not a page turned by hand
  useEffect(() => {
    const { element } = cursor;
    const held = network?.nodes[element ?? ""] ?? network?.links[element ?? ""] ?? network?.catchments[element ?? ""];
    if (!network || !element || !held) return;
    const page = TABLES.findIndex((t) => network[t.group][element] === held && holds(t, held));
    if (page >= 0 && page !== tab) turnTo(page);
  }, [cursor.element]);
  const turnTo = (page: number) => {
    setTab(page);
    setOrder(null);
    setStaged(null);
    setTyping(null);
    setAt({ row: 0, column: 0 });
    setTo({ row: 0, column: 0 });
  };

  if (!network) return null;
  const columns = table.columns;
  const box1 = { row: Math.min(at.row, to.row), column: Math.min(at.column, to.column) };
  const box2 = { row: Math.max(at.row, to.row), column: Math.max(at.column, to.column) };
  const first = Math.max(0, Math.floor(scrolled / ROW) - 4);
  const shown = rows.slice(first, first + Math.ceil(height / ROW) + 8);

  const move = (cell: Cell, extend = false) => {
    const next = {
      row: Math.max(0, Math.min(rows.length - 1, cell.row)),
      column: Math.max(0, Math.min(columns.length - 1, cell.column)),
    };
    if (!extend) setAt(next);
    setTo(next);
    if (extend) pickAll(rows.slice(Math.min(at.row, next.row), Math.max(at.row, next.row) + 1).map((row) => row.id));
    setTyping(null);
    setWrong(null);
    const row = rows[next.row];
    if (row && !extend) point({ element: row.id });
    grid.current?.focus();
  };
  const look = (column: Column, row: Row, text: string) => cellChange(table, column, row, network, optionPath, text);
  const commit = (text: string) => {
    const [row, column] = [rows[at.row], columns[at.column]];
    if (!row || !column) return false;
    const change = look(column, row, text);
    if (typeof change === "string") {
      setWrong({ key: keyOf(row.id, column), why: change });
      return false;
    }
    if (change && movesOthers(table.group, column.key))
      void apply([{ edit: "set", element: row.id, field: column.key, value: change.value }]);
    else if (change) edit([change]);
    setTyping(null);
    setWrong(null);
    return true;
  };
  /** Draw texts over the cells from the corner of the selection; nothing changes until they are accepted. */
  const stage = (block: string[][], what: string) => {
    const found = new Map<string, Staged>();
    for (const [i, line] of block.entries())
      for (const [j, text] of line.entries()) {
        const [row, column] = [rows[box1.row + i], columns[box1.column + j]];
        if (!row || !column) continue;
        const change = look(column, row, text);
        if (change === null) continue;
        const bad = typeof change === "string";
        found.set(keyOf(row.id, column), { text, change: bad ? null : change, wrong: bad ? change : null });
      }
    const beyond = block.slice(Math.max(0, rows.length - box1.row));
    setFresh(newRows(network, table, columns.slice(box1.column), beyond));
    setSize(`${what} of ${block.length} × ${block[0]?.length ?? 0}`);
    setStaged(found);
  };
  const paste = (event: ClipboardEvent) => {
    if (typing !== null) return;
    event.preventDefault();
    let block = readBlock(event.clipboardData.getData("text"));
    const one = block.length === 1 && block[0]?.length === 1 ? (block[0][0] ?? "") : null;
    if (one !== null)
      block = Array.from({ length: box2.row - box1.row + 1 }, () =>
        Array.from({ length: box2.column - box1.column + 1 }, () => one),
      );
    else if (headed(block, table, network)) {
      if (!inPlace(block[0] ?? [], columns.slice(box1.column)))
        return setPasted(byHeadings(block, table, rows.slice(box1.row)));
      block = block.slice(1);
    }
    stage(block, "Paste");
  };
  const copy = (event: ClipboardEvent) => {
    if (typing !== null) return;
    event.preventDefault();
    const lines = rows.slice(box1.row, box2.row + 1).map((row) =>
      columns
        .slice(box1.column, box2.column + 1)
        .map((column) => cellText(column, row, network).replace("−", "-"))
        .join("\t"),
    );
    event.clipboardData.setData("text/plain", lines.join("\n"));
  };
  const fillDown = () => {
    const top = rows[box1.row];
    if (!top || box2.row === box1.row) return;
    const line = columns.slice(box1.column, box2.column + 1).map((column) => cellText(column, top, network));
    stage(
      Array.from({ length: box2.row - box1.row + 1 }, () => line),
      "Fill",
    );
  };
  const accept = () => {
    // one step to undo, whatever it sets and adds
    const edits: Edit[] = [...(staged?.values() ?? [])].flatMap(({ change }) => {
      const [element = "", ...field] = change?.path.slice(`${optionPath}/${table.group}/`.length).split("/") ?? [];
      return change ? [{ edit: "set", element, field: field.join("/"), value: change.value }] : [];
    });
    for (const { edit } of fresh) if (edit) edits.push(edit);
    setStaged(null);
    if (edits.length) void apply(edits);
  };
  const keys = (event: KeyboardEvent) => {
    if (typing !== null) return;
    const step = {
      ArrowUp: [-1, 0],
      ArrowDown: [1, 0],
      ArrowLeft: [0, -1],
      ArrowRight: [0, 1],
      PageUp: [-15, 0],
      PageDown: [15, 0],
    }[event.key];
    const command = event.ctrlKey || event.metaKey;
    if (step) {
      const from = event.shiftKey ? to : at;
      move({ row: from.row + (step[0] ?? 0), column: from.column + (step[1] ?? 0) }, event.shiftKey);
    } else if (command && event.key === "d") fillDown();
    else if (command && event.key === "a") {
      setAt({ row: 0, column: 0 });
      setTo({ row: rows.length - 1, column: columns.length - 1 });
    } else if (command && event.key === "Home") move({ row: 0, column: 0 });
    else if (command && event.key === "End") move({ row: rows.length - 1, column: columns.length - 1 });
    else if (event.key === "Enter" && staged) accept();
    else if (event.key === "Escape" && staged) setStaged(null);
    else if (event.key === "Enter" || event.key === "F2") {
      const [row, column] = [rows[at.row], columns[at.column]];
      if (row && column?.path?.(row.element)) setTyping(cellText(column, row, network));
    } else if (event.key.length === 1 && !command) {
      const [row, column] = [rows[at.row], columns[at.column]];
      if (row && column?.path?.(row.element)) setTyping(event.key);
    } else return;
    event.preventDefault();
    event.stopPropagation();
  };
  const fit = [...(staged?.values() ?? [])].filter((cell) => cell.change).length;
  const bad = [...(staged?.values() ?? [])].filter((cell) => cell.wrong);
  const made = fresh.filter((row) => row.edit);
  const refused = fresh.filter((row) => row.wrong);

  return (
    <section className="flex min-h-0 min-w-0 flex-1 flex-col" aria-label="Tables">
      {staged ? (
        <p
          className="flex items-baseline gap-3 border-b border-rule2 bg-lo px-2 py-1"
          data-testid="staged"
          role="status"
        >
          <b className="font-semibold">{size}</b>
          <span>
            {fit} fit
            {bad.length > 0 && (
              <span className="font-semibold text-madder">
                , {bad.length} {bad.length > 1 ? "do" : "does"} not ({bad[0]?.wrong})
              </span>
            )}
            {made.length > 0 && `, ${made.length} new row${made.length > 1 ? "s" : ""}`}
            {refused.length > 0 && (
              <span className="font-semibold text-madder">
                , {refused.length} beyond the end make{refused.length > 1 ? "" : "s"} none ({refused[0]?.wrong})
              </span>
            )}
            ; nothing has changed yet
          </span>
          <button type="button" className="ml-auto border border-rule2 px-4" onClick={() => setStaged(null)}>
            Drop it
          </button>
          <button
            type="button"
            className="bg-ink px-4 font-semibold text-hi disabled:opacity-40"
            disabled={fit + made.length === 0}
            onClick={accept}
            data-testid="accept-staged"
          >
            Accept the {fit + made.length}
          </button>
        </p>
      ) : (
        <p className="flex items-baseline gap-1 px-2 py-1" role="tablist" aria-label="Kinds of element">
          {TABLES.map((each, i) => (
            <button
              key={each.key}
              type="button"
              role="tab"
              aria-selected={i === tab}
              data-testid={`table-${each.key}`}
              className={`whitespace-nowrap px-2 ${i === tab ? "bg-ink font-semibold text-hi" : "text-ink2"}`}
              onClick={() => turnTo(i)}
            >
              {each.label} {rowsOf(network, each).length}
            </button>
          ))}
          <select
            className="ml-auto mr-2 max-w-44 border-b border-ink3 bg-transparent"
            aria-label="Which rows"
            value={scope ? "scope" : "all"}
            onChange={(event) => {
              const way = event.target.value;
              if (way === "all") setScope(null);
              else if (cursor.element && (way === "above" || way === "below"))
                setScope({
                  label: `${way} ${named(network, cursor.element)}`,
                  ids: reach(network, cursor.element, way),
                });
            }}
            data-testid="scope"
          >
            <option value="all">all of them</option>
            {scope && <option value="scope">{scope.label}</option>}
            {cursor.element && <option value="above">above {named(network, cursor.element)}</option>}
            {cursor.element && <option value="below">below {named(network, cursor.element)}</option>}
          </select>
          <input
            className="field !w-36 !text-left"
            placeholder="filter"
            aria-label="Filter rows"
            value={filter}
            onChange={(event) => setFilter(event.target.value)}
            data-testid="filter-rows"
          />
          <button type="button" className="textlink ml-2" onClick={leave} data-testid="show-section">
            long section
          </button>
        </p>
      )}
      <div ref={box} className="min-h-0 min-w-0 flex-1">
        <div
          ref={grid}
          role="grid"
          aria-label={table.label}
          aria-rowcount={rows.length + 1}
          tabIndex={0}
          className="h-full overflow-auto outline-none"
          style={{ height }}
          onScroll={(event) => setScrolled(event.currentTarget.scrollTop)}
          onKeyDown={keys}
          onPaste={paste}
          onCopy={copy}
          data-testid="grid"
        >
          <table className="w-full border-collapse text-left">
            <thead className="sticky top-0 z-10 bg-lo">
              <tr className="border-b border-ink">
                {columns.map((column) => (
                  <th
                    key={column.key}
                    className={`whitespace-nowrap px-2 font-semibold ${column.quantity ? "text-right" : ""}`}
                    aria-sort={order?.key === column.key ? (order.rising ? "ascending" : "descending") : undefined}
                  >
                    <button
                      type="button"
                      title="sort"
                      onClick={() =>
                        setOrder({ key: column.key, rising: order?.key === column.key ? !order.rising : true })
                      }
                    >
                      {column.label} <span className="font-normal text-[11px] text-ink3">{unitOfColumn(column)}</span>
                      {order?.key === column.key && (order.rising ? " ↑" : " ↓")}
                    </button>
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {first > 0 && <tr style={{ height: first * ROW }} />}
              {shown.map((row, k) => {
                const i = first + k;
                return (
                  <tr
                    key={row.id}
                    aria-rowindex={i + 2}
                    className={row.id === cursor.element ? "bg-hi" : ""}
                    style={{
                      height: ROW,
                      boxShadow: row.id === cursor.element ? "inset 3px 0 0 var(--color-ink)" : "",
                    }}
                  >
                    {columns.map((column, j) => (
                      <GridCell
                        key={column.key}
                        column={column}
                        text={cellText(column, row, network)}
                        derived={!column.path?.(row.element)}
                        staged={staged?.get(keyOf(row.id, column))}
                        mark={marks.get(`${row.id}/${column.key}`)}
                        wrong={wrong?.key === keyOf(row.id, column) ? wrong.why : undefined}
                        active={i === at.row && j === at.column}
                        chosen={i >= box1.row && i <= box2.row && j >= box1.column && j <= box2.column}
                        typing={i === at.row && j === at.column ? typing : null}
                        pick={(extend) => move({ row: i, column: j }, extend)}
                        type={setTyping}
                        commit={(text, down) => {
                          if (commit(text)) move({ row: at.row + (down ? 1 : 0), column: at.column });
                        }}
                        cancel={() => move(at)}
                      />
                    ))}
                  </tr>
                );
              })}
              {first + shown.length < rows.length && (
                <tr style={{ height: (rows.length - first - shown.length) * ROW }} />
              )}
            </tbody>
          </table>
          {rows.length === 0 && <p className="p-3 text-ink3">{filter || scope ? "Nothing matches." : "None yet."}</p>}
          {pasted !== null && (
            <PastedRows
              text={pasted}
              into={table.label}
              kinds={table.kinds}
              close={() => {
                setPasted(null);
                grid.current?.focus();
              }}
            />
          )}
        </div>
      </div>
    </section>
  );
}

const named = (network: Network, id: string) =>
  (network.nodes[id] ?? network.links[id] ?? network.catchments[id])?.name ?? "";

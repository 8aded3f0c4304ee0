import { memo, useState } from "react";
import { useProject } from "../../document/store";
import { quoted, save } from "../graphs/out";
import { lanesOf } from "./lanes";

export type Cell = {
  text: string;
  sort: number | string;
  bad?: boolean;
  note?: string;
  /** A sign beside the word: over a limit, near one, or a bar of so much that is used. */
  mark?: "over" | "tight" | number;
  /** What a click on the cell shows, where that is another storm than the line's. */
  storm?: string | null;
  moment?: number | null;
};
/** group: what stands over several columns side by side; note: beside it. */
export type Column = {
  key: string;
  label: string;
  left?: boolean;
  downFirst?: boolean;
  group?: { name: string; note: string };
};
export type Kind = "nodes" | "links" | "storage" | "outfalls" | "pumps";
const KINDS: Kind[] = ["nodes", "links", "storage", "outfalls", "pumps"];
const TITLE: Record<Kind, string> = {
  nodes: "Nodes",
  links: "Links",
  storage: "Storage",
  outfalls: "Outfalls",
  pumps: "Pumps",
};
const ONE: Record<Kind, string> = {
  nodes: "Node",
  links: "Link",
  storage: "Store",
  outfalls: "Outfall",
  pumps: "Pumps",
};
/** An element's results: cells by column, and the storm that a click shows. */
export type Line = {
  id: string;
  name: string;
  storm: string | null;
  moment?: number | null;
  cells: Record<string, Cell>;
};

/** Nodes or links in flow order, from the heads of runs to the outfall; sorted by a column, filtered, copied, saved. */
export function ResultTable({
  title,
  columns,
  results,
}: {
  title: string;
  columns: Partial<Record<Kind, Column[]>>;
  results: Partial<Record<Kind, Line[]>>;
}) {
  const { network } = useProject();
  const [kind, setKind] = useState<Kind>("nodes");
  const [sort, setSort] = useState<{ column: string | null; down: boolean }>({ column: null, down: false });
  const [wanted, setWanted] = useState("");
  if (!network) return null;
  const lanes = lanesOf(network);
  const nodeOf = (id: string) => network.links[id]?.upstream ?? id;
  const words = wanted.toLowerCase().split(/\s+/).filter(Boolean);
  const lines = (results[kind] ?? []).filter((line) => {
    const text = [line.name, ...Object.values(line.cells).map((c) => c.text)].join(" ").toLowerCase();
    return words.every((word) => text.includes(word));
  });
  const order = (line: Line) => lanes.get(nodeOf(line.id))?.order ?? 0;
  lines.sort((a, b) => order(a) - order(b) || a.name.localeCompare(b.name, undefined, { numeric: true }));
  const { column, down } = sort;
  if (column)
    lines.sort((a, b) => {
      const [x, y] = column === "name" ? [a.name, b.name] : [a.cells[column]?.sort ?? "", b.cells[column]?.sort ?? ""];
      const by =
        typeof x === "number" && typeof y === "number"
          ? x - y
          : String(x).localeCompare(String(y), undefined, { numeric: true });
      return down ? -by : by;
    });
  const shown = columns[kind] ?? [];
  const grouped = shown.some((each) => each.group);
  const plain = (text: string) => text.replace("−", "-").replace("–", "");
  const rows = () => [
    [ONE[kind].toLowerCase(), ...shown.map((c) => (c.group ? `${c.group.name}: ${c.label}` : c.label))],
    ...lines.map((line) => [line.name, ...shown.map((c) => plain(line.cells[c.key]?.text ?? ""))]),
  ];
  const written = (cell: string) => (/^-?[\d.]+$/.test(cell) ? cell : quoted(cell));
  const csv = () =>
    rows()
      .map((cells) => cells.map(written).join(","))
      .join("\n");
  const heading = ({ key, label, left, downFirst }: Column) => (
    <th
      key={key}
      className={`whitespace-nowrap pl-2 font-normal last:pr-3 ${left ? "text-left" : "text-right"}`}
      aria-sort={column === key ? (down ? "descending" : "ascending") : "none"}
    >
      <button
        type="button"
        onClick={() => setSort({ column: key, down: column === key ? !down : downFirst === true })}
        className={column === key ? "font-semibold text-ink" : ""}
      >
        {label} {column === key ? (down ? "▾" : "▴") : ""}
      </button>
    </th>
  );
  return (
    <>
      <div className="flex items-baseline gap-3 border-b border-rule2 px-3 py-1">
        {KINDS.filter((each) => columns[each]).map((each) => (
          <button
            key={each}
            type="button"
            aria-pressed={kind === each}
            className={kind === each ? "font-semibold" : "text-ink3 underline"}
            onClick={() => {
              setKind(each);
              setSort({ column: null, down: false });
            }}
            data-testid={`results-${each}`}
          >
            {TITLE[each]}
          </button>
        ))}
        <input
          className="field !w-28 !text-left !font-sans"
          placeholder="name, state, storm"
          aria-label="filter"
          value={wanted}
          onChange={(event) => setWanted(event.target.value)}
          data-testid="results-filter"
        />
        <span className="text-[11px] text-ink3">{lines.length}</span>
        {column !== null && (
          <button type="button" className="textlink" onClick={() => setSort({ column: null, down: false })}>
            flow order
          </button>
        )}
        <span className="ml-auto flex gap-3">
          <button
            type="button"
            className="textlink"
            onClick={() =>
              void navigator.clipboard.writeText(
                rows()
                  .map((cells) => cells.join("\t"))
                  .join("\n"),
              )
            }
            data-testid="results-copy"
          >
            copy
          </button>
          <button
            type="button"
            className="textlink"
            onClick={() => save(new Blob([csv()], { type: "text/csv" }), `${kind}, ${title}.csv`)}
            data-testid="results-csv"
          >
            CSV
          </button>
        </span>
      </div>
      <table className="w-full" data-testid="result-table">
        <thead className="sticky top-0 z-10 bg-paper">
          {grouped && (
            <tr className="text-[11px] text-ink2">
              <th />
              {groupsOf(shown).map(({ group, span }) => (
                <th key={group?.name} colSpan={span} className="border-b border-rule2 py-1 pl-2 text-left font-normal">
                  <b className="font-semibold text-ink">{group?.name}</b> {group?.note}
                </th>
              ))}
            </tr>
          )}
          <tr className="border-b border-ink text-[11px] text-ink3">
            {heading({ key: "name", label: ONE[kind], left: true })}
            {shown.map(heading)}
          </tr>
        </thead>
        <tbody>
          {lines.map((line) => (
            <Row
              key={line.id}
              line={line}
              columns={shown}
              lane={column === null ? Math.min(lanes.get(nodeOf(line.id))?.lane ?? 0, 4) : null}
            />
          ))}
        </tbody>
      </table>
    </>
  );
}

/** Columns side by side under one name. */
function groupsOf(columns: Column[]) {
  const found: { group: Column["group"]; span: number }[] = [];
  for (const { group } of columns) {
    const last = found.at(-1);
    if (last && last.group?.name === group?.name) last.span += 1;
    else found.push({ group, span: 1 });
  }
  return found;
}

/** The sign of a state, which survives a copier: hatched over a limit, dotted near it, a bar of what is used. */
function Mark({ mark }: { mark: NonNullable<Cell["mark"]> }) {
  if (typeof mark === "number")
    return (
      <svg width={46} height={9} className="mr-1 inline" aria-hidden="true">
        <rect width={45} height={8} fill="none" stroke="var(--color-rule2)" />
        <rect width={45 * Math.min(mark, 1)} height={8} fill={mark > 1 ? "url(#over)" : "var(--color-water3)"} />
      </svg>
    );
  return (
    <svg width={11} height={9} className="mr-1 inline" aria-hidden="true">
      <rect width={11} height={9} fill={`url(#${mark})`} />
    </svg>
  );
}

/** One element's line; a thousand of them stand still while the cursor moves elsewhere. */
const Row = memo(function Row({ line, columns, lane }: { line: Line; columns: Column[]; lane: number | null }) {
  const picked = useProject((s) => s.cursor.element === line.id);
  const point = useProject((s) => s.point);
  return (
    <tr
      className={`cursor-pointer border-b border-rule ${picked ? "bg-hi outline outline-1 outline-ink" : ""}`}
      onClick={() =>
        point({
          element: line.id,
          ...(line.storm ? { storm: line.storm } : {}),
          ...(line.moment != null ? { moment: line.moment } : {}),
        })
      }
    >
      <td className="whitespace-nowrap px-2 py-[3px]">
        {lane !== null && (
          <span
            className="mr-1 inline-block border-l border-rule2 text-transparent"
            style={{ marginLeft: lane * 7, width: 5 }}
            aria-hidden="true"
          >
            ·
          </span>
        )}
        <button type="button" className="font-semibold">
          {line.name}
        </button>
      </td>
      {columns.map(({ key, left }) => {
        const cell = line.cells[key];
        return (
          <td
            key={key}
            title={cell?.note}
            onClick={
              cell?.storm
                ? (event) => {
                    event.stopPropagation();
                    point({ element: line.id, storm: cell.storm ?? null, moment: cell.moment ?? 0 });
                  }
                : undefined
            }
            className={`whitespace-nowrap pl-2 last:pr-3 ${left ? "text-left text-ink2" : "figure text-right"} ${cell?.bad ? "font-semibold !text-madder" : ""}`}
          >
            {cell?.mark !== undefined && <Mark mark={cell.mark} />}
            {cell?.text ?? "–"}
          </td>
        );
      })}
    </tr>
  );
});

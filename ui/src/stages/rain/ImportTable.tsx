import { useEffect, useState } from "react";
import { api, call } from "../../api/client";
import type { components } from "../../api/schema";
import { useProject } from "../../document/store";
import type { Rainfall } from "../../document/types";
import { show, unitOf } from "../../document/units";
import { polyline } from "../../primitives/polyline";
import { SmallTable } from "./SmallTable";

/** Shows what must be answered: it may lie below the fold. */
const intoView = (element: HTMLElement | null) => element?.scrollIntoView({ block: "end" });

type Read = components["schemas"]["ReadTable"];
type Choices = components["schemas"]["Choices"];
type Asked = keyof Read["understood"];

const ASKED: [Asked, string, Record<string, string>][] = [
  ["measure", "holds", { depth: "depths", intensity: "intensities" }],
  ["unit", "in", { mm: "mm", in: "inches" }],
  ["durations", "durations", { across: "across", down: "down" }],
  ["time", "in", { min: "minutes", h: "hours" }],
  ["probability", "return period as", { years: "years", aep: "AEP" }],
];

/** A whole table from a spreadsheet or a CSV: how it was understood is shown, and may be overruled, before it is used. */
export function ImportTable({ present, path }: { present: Rainfall | null; path: string }) {
  const fresh = present === null;
  const { project, edit } = useProject();
  const [asked, setOpen] = useState(false);
  const [text, setText] = useState("");
  const [source, setSource] = useState("pasted");
  const [chosen, setChosen] = useState<Choices>({});
  const [found, setFound] = useState<Read | string | null>(null);
  const assume = project?.units === "us" ? "in" : "mm";
  useEffect(() => {
    if (!text.trim()) return setFound(null);
    let current = true;
    call(
      api.POST("/api/rain/table", {
        params: { query: { ...chosen, assume } },
        body: text as never,
        bodySerializer: (body) => body as unknown as string,
      }),
    ).then(
      (read) => current && setFound(read),
      (error) => current && setFound(error instanceof Error ? error.message : String(error)),
    );
    return () => {
      current = false;
    };
  }, [text, chosen, assume]);
  if (!asked && !fresh)
    return (
      <span className="mt-1 flex gap-4">
        <button type="button" className="textlink" onClick={() => setOpen(true)} data-testid="other-table">
          another table
        </button>
        {present?.kind === "table" && (
          <button
            type="button"
            className="textlink"
            title="add or take out durations and return periods"
            onClick={() => {
              setSource(present.source);
              setText(textFrom(present));
              setOpen(true);
            }}
            data-testid="table-as-text"
          >
            this table as text
          </button>
        )}
      </span>
    );
  const read = found !== null && typeof found !== "string" ? found : null;
  const close = () => {
    setText("");
    setChosen({});
    setOpen(false);
  };
  return (
    <div className="mt-2 w-full border-t border-rule pt-2">
      <p className="flex items-baseline gap-3">
        <label htmlFor="table-text">
          <b className="font-semibold">Paste a rainfall table</b> with its headings: durations one way, return periods
          or AEPs the other
        </label>
        <label className="textlink cursor-pointer focus-within:outline">
          or choose a CSV
          <input
            type="file"
            accept=".csv,.txt,.tsv"
            className="sr-only"
            onChange={async (event) => {
              const file = event.target.files?.[0];
              if (!file) return;
              setSource(file.name);
              setText(await textOf(file));
            }}
            data-testid="table-file"
          />
        </label>
      </p>
      <div className="mt-1 flex gap-3">
        <textarea
          id="table-text"
          className="figure block h-24 min-w-0 flex-1 bg-hi p-1"
          value={text}
          onChange={(event) => {
            if (!text) setSource("pasted");
            setText(event.target.value);
          }}
          data-testid="table-text"
        />
        {read && !read.other && <Preview table={read.table} />}
      </div>
      {read?.other && (
        <div ref={intoView} role="group" aria-label="Two readings" className="mt-1" data-testid="two-readings">
          <p className="font-semibold text-ochre-ink">
            Nothing in it says which headings are durations. Which of the two is your table?
          </p>
          <div className="flex gap-6 pt-1">
            {(
              [
                [read.understood.durations, read.table],
                [read.understood.durations === "down" ? "across" : "down", read.other],
              ] as const
            ).map(([way, table]) => (
              <figure key={way}>
                <ReadingDrawn table={table} />
                <figcaption>
                  <button
                    type="button"
                    className="border border-ink px-2"
                    onClick={() => setChosen({ ...chosen, durations: way })}
                    data-testid={`reading-${way}`}
                  >
                    durations {way}: {table.durations.map((d) => `${d}`).join(", ")} min
                  </button>
                </figcaption>
              </figure>
            ))}
          </div>
        </div>
      )}
      {read && (
        <p className="flex flex-wrap items-center gap-x-3 pt-1" data-testid="understood">
          {ASKED.map(([field, label, options]) => (
            <label key={field} className="flex items-center gap-1">
              {label}
              <select
                className={`border-b bg-transparent ${read.assumed.includes(field) ? "border-ochre text-ochre-ink" : "border-ink3"}`}
                value={read.understood[field] ?? ""}
                onChange={(event) => setChosen({ ...chosen, [field]: event.target.value })}
                data-testid={`understood-${field}`}
              >
                {Object.entries(options).map(([key, word]) => (
                  <option key={key} value={key}>
                    {word}
                  </option>
                ))}
              </select>
              {read.assumed.includes(field) && <span className="text-[11px] text-ochre-ink">assumed</span>}
            </label>
          ))}
        </p>
      )}
      <p className="flex items-center gap-3 pt-1">
        <span className={typeof found === "string" ? "text-madder" : "text-ink3"} data-testid="table-found">
          {found === null
            ? "nothing pasted yet"
            : typeof found === "string"
              ? found
              : `${found.table.return_periods.length} return periods, ${found.table.durations.length} durations`}
        </span>
        <button
          type="button"
          className="ml-auto h-6 bg-ink px-4 font-semibold text-hi"
          disabled={!read || read.other !== null}
          onClick={() => {
            if (read) void edit([{ op: "replace", path, value: { ...read.table, source } }]).then(close);
          }}
          data-testid="use-table"
        >
          Use this table
        </button>
        {!fresh && (
          <button type="button" className="textlink" onClick={close}>
            keep the old one
          </button>
        )}
      </p>
    </div>
  );
}

/** Depth by duration for each return period, as one reading has it. */
function ReadingDrawn({ table }: { table: Read["table"] }) {
  const [width, height, left] = [230, 96, 26];
  const { durations, depths, return_periods: periods } = table;
  const [from, to] = [Math.log(durations[0] ?? 1), Math.log(durations.at(-1) ?? 2)];
  const most = Math.max(...depths.flat(), 1e-9);
  const x = (d: number) => left + ((Math.log(d) - from) / Math.max(to - from, 1e-9)) * (width - left - 40);
  const y = (mm: number) => height - 16 - (mm / most) * (height - 24);
  return (
    <svg width={width} height={height} role="img" aria-label={`depths by duration, ${periods.length} return periods`}>
      <line x1={left} x2={width - 40} y1={y(0)} y2={y(0)} stroke="var(--color-ink)" />
      <text x={left} y={height - 4} fontSize={10.5} className="figure">
        {durations[0]}
      </text>
      <text x={width - 40} y={height - 4} fontSize={10.5} className="figure" textAnchor="end">
        {durations.at(-1)} min
      </text>
      <text x={2} y={y(most) + 8} fontSize={10.5} className="figure">
        {show(most, "rain", 0)}
      </text>
      {depths.map((row, i) => (
        <g key={periods[i]}>
          <polyline
            points={polyline(row, (mm, j) => [x(durations[j] ?? 1), y(mm)])}
            fill="none"
            stroke="var(--color-water4)"
          />
          <text x={width - 36} y={y(row.at(-1) ?? 0) + 4} fontSize={10.5} className="figure">
            {periods[i]} yr
          </text>
        </g>
      ))}
    </svg>
  );
}

/** The table as it would be kept. */
function Preview({ table }: { table: Read["table"] }) {
  return (
    <div className="max-h-24 max-w-[60%] overflow-auto">
      <SmallTable
        label="The table as it was read"
        corner={unitOf("rain")}
        durations={table.durations}
        periods={table.return_periods}
        cell={(i, j) => show(table.depths[i]?.[j], "rain")}
      />
    </div>
  );
}

/** A table as it may be typed over: tabs between cells, units in the headings. */
function textFrom({ durations, return_periods, depths }: Extract<Rainfall, { kind: "table" }>): string {
  const cell = (mm: number) => String(Number(show(mm, "rain", 6)));
  const head = [`depth ${unitOf("rain")}`, ...durations.map((d) => `${d} min`)];
  const rows = return_periods.map((t, i) => [`${t} yr`, ...(depths[i] ?? []).map(cell)]);
  return [head, ...rows].map((cells) => cells.join("\t")).join("\n");
}

/** The text of a file by its byte order mark, else UTF-8, else Windows-1252; as the server reads texts. */
async function textOf(file: File): Promise<string> {
  const bytes = new Uint8Array(await file.slice(0, 4_000_000).arrayBuffer());
  const wide = (bytes[0] === 0xff && bytes[1] === 0xfe) || (bytes[0] === 0xfe && bytes[1] === 0xff);
  if (wide) return new TextDecoder(bytes[0] === 0xff ? "utf-16le" : "utf-16be").decode(bytes);
  try {
    return new TextDecoder("utf-8", { fatal: true }).decode(bytes);
  } catch {
    return new TextDecoder("windows-1252").decode(bytes);
  }
}

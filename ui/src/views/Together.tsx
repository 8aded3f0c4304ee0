import { useRef, useState } from "react";
import type { StormSeries } from "../document/series";
import { useProject } from "../document/store";
import { clock, type Quantity, show, unitOf } from "../document/units";
import { RainBars } from "./RainBars";

const [WIDE, HIGH, LEFT] = [246, 150, 34];
const MOST = 8; // lines that can be told apart
const DASHES = ["", "6 2", "2 2", "8 2 2 2", "1 3", "10 3", "4 4", "6 2 1 2 1 2"];

/** Several elements of one storm in one graph: levels or flows, each line with its own dashes; out as SVG and CSV. */
export function Together({ ids }: { ids: string[] }) {
  const { network, series, cursor, answer, project } = useProject();
  const [kind, setKind] = useState<"level" | "flow">("level");
  const drawing = useRef<SVGSVGElement>(null);
  if (!series || !network || !project) return null;
  const all = ids.filter((id) => series.column(`${kind}:${id}`) !== undefined);
  const shown = all.slice(0, MOST);
  const quantity: Quantity = kind;
  const name = (id: string) => network.nodes[id]?.name ?? network.links[id]?.name ?? "";
  const storm = answer?.storms.find((s) => s.key === cursor.storm)?.label ?? "";
  return (
    <figure className="mt-2 border-t border-rule pt-1" data-testid="together">
      <figcaption className="flex items-baseline gap-2">
        <b className="font-semibold">Together</b>
        {(["level", "flow"] as const).map((each) => (
          <button
            key={each}
            type="button"
            aria-pressed={kind === each}
            className={kind === each ? "font-semibold" : "text-ink3 underline"}
            onClick={() => setKind(each)}
          >
            {each === "level" ? "levels" : "flows"}
          </button>
        ))}
        {shown.length > 0 && (
          <span className="ml-auto flex gap-2 text-[11px]">
            <button
              type="button"
              className="textlink"
              onClick={() => drawing.current && save(svgOf(drawing.current), "image/svg+xml", `${kind}.svg`)}
            >
              SVG
            </button>
            <button
              type="button"
              className="textlink"
              onClick={() => save(csvOf(series, all, kind, name), "text/csv", `${kind}.csv`)}
              data-testid="together-csv"
            >
              CSV
            </button>
          </span>
        )}
      </figcaption>
      {shown.length === 0 ? (
        <p className="text-[11px] text-ink3">none of them has a {kind}</p>
      ) : (
        <Lines series={series} ids={shown} kind={kind} quantity={quantity} name={name} storm={storm} target={drawing} />
      )}
      {all.length > MOST && (
        <p className="text-[11px] text-ink3">
          the first {MOST} of {all.length} are drawn; the CSV holds all
        </p>
      )}
    </figure>
  );
}

function Lines({
  series,
  ids,
  kind,
  quantity,
  name,
  storm,
  target,
}: {
  series: StormSeries;
  ids: string[];
  kind: string;
  quantity: Quantity;
  name: (id: string) => string;
  storm: string;
  target: React.RefObject<SVGSVGElement | null>;
}) {
  const { cursor, point } = useProject();
  const lines = ids.map((id) => ({ id, values: series.column(`${kind}:${id}`) ?? new Float32Array() }));
  const low = Math.min(...lines.map(({ values }) => Math.min(...values)), ...(kind === "flow" ? [0] : []));
  const high = Math.max(...lines.map(({ values }) => Math.max(...values)), low + (kind === "flow" ? 1e-6 : 0.05));
  const x = (t: number) => LEFT + (t / Math.max(series.end, 1)) * (WIDE - LEFT - 2);
  const y = (v: number) => 26 + (1 - (v - low) / (high - low)) * (HIGH - 44);
  return (
    <>
      <svg
        ref={target}
        width={WIDE}
        height={HIGH}
        viewBox={`0 0 ${WIDE} ${HIGH}`}
        role="img"
        aria-label={`${kind} of ${ids.map(name).join(", ")}, ${storm}`}
      >
        <title>{storm}</title>
        <RainBars series={series} x={x} />
        {lines.map(({ id, values }, k) => (
          <polyline
            key={id}
            points={Array.from(values, (v, i) => `${x(series.time[i] ?? 0).toFixed(1)},${y(v).toFixed(1)}`).join(" ")}
            fill="none"
            stroke={k % 2 ? "var(--color-ink)" : "var(--color-water4)"}
            strokeWidth={1.4}
            strokeDasharray={DASHES[k]}
          />
        ))}
        <line x1={LEFT} x2={WIDE - 2} y1={HIGH - 18} y2={HIGH - 18} stroke="var(--color-ink)" />
        <line x1={x(cursor.moment)} x2={x(cursor.moment)} y1={0} y2={HIGH - 18} stroke="var(--color-ink)" />
        {[low, high].map((v) => (
          <text key={v} x={LEFT - 3} y={y(v) + 4} fontSize={10.5} textAnchor="end" className="figure">
            {show(v, quantity, kind === "level" ? 2 : undefined)}
          </text>
        ))}
        <text x={LEFT} y={HIGH - 5} fontSize={10.5} className="figure">
          00:00
        </text>
        <text x={WIDE - 2} y={HIGH - 5} fontSize={10.5} textAnchor="end" className="figure">
          {clock(series.end)}
        </text>
      </svg>
      {lines.map(({ id }, k) => (
        <p key={id} className="flex items-center gap-2 text-[11px]">
          <svg width={26} height={8} aria-hidden="true">
            <line
              x1={0}
              x2={26}
              y1={4}
              y2={4}
              stroke={k % 2 ? "var(--color-ink)" : "var(--color-water4)"}
              strokeWidth={1.4}
              strokeDasharray={DASHES[k]}
            />
          </svg>
          <button type="button" className="textlink" onClick={() => point({ element: id })}>
            {name(id)}
          </button>
          <span className="figure ml-auto">
            {show(series.at(`${kind}:${id}`, cursor.moment), quantity)} {unitOf(quantity)}
          </span>
        </p>
      ))}
    </>
  );
}

/** A row for each moment, a column for each element, in the units that are read. */
export function csvOf(
  series: StormSeries,
  ids: string[],
  kind: "level" | "flow",
  name: (id: string) => string,
): string {
  // a name must not begin a formula in a spreadsheet
  const quoted = (text: string) => `"${text.replace(/^[=+@-]/, "'$&").replaceAll('"', '""')}"`;
  const head = ["time s", ...ids.map((id) => quoted(`${name(id)} ${kind} ${unitOf(kind)}`))];
  const rows = Array.from(series.time, (t, i) => [
    t.toFixed(1),
    ...ids.map((id) => show(series.column(`${kind}:${id}`)?.[i], kind, 4).replace("−", "-")),
  ]);
  return [head, ...rows].map((cells) => cells.join(",")).join("\n");
}

/** A drawing that stands alone: colours of the page are written into it. */
function svgOf(drawing: SVGSVGElement): string {
  const copy = drawing.cloneNode(true) as SVGSVGElement;
  copy.setAttribute("xmlns", "http://www.w3.org/2000/svg");
  const style = getComputedStyle(document.documentElement);
  return copy.outerHTML.replace(/var\((--[\w-]+)\)/g, (_, key: string) => style.getPropertyValue(key).trim() || "#000");
}

function save(text: string, type: string, name: string) {
  const address = URL.createObjectURL(new Blob([text], { type }));
  const link = document.createElement("a");
  link.href = address;
  link.download = name;
  link.click();
  URL.revokeObjectURL(address);
}

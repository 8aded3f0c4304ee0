import { useQuery } from "@tanstack/react-query";
import { useNavigate } from "react-router";
import { api, call } from "../../api/client";
import type { components } from "../../api/schema";
import { marks } from "../../document/span";
import { useProject } from "../../document/store";
import { clock, show, unitOf } from "../../document/units";
import { polyline } from "../../primitives/polyline";
import { useWidth } from "../../primitives/useWidth";

type Out = components["schemas"]["BoundariesOut"];
type Boundary = components["schemas"]["Boundary"];
const [ROW, FOOT] = [26, 22];

/** Inflows and tail waters of all nodes: what they are, and how long each is given against how long the storms last. */
export function Boundaries() {
  const { id, option, revision, answer, network, point } = useProject();
  const navigate = useNavigate();
  const [ref, width] = useWidth<HTMLDivElement>();
  const { data } = useQuery({
    queryKey: ["boundaries", id, option, revision, answer?.version],
    enabled: !!id,
    placeholderData: (old) => old,
    queryFn: () =>
      call(
        api.GET("/api/projects/{project_id}/options/{option}/boundaries", {
          params: { path: { project_id: id ?? "", option } },
        }),
      ) as Promise<Out>,
  });
  if (!data || !network) return null;
  const [shortest, longest] = data.rain ?? [0, 0];
  const end = Math.max(longest, data.run ?? 0, 3600) * 1.04;
  const ticks = marks([0, end], 10);
  const x = (t: number) => (Math.min(Math.max(t, 0), end) / end) * width;
  const lines = [
    ...(shortest < longest ? [{ at: shortest, text: "shortest rain" }] : []),
    { at: longest, text: "longest rain" },
    ...(data.run ? [{ at: data.run, text: `last storm ends${data.missing ? ", so far" : ""}` }] : []),
  ].filter(({ at }) => at > 0);
  const pick = (one: Boundary) => {
    point({ element: one.element });
    navigate(`/p/${id}/network`);
  };
  return (
    <section aria-label="Boundaries" data-testid="boundaries">
      <p className="py-1 text-ink2">
        What is given at the edges of the network. A bar lasts as long as it is given; what goes on behind it stands
        beside. {data.missing && <span className="text-ochre-ink">{data.missing}.</span>}
      </p>
      {data.boundaries.length === 0 && <p className="py-2 text-ink3">No inflow and no tail water is given.</p>}
      <div className="flex">
        <table className="shrink-0">
          <thead>
            <tr className="h-[22px] text-left text-[11px] text-ink3">
              <th className="pr-4 font-normal">at</th>
              <th className="pr-4 font-normal">what</th>
              <th className="pr-3 text-right font-normal">least</th>
              <th className="pr-4 text-right font-normal">most</th>
              <th className="pr-4 font-normal">then</th>
            </tr>
          </thead>
          <tbody>
            {data.boundaries.map((one, k) => {
              const of = one.what === "inflow" ? "flow" : "level";
              return (
                // biome-ignore lint/suspicious/noArrayIndexKey: a node may have several alike
                <tr key={k} className="border-b border-rule" style={{ height: ROW }}>
                  <td className="pr-4">
                    <button type="button" className="textlink" onClick={() => pick(one)}>
                      {network.nodes[one.element]?.name}
                    </button>
                  </td>
                  <td className="whitespace-nowrap pr-4">
                    {one.what}, {one.kind}
                  </td>
                  <td className="figure pr-3 text-right">{show(one.least, of)}</td>
                  <td className="figure whitespace-nowrap pr-4 text-right">
                    {show(one.most, of)} {one.most === null ? "" : unitOf(of)}
                  </td>
                  <td className={`whitespace-nowrap pr-4 ${one.short ? "font-semibold text-ochre-ink" : "text-ink2"}`}>
                    {one.short && "ends in the rain; "}
                    {one.after}
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
        <div ref={ref} className="min-w-[180px] flex-1">
          {width > 0 && data.boundaries.length > 0 && (
            <svg
              width={width}
              height={22 + data.boundaries.length * ROW + FOOT}
              role="img"
              aria-label="how long each is given"
            >
              {data.boundaries.map((one, k) => (
                // biome-ignore lint/suspicious/noArrayIndexKey: a node may have several alike
                <Bar key={k} one={one} top={22 + k * ROW} x={x} end={end} />
              ))}
              {lines.map(({ at, text }, k) => (
                <g key={text}>
                  <line
                    x1={x(at)}
                    x2={x(at)}
                    y1={14}
                    y2={22 + data.boundaries.length * ROW}
                    stroke="var(--color-ink)"
                    strokeDasharray={text.includes("rain") ? "3 3" : ""}
                  />
                  <text
                    x={x(at) + (x(at) > width / 2 ? -3 : 3)}
                    y={10}
                    fontSize={10.5}
                    textAnchor={x(at) > width / 2 ? "end" : "start"}
                    fill="var(--color-ink2)"
                  >
                    {Math.abs(x(at) - x(lines[k + 1]?.at ?? -1e9)) < 90 ? "" : text}
                  </text>
                </g>
              ))}
              {ticks.at.map((t) => (
                <text
                  key={t}
                  x={x(t)}
                  y={22 + data.boundaries.length * ROW + 15}
                  fontSize={10.5}
                  className="figure"
                  textAnchor={t === 0 ? "start" : "middle"}
                >
                  {clock(t)}
                </text>
              ))}
            </svg>
          )}
        </div>
      </div>
    </section>
  );
}

/** How long one is given, with its course where it varies. */
function Bar({ one, top, x, end }: { one: Boundary; top: number; x: (t: number) => number; end: number }) {
  const last = one.end ?? end;
  const [low, high] = [one.least ?? 0, one.most ?? 0];
  const y = (v: number) => top + ROW - 6 - ((v - low) / Math.max(high - low, 1e-9)) * (ROW - 11);
  const day = 86_400;
  const rows =
    one.end === null && one.rows.length > 0
      ? Array.from({ length: Math.ceil(end / day) }, (_, d) =>
          one.rows.map(([t, v]): [number, number] => [Number(t) + d * day, Number(v)]),
        ).flat()
      : one.rows.map(([t, v]): [number, number] => [Number(t), Number(v)]);
  return (
    <g>
      <rect
        x={x(one.begin)}
        y={top + 3}
        width={Math.max(x(last) - x(one.begin), 2)}
        height={ROW - 6}
        fill={one.short ? "url(#tight)" : "var(--color-water1)"}
        stroke="var(--color-rule2)"
      >
        <title>{one.end === null ? "without end" : `${clock(one.begin)} to ${clock(one.end)}`}</title>
      </rect>
      {rows.length > 1 && (
        <polyline
          points={polyline(
            rows.filter(([t]) => t <= end),
            ([t, v]) => [x(t), y(v)],
          )}
          fill="none"
          stroke="var(--color-water5)"
        />
      )}
    </g>
  );
}

import { useEffect, useState } from "react";
import { api, call } from "../../api/client";
import type { components } from "../../api/schema";
import { useProject } from "../../document/store";
import { clock, show, unitOf } from "../../document/units";
import { useWidth } from "../../primitives/useWidth";

type Rain = components["schemas"]["StormRain"];

/** The chosen storm: its rain, what has fallen and, for a catchment, what runs off; between them the losses. */
export function StormRain() {
  const { id, option, revision, network, cursor, answer, edit } = useProject();
  const grounds = Object.entries(network?.catchments ?? {});
  const [chosen, setChosen] = useState<string | null>(null);
  const [rain, setRain] = useState<Rain | null>(null);
  const [ref, width, height] = useWidth<HTMLDivElement>();
  const picked = network?.catchments[cursor.element ?? ""] ? cursor.element : null;
  const catchment = picked ?? (chosen && network?.catchments[chosen] ? chosen : (grounds[0]?.[0] ?? null));
  const known = answer?.storms.find((s) => s.key === cursor.storm);
  const storm = answer?.storms.some((s) => s.key === cursor.storm) ? cursor.storm : null;
  // biome-ignore lint/correctness/useExhaustiveDependencies: another revision may give another runoff
  useEffect(() => {
    if (!id || !storm) return setRain(null);
    let current = true;
    const path = { project_id: id, option, storm };
    const query = catchment ? { catchment } : {};
    call(api.GET("/api/projects/{project_id}/options/{option}/storms/{storm}/rain", { params: { path, query } })).then(
      (found) => current && setRain(found as Rain),
      () => current && setRain(null), // the answer's own state says what is wrong
    );
    return () => {
      current = false;
    };
  }, [id, revision, storm, catchment]);
  return (
    <section className="flex min-h-[190px] flex-col" aria-label="Storm" data-testid="storm-rain">
      <p className="flex items-baseline gap-3">
        <b className="text-[14px] font-semibold">Storm</b>
        <span className="truncate text-ink2">{rain?.label ?? "pick one in the matrix"}</span>
        <select
          className="ml-auto max-w-40 border-b border-ink3 bg-transparent"
          aria-label="catchment"
          value={catchment ?? ""}
          onChange={(event) => setChosen(event.target.value)}
        >
          {grounds.map(([key, ground]) => (
            <option key={key} value={key}>
              {ground.name}
            </option>
          ))}
        </select>
      </p>
      <div ref={ref} className="min-h-0 flex-1">
        {rain && width > 0 && <Drawing rain={rain} width={width} height={height} />}
      </div>
      {rain && (
        <p className="text-[11px] text-ink2">
          {known && !known.given && (known.areal < 1 || known.allowance > 0) && (
            <span data-testid="depth-order">
              point <span className="figure">{show(known.point, "rain")}</span>
              {known.areal < 1 && (
                <>
                  {" "}
                  × area <span className="figure">{known.areal.toFixed(3)}</span>
                </>
              )}
              {known.allowance > 0 && (
                <>
                  {" "}
                  × allowance <span className="figure">{(1 + known.allowance).toFixed(2)}</span>
                </>
              )}{" "}
              ={" "}
            </span>
          )}
          <span className="figure">{show(rain.fallen.at(-1), "rain")}</span> {unitOf("rain")}, at most{" "}
          <span className="figure">{show(Math.max(...rain.intensity), "rate")}</span> {unitOf("rate")}
          {rain.catchment && (
            <>
              ; of it runs off <span className="figure">{show(rain.catchment.runoff, "rain")}</span>, is lost{" "}
              <span className="figure">{show(rain.catchment.lost, "rain")}</span>
              {rain.catchment.kept > 0.005 && (
                <>
                  , stays in hollows <span className="figure">{show(rain.catchment.kept, "rain")}</span>
                </>
              )}{" "}
              {unitOf("rain")}; at most <span className="figure">{show(Math.max(...rain.catchment.flow), "flow")}</span>{" "}
              {unitOf("flow")}
            </>
          )}
          {known && !known.given && (
            <button
              type="button"
              className="textlink ml-3"
              onClick={() => void edit([{ op: "add", path: "/rain/excluded/-", value: known.key }])}
              data-testid="leave-out"
            >
              leave this storm out
            </button>
          )}
        </p>
      )}
    </section>
  );
}

/** Rain hangs from the top; under it what has fallen, what has run off, and the band between them. */
function Drawing({ rain, width, height }: { rain: Rain; width: number; height: number }) {
  const end = rain.times.at(-1) ?? 1;
  const last = Math.min(end * 1.6 + 1800, Math.max(rain.catchment?.times.at(-1) ?? end, end));
  const total = rain.fallen.at(-1) || 1;
  const most = Math.max(...rain.intensity, 1e-9);
  const [left, foot, sky] = [40, height - 18, height * 0.3];
  const x = (t: number) => left + (Math.min(t, last) / last) * (width - left - 8);
  const y = (mm: number) => foot - (mm / total) * (foot - sky - 8);
  const fallen = rain.times.map((t, i) => `${x(t)},${y(rain.fallen[i] ?? 0)}`);
  fallen.push(`${x(last)},${y(total)}`);
  const ran = (rain.catchment?.times ?? []).map((t, i) => `${x(t)},${y(rain.catchment?.ran[i] ?? 0)}`);
  return (
    <svg width={width} height={height} role="img" aria-label="rain, what has fallen and what has run off">
      {rain.intensity.map((i, k) => {
        const [a, b] = [x(rain.times[k] ?? 0), x(rain.times[k + 1] ?? 0)];
        return (
          <rect
            key={rain.times[k]}
            x={a}
            y={0}
            width={Math.max(b - a - 0.5, 0.5)}
            height={(i / most) * (sky - 6)}
            fill="var(--color-water3)"
          />
        );
      })}
      {ran.length > 0 && (
        <polygon
          points={[...fallen, ...[...ran].reverse()].join(" ")}
          fill="var(--color-lo)"
          stroke="none"
          data-testid="loss-band"
        />
      )}
      <polyline points={fallen.join(" ")} fill="none" stroke="var(--color-water4)" strokeWidth={1.6} />
      <polyline points={ran.join(" ")} fill="none" stroke="var(--color-ink)" strokeWidth={1.4} />
      <line x1={left} x2={width - 8} y1={foot} y2={foot} stroke="var(--color-ink)" />
      {[0, end].map((t) => (
        <text
          key={t}
          x={x(t)}
          y={height - 5}
          fontSize={10.5}
          className="figure"
          textAnchor={t === 0 ? "start" : t > 0.9 * last ? "end" : "middle"}
        >
          {clock(t)}
        </text>
      ))}
      {[0, total].map((mm) => (
        <text key={mm} x={left - 4} y={y(mm) + 4} fontSize={10.5} className="figure" textAnchor="end">
          {show(mm, "rain")}
        </text>
      ))}
      <text x={width - 10} y={y(total) - 4} fontSize={10.5} textAnchor="end" fill="var(--color-water4)">
        fallen
      </text>
      {ran.length > 0 && (
        <text x={width - 10} y={y(rain.catchment?.runoff ?? 0) + 12} fontSize={10.5} textAnchor="end">
          run off
        </text>
      )}
    </svg>
  );
}

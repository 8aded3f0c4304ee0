import { useState } from "react";
import { sent } from "../../api/client";
import type { components } from "../../api/schema";
import { numberIn } from "../../document/numbers";
import { useProject } from "../../document/store";
import { freshName } from "../../document/stormBlocks";
import type { GivenStorm } from "../../document/types";
import { show, unitOf } from "../../document/units";
import { Choice } from "../../primitives/Choice";
import { NumberField } from "../../primitives/NumberField";

type Record_ = components["schemas"]["RecordOut"];
type Ranked = "depth" | "within" | "peak";

/** Storms as they fell: picked from a record, or given by somebody; each is run like those that are made. */
export function Given() {
  return (
    <div className="flex flex-col gap-3">
      <Storms />
      <FromRecord />
    </div>
  );
}

function Storms() {
  const { project, edit, answer, point } = useProject();
  const [text, setText] = useState("");
  const [interval, setStep] = useState(5);
  const given = project?.rain.given ?? [];
  const set = (i: number, field: keyof GivenStorm, value: unknown) =>
    void edit([{ op: "replace", path: `/rain/given/${i}/${field}`, value }]);
  const cells = text.split(/[\s;]+/).filter(Boolean);
  const depths = cells.map((cell) => numberIn(cell, "rain"));
  const bad = depths.findIndex((depth) => depth === null || depth < 0);
  const add = () =>
    edit([
      {
        op: "add",
        path: "/rain/given/-",
        value: {
          name: freshName(
            "storm",
            given.map((s) => s.name),
          ),
          interval,
          depths,
          source: "typed",
        },
      },
    ]).then(() => setText(""));
  return (
    <section aria-label="Given storms" data-testid="given">
      <p className="border-b border-rule2 pb-1">
        <b className="text-[14px] font-semibold">Given storms</b>{" "}
        <span className="text-ink2">
          run as they are: no areal reduction, no allowance. With a return period, its rules judge them too.
        </span>
      </p>
      {given.map((storm, i) => {
        const known = answer?.storms.find((s) => s.given === storm.name);
        return (
          <div key={storm.name} className="flex items-center gap-3 border-b border-rule py-[3px]">
            <Bars depths={storm.depths} />
            <input
              className="field !w-36 !text-left !font-sans"
              aria-label="Name of the storm"
              defaultValue={storm.name}
              onBlur={(event) => {
                const name = event.target.value.trim();
                if (name && name !== storm.name) set(i, "name", name);
              }}
            />
            <span className="figure w-20 text-right">
              {show(
                storm.depths.reduce((a, b) => a + b, 0),
                "rain",
              )}{" "}
              {unitOf("rain")}
            </span>
            <span className="figure w-24 text-right">
              {((storm.depths.length * storm.interval) / 60).toFixed(1)} h, {storm.interval} min
            </span>
            <select
              className="border-b border-ink3 bg-transparent"
              aria-label={`season of ${storm.name}`}
              value={storm.season}
              onChange={(event) => set(i, "season", event.target.value)}
            >
              {["summer", "winter", "all year"].map((season) => (
                <option key={season}>{season}</option>
              ))}
            </select>
            {storm.return_period === null ? (
              <button type="button" className="textlink" onClick={() => set(i, "return_period", 100)}>
                give it a return period
              </button>
            ) : (
              <>
                <NumberField
                  label=""
                  value={storm.return_period}
                  quantity="years"
                  commit={(value) => set(i, "return_period", value)}
                />
                <button type="button" className="textlink text-[11px]" onClick={() => set(i, "return_period", null)}>
                  none
                </button>
              </>
            )}
            {known && (
              <button type="button" className="textlink" onClick={() => point({ storm: known.key })}>
                show
              </button>
            )}
            <button
              type="button"
              className="textlink ml-auto text-[11px]"
              onClick={() => void edit([{ op: "remove", path: `/rain/given/${i}` }])}
            >
              remove
            </button>
          </div>
        );
      })}
      <div className="flex items-center gap-3 pt-1">
        <label className="flex min-w-0 flex-1 items-center gap-2">
          <span className="whitespace-nowrap">Depths, {unitOf("rain")}</span>
          <textarea
            className="figure h-7 min-w-0 flex-1 bg-hi p-1"
            placeholder="a column of a spreadsheet"
            value={text}
            onChange={(event) => setText(event.target.value)}
            data-testid="given-depths"
          />
        </label>
        <span className="whitespace-nowrap">each in</span>
        <NumberField label="" value={interval} quantity="duration" commit={setStep} testId="given-interval" />
        <span className={bad >= 0 ? "text-madder" : "text-ink3"} data-testid="given-found">
          {bad >= 0 ? `value ${bad + 1}: “${cells[bad]}” is no depth` : `${depths.length} values`}
        </span>
        <button
          type="button"
          className="h-6 bg-ink px-3 font-semibold text-hi"
          disabled={depths.length === 0 || bad >= 0}
          onClick={add}
          data-testid="add-given"
        >
          Add
        </button>
      </div>
    </section>
  );
}

/** Events of a record by rank; those picked become given storms. */
function FromRecord() {
  const { project, edit } = useProject();
  const [file, setFile] = useState<File | null>(null);
  const [ask, setAsk] = useState({ inter_event: 6, least: 5, span: 60, by: "depth" as Ranked });
  const [found, setFound] = useState<Record_ | null>(null);
  const [wrong, setWrong] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const given = project?.rain.given ?? [];
  const look = async (record: File | null, asked: typeof ask) => {
    setAsk(asked);
    if (!record) return;
    setBusy(true);
    setWrong(null);
    try {
      const query = new URLSearchParams(Object.entries(asked).map(([key, value]) => [key, String(value)]));
      setFound(await sent<Record_>(`/api/rain/recorded?${query}`, record));
    } catch (error) {
      setFound(null);
      setWrong(error instanceof Error ? error.message : String(error));
    }
    setBusy(false);
  };
  const taken = (storm: Record_["events"][number]["storm"]) => given.some((s) => s.began === storm.began);
  const day = (when: string) => when.slice(0, 16).replace("T", " ");
  return (
    <section aria-label="Recorded rain" data-testid="recorded">
      <p className="flex items-baseline gap-3 border-b border-rule2 pb-1">
        <b className="text-[14px] font-semibold">Recorded rain</b>
        <label className="textlink cursor-pointer focus-within:outline">
          {file ? file.name : "choose a CSV: time, and depth mm, intensity mm/h, depth in or intensity in/h"}
          <input
            type="file"
            accept=".csv,.txt"
            className="sr-only"
            onChange={(event) => {
              const record = event.target.files?.[0] ?? null;
              setFile(record);
              void look(record, ask);
            }}
            data-testid="record-file"
          />
        </label>
        {busy && <span className="text-ink3">reading …</span>}
        {found && (
          <span className="ml-auto text-ink2">
            {day(found.began)} to {day(found.ended)}, every {found.interval} min, {show(found.depth, "rain")}{" "}
            {unitOf("rain")}
          </span>
        )}
      </p>
      <div className="flex flex-wrap items-baseline gap-x-5">
        <NumberField
          label="Inter-event time"
          value={ask.inter_event * 3600}
          quantity="hours"
          commit={(s) => void look(file, { ...ask, inter_event: s / 3600 })}
        />
        <NumberField
          label="At least"
          value={ask.least}
          quantity="rain"
          commit={(least) => void look(file, { ...ask, least })}
          testId="record-least"
        />
        <NumberField
          label="Span"
          value={ask.span}
          quantity="duration"
          commit={(span) => void look(file, { ...ask, span })}
        />
        <Choice
          label="Ranked by"
          value={ask.by}
          options={{ depth: "depth", within: "depth in the span", peak: "peak" }}
          commit={(by) => void look(file, { ...ask, by: by as Ranked })}
          testId="record-by"
        />
      </div>
      {wrong && (
        <p role="alert" className="text-madder">
          {wrong}
        </p>
      )}
      {found?.remarks.map((remark) => (
        <p key={remark} className="text-ochre-ink">
          {remark}
        </p>
      ))}
      {found && (
        <table className="w-full text-right">
          <thead>
            <tr className="border-b border-ink text-[11px] text-ink3">
              <th className="text-left font-normal">
                {found.found} events; the first {found.events.length}
              </th>
              <th className="font-normal">began</th>
              <th className="font-normal">h</th>
              <th className="font-normal">{unitOf("rain")}</th>
              <th className="font-normal">
                {unitOf("rain")} in {ask.span} min
              </th>
              <th className="font-normal">peak {unitOf("rate")}</th>
              <th />
            </tr>
          </thead>
          <tbody>
            {found.events.map((event, i) => (
              <tr key={event.began} className="border-b border-rule">
                <td className="flex items-center gap-2 text-left">
                  <span className="figure w-5 text-right">{i + 1}</span>
                  <Bars depths={event.storm.depths} />
                </td>
                <td className="figure">{day(event.began)}</td>
                <td className="figure">{event.hours.toFixed(1)}</td>
                <td className="figure">{show(event.depth, "rain")}</td>
                <td className="figure">{show(event.within, "rain")}</td>
                <td className="figure">{show(event.peak, "rate")}</td>
                <td>
                  <button
                    type="button"
                    className="textlink"
                    disabled={taken(event.storm)}
                    onClick={() =>
                      void edit([
                        { op: "add", path: "/rain/given/-", value: { ...event.storm, source: file?.name ?? "" } },
                      ])
                    }
                    data-testid={`take-event-${i + 1}`}
                  >
                    {taken(event.storm) ? "is run" : "run it"}
                  </button>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </section>
  );
}

/** A storm in a few millimetres: the greatest depth of each of at most sixty parts. */
function Bars({ depths }: { depths: number[] }) {
  const parts = Math.min(depths.length, 60);
  const tops = Array.from({ length: parts }, (_, k) =>
    Math.max(...depths.slice(Math.floor((k * depths.length) / parts), Math.ceil(((k + 1) * depths.length) / parts))),
  );
  const most = Math.max(...tops, 1e-9);
  return (
    <svg width={72} height={20} aria-hidden="true" className="shrink-0">
      {tops.map((top, k) => (
        <rect
          // biome-ignore lint/suspicious/noArrayIndexKey: bars have no other identity
          key={k}
          x={(k * 72) / parts}
          y={20 - (top / most) * 19}
          width={Math.max(72 / parts - 0.4, 0.5)}
          height={(top / most) * 19}
          fill="var(--color-water3)"
        />
      ))}
    </svg>
  );
}

import { type PointerEvent, useRef, useState } from "react";
import { useProject } from "../document/store";
import type { SheetItem } from "../document/types";
import { Choice, Tick } from "../primitives/Choice";
import { NameForm } from "../primitives/NameForm";
import { NumberField } from "../primitives/NumberField";
import { TextLine } from "../primitives/TextLine";
import { PlanSettings, SectionSettings } from "./PartSettings";
import { PAPERS } from "./parts";
import { type Box, EDGE, moved, resized, sizeOf, snappedTo } from "./sheet";

const WIDE = 620; // px of a sheet on the screen
const SHOWS: Record<SheetItem["shows"], string> = {
  plan: "plan",
  section: "long section",
  graph: "kept graph",
  table: "table",
  text: "text",
};
const TABLES = {
  verdicts: "verdicts",
  manholes: "manholes",
  conduits: "conduits",
  storage: "storage",
  controls: "controls",
  outfalls: "outfalls",
};

/** Sheets composed by hand: things put on paper, moved and sized by drag with snapping, or by arrows and figures. */
export function SheetComposer() {
  const { project, id, option, revision, answer, edit } = useProject();
  const [at, setAt] = useState(0);
  const [chosen, setChosen] = useState<number | null>(null);
  const [naming, setNaming] = useState(false);
  const [drag, setDrag] = useState<Box | null>(null);
  const held = useRef<{ from: [number, number]; box: Box; corner: boolean } | null>(null);
  if (!project) return null;
  const sheets = project.sheets;
  const place = Math.min(at, sheets.length - 1);
  const sheet = sheets[place];
  const path = `/sheets/${place}`;
  const add = (name: string) => {
    const value = { name, paper: "A3", wide: true, items: [] };
    void edit([{ op: "add", path: "/sheets/-", value }]);
    setAt(sheets.length);
    setChosen(null);
  };
  if (naming)
    return (
      <div className="p-3">
        <NameForm
          suggested={`Sheet ${sheets.length + 1}`}
          label="name of the sheet"
          keep={add}
          leave={() => setNaming(false)}
          testId="sheet-name"
        />
      </div>
    );
  if (!sheet)
    return (
      <p className="p-3 text-ink2">
        No sheet is composed yet.{" "}
        <button type="button" className="textlink" onClick={() => setNaming(true)} data-testid="sheet-add">
          begin one
        </button>
      </p>
    );
  const [wide, high] = sizeOf(sheet);
  const scale = WIDE / wide;
  const item = chosen === null ? null : (sheet.items[chosen] ?? null);
  const put = (field: string, value: unknown) => void edit([{ op: "replace", path: `${path}/${field}`, value }]);
  const putItem = (k: number, box: Box) =>
    void edit(
      (["x", "y", "wide", "high"] as const).map((field) => ({
        op: "replace",
        path: `${path}/items/${k}/${field}`,
        value: box[field],
      })),
    );
  const place_ = (shows: SheetItem["shows"]) => {
    const y = EDGE + 4;
    const value = { x: EDGE + 4, y, wide: wide / 2 - EDGE - 8, high: high / 2 - EDGE - 8, shows };
    void edit([{ op: "add", path: `${path}/items/-`, value }]);
    setChosen(sheet.items.length);
  };
  const begin = (k: number, corner: boolean) => (event: PointerEvent<HTMLElement>) => {
    const one = sheet.items[k];
    if (!one) return;
    event.stopPropagation();
    event.currentTarget.setPointerCapture(event.pointerId);
    setChosen(k);
    held.current = { from: [event.clientX, event.clientY], box: { ...one }, corner };
  };
  const go = (event: PointerEvent<HTMLElement>) => {
    const now = held.current;
    if (!now || chosen === null) return;
    const by = [(event.clientX - now.from[0]) / scale, (event.clientY - now.from[1]) / scale] as const;
    const free = now.corner ? resized(now.box, by) : moved(now.box, by);
    const others = sheet.items.filter((_, k) => k !== chosen);
    setDrag(snappedTo(free, others, sheet, now.corner));
  };
  const end = () => {
    if (held.current && drag && chosen !== null) putItem(chosen, drag);
    held.current = null;
    setDrag(null);
  };
  const boxOf = (one: SheetItem, k: number): Box => (drag && k === chosen ? drag : one);
  return (
    <div className="flex min-h-0 flex-1 flex-col overflow-auto p-3" data-testid="composer">
      <p className="flex flex-wrap items-baseline gap-3 pb-2">
        <select
          className="border border-rule2 bg-hi px-1 font-semibold"
          value={place}
          onChange={(event) => {
            setAt(Number(event.target.value));
            setChosen(null);
          }}
          aria-label="sheet"
          data-testid="sheet"
        >
          {sheets.map((one, k) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: sheets stand in their order
            <option key={k} value={k}>
              {one.name}
            </option>
          ))}
        </select>
        <button type="button" className="textlink" onClick={() => setNaming(true)} data-testid="sheet-add">
          another
        </button>
        <button
          type="button"
          className="textlink"
          onClick={() => {
            void edit([{ op: "remove", path }]);
            setChosen(null);
          }}
        >
          remove
        </button>
        <select
          className="textlink bg-transparent"
          value=""
          aria-label="put on the sheet"
          onChange={(event) => place_(event.target.value as SheetItem["shows"])}
          data-testid="item-add"
        >
          <option value="">put on it …</option>
          {Object.entries(SHOWS).map(([key, name]) => (
            <option key={key} value={key}>
              {name}
            </option>
          ))}
        </select>
        <a
          className="textlink ml-auto"
          href={`/api/projects/${id}/options/${option}/composed/${place}.svg?incomplete=true`}
          download
        >
          SVG
        </a>
        <a
          className="textlink"
          href={`/api/projects/${id}/options/${option}/composed/${place}.pdf?incomplete=true`}
          download
        >
          PDF
        </a>
      </p>
      <div className="flex items-start gap-3">
        <div
          className="relative shrink-0 border border-ink bg-hi"
          style={{ width: WIDE, height: high * scale }}
          data-testid="sheet-paper"
        >
          <img
            src={`/api/projects/${id}/options/${option}/composed/${place}.svg?incomplete=true&seen=${revision}-${answer?.version}`}
            alt={`sheet ${sheet.name} as printed`}
            className="pointer-events-none absolute inset-0 h-full w-full"
            draggable={false}
          />
          {sheet.items.map((one, k) => {
            const box = boxOf(one, k);
            return (
              <button
                // biome-ignore lint/suspicious/noArrayIndexKey: items are known by their place
                key={k}
                type="button"
                aria-label={`${SHOWS[one.shows]} ${k + 1}`}
                className={`absolute cursor-move border ${k === chosen ? "border-madder bg-madder/5" : "border-transparent hover:border-ink3"}`}
                style={{
                  left: box.x * scale,
                  top: box.y * scale,
                  width: box.wide * scale,
                  height: box.high * scale,
                  touchAction: "none",
                }}
                onPointerDown={begin(k, false)}
                onPointerMove={go}
                onPointerUp={end}
                onKeyDown={(event) => {
                  const by = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key];
                  if (event.key === "Delete") {
                    void edit([{ op: "remove", path: `${path}/items/${k}` }]);
                    setChosen(null);
                  } else if (by) {
                    const [dx = 0, dy = 0] = by;
                    putItem(k, event.shiftKey ? resized(one, [dx, dy]) : moved(one, [dx, dy]));
                  } else return;
                  event.preventDefault();
                  event.stopPropagation();
                }}
                data-testid={`item-${k}`}
              >
                {k === chosen && (
                  <span
                    className="absolute -right-[5px] -bottom-[5px] h-[10px] w-[10px] cursor-nwse-resize bg-madder"
                    onPointerDown={begin(k, true)}
                    onPointerMove={go}
                    onPointerUp={end}
                    data-testid="item-corner"
                  />
                )}
              </button>
            );
          })}
        </div>
      </div>
      <div className="flex gap-6 pt-2">
        <div className="w-[230px]">
          <TextLine label="Name" value={sheet.name} longest={80} commit={(name) => put("name", name)} />
          <Choice
            label="Paper"
            value={sheet.paper}
            options={Object.fromEntries(PAPERS.map((paper) => [paper, paper]))}
            commit={(paper) => put("paper", paper)}
          />
          <Tick label="Lying" value={sheet.wide} commit={(value) => put("wide", value)} />
        </div>
        {item && chosen !== null && (
          <ItemSettings item={item} path={`${path}/items/${chosen}`} leave={() => setChosen(null)} />
        )}
      </div>
    </div>
  );
}

function ItemSettings({ item, path, leave }: { item: SheetItem; path: string; leave: () => void }) {
  const { project, edit } = useProject();
  const put = (field: string, value: unknown) => void edit([{ op: "replace", path: `${path}/${field}`, value }]);
  return (
    <div className="w-[230px]" data-testid="item-settings">
      <p className="flex items-baseline justify-between">
        <b className="font-semibold">{SHOWS[item.shows]}</b>
        <button
          type="button"
          className="textlink"
          onClick={() => {
            void edit([{ op: "remove", path }]);
            leave();
          }}
        >
          take off
        </button>
      </p>
      {(["x", "y", "wide", "high"] as const).map((field) => (
        <NumberField
          key={field}
          label={{ x: "from the left, mm", y: "from the top, mm", wide: "wide, mm", high: "high, mm" }[field]}
          value={item[field]}
          quantity="plain"
          commit={(value) => put(field, value)}
          testId={`item-${field}`}
        />
      ))}
      {item.shows === "plan" && item.plan && (
        <PlanSettings drawing={item.plan} put={(field, value) => put(field ? `plan/${field}` : "plan", value)} />
      )}
      {item.shows === "section" && item.section && (
        <SectionSettings
          drawing={item.section}
          put={(field, value) => put(field ? `section/${field}` : "section", value)}
        />
      )}
      {item.shows === "graph" && (
        <Choice
          label="Graph"
          value={item.graph}
          options={{ "": "none", ...Object.fromEntries((project?.graphs ?? []).map(({ name }) => [name, name])) }}
          commit={(value) => put("graph", value)}
        />
      )}
      {item.shows === "table" && (
        <Choice label="Table" value={item.table} options={TABLES} commit={(value) => put("table", value)} />
      )}
      {item.shows === "text" && (
        <TextLine
          label="Text"
          value={item.text}
          rows={4}
          longest={10_000}
          commit={(value) => put("text", value)}
          testId="item-text"
        />
      )}
    </div>
  );
}

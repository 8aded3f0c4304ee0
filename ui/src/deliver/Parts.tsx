import { Switch } from "radix-ui";
import { useState } from "react";
import { useProject } from "../document/store";
import type { Part, PartKind, ReportLayout } from "../document/types";
import { NAMES, SEVERAL, titleOf } from "./parts";
import type { Report } from "./useReport";

/** The parts of a layout in their order: switched, moved by hand or with Alt and the arrows, added and removed. */
export function Parts({
  layout,
  place,
  report,
  chosen,
  choose,
}: {
  layout: ReportLayout;
  place: number;
  report: Report | null;
  chosen: number;
  choose: (part: number) => void;
}) {
  const { edit } = useProject();
  const [held, setHeld] = useState<number | null>(null);
  const path = `/layouts/${place}/parts`;
  const move = (from: number, to: number) => {
    if (from === to || to < 0 || to >= layout.parts.length) return;
    const parts = layout.parts.filter((_, k) => k !== from);
    parts.splice(to, 0, layout.parts[from] as Part);
    void edit([{ op: "replace", path, value: parts }]);
    choose(to);
  };
  const pages = (part: Part, k: number) =>
    part.on ? (report?.parts.find((one) => one.part === k)?.pages ?? "…") : "off";
  const missing = (Object.keys(NAMES) as PartKind[]).filter(
    (kind) => SEVERAL.includes(kind) || layout.parts.every((part) => part.kind !== kind),
  );
  return (
    <>
      <ul data-testid="parts">
        {layout.parts.map((part, k) => (
          <li
            // biome-ignore lint/suspicious/noArrayIndexKey: parts are known by their place
            key={k}
            className={`flex items-center gap-2 border-b border-rule px-1 py-[5px] ${chosen === k ? "bg-hi shadow-[-3px_0_0_var(--color-ink)]" : ""}`}
            draggable
            onDragStart={() => setHeld(k)}
            onDragOver={(event) => event.preventDefault()}
            onDrop={() => held !== null && move(held, k)}
            onDragEnd={() => setHeld(null)}
            data-testid={`part-${k}`}
          >
            <span className="cursor-grab leading-none text-ink3" aria-hidden="true">
              ⠿
            </span>
            <Switch.Root
              checked={part.on}
              onCheckedChange={(on) => void edit([{ op: "replace", path: `${path}/${k}/on`, value: on }])}
              className={`h-[14px] w-[24px] shrink-0 border border-ink ${part.on ? "bg-ink" : "bg-transparent"}`}
              aria-label={`${titleOf(part)} is printed`}
              data-testid={`part-on-${k}`}
            >
              <Switch.Thumb
                className={`block h-[8px] w-[8px] ${part.on ? "translate-x-[12px] bg-hi" : "translate-x-[3px] bg-ink3"}`}
              />
            </Switch.Root>
            <button
              type="button"
              className={`min-w-0 flex-1 truncate text-left ${part.on ? "" : "text-ink3"} ${chosen === k ? "font-semibold" : ""}`}
              onClick={() => choose(k)}
              onKeyDown={(event) => {
                if (!event.altKey || (event.key !== "ArrowUp" && event.key !== "ArrowDown")) return;
                event.preventDefault();
                move(k, k + (event.key === "ArrowUp" ? -1 : 1));
              }}
              data-testid={`part-name-${k}`}
            >
              {titleOf(part)}
            </button>
            <span className="figure text-ink3" data-testid={`part-pages-${k}`}>
              {pages(part, k)}
            </span>
          </li>
        ))}
      </ul>
      <p className="flex items-baseline justify-between gap-2 pt-1">
        <select
          className="textlink max-w-[110px] bg-transparent"
          value=""
          aria-label="add a part"
          data-testid="part-add"
          onChange={(event) => {
            const value = { kind: event.target.value };
            void edit([{ op: "add", path: `${path}/-`, value }]);
            choose(layout.parts.length);
          }}
        >
          <option value="">add a part …</option>
          {missing.map((kind) => (
            <option key={kind} value={kind}>
              {NAMES[kind]}
            </option>
          ))}
        </select>
        <button
          type="button"
          className="textlink"
          disabled={!layout.parts[chosen]}
          onClick={() => void edit([{ op: "remove", path: `${path}/${chosen}` }])}
          data-testid="part-remove"
        >
          remove this part
        </button>
      </p>
    </>
  );
}

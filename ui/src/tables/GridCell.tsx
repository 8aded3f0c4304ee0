import type { Change } from "../document/store";
import type { Column } from "./columns";

/** What was pasted or filled over a cell and waits to be accepted. */
export type Staged = { text: string; change: Change | null; wrong: string | null };

/** One cell: what it shows, what waits over it, what is wrong with it; an input while it is typed into. */
export function GridCell({
  column,
  text,
  derived,
  staged,
  mark,
  wrong,
  active,
  chosen,
  typing,
  pick,
  type,
  commit,
  cancel,
}: {
  column: Column;
  text: string;
  derived: boolean;
  staged?: Staged;
  mark?: string;
  wrong?: string;
  active: boolean;
  chosen: boolean;
  typing: string | null;
  pick: (extend: boolean) => void;
  type: (text: string) => void;
  commit: (text: string, down: boolean) => void;
  cancel: () => void;
}) {
  const look = [
    "cursor-cell whitespace-nowrap border-b border-r border-rule px-2 py-0",
    column.quantity ? "figure text-right" : "",
    derived ? "text-ink3" : "",
    staged ? "border-2 border-dashed border-ink font-semibold" : "",
    staged?.wrong || wrong ? "bg-madder-tint text-madder" : "",
    mark && !staged ? "bg-ochre-tint" : "",
    active ? "outline outline-2 -outline-offset-2 outline-ink" : chosen ? "bg-water1" : "",
  ].join(" ");
  return (
    <td
      role="gridcell"
      aria-selected={chosen}
      aria-invalid={staged?.wrong || wrong ? true : undefined}
      title={staged?.wrong ?? wrong ?? mark}
      className={look}
      onMouseDown={(event) => {
        if (typing !== null) return;
        event.preventDefault();
        pick(event.shiftKey);
      }}
      onDoubleClick={() => !derived && type(text)}
    >
      {typing !== null ? (
        <input
          // biome-ignore lint/a11y/noAutofocus: the cell was asked for by typing into it
          autoFocus
          className={`w-full min-w-14 bg-hi outline-none ${column.quantity ? "text-right" : ""}`}
          aria-label={column.label}
          value={typing}
          onChange={(event) => type(event.target.value)}
          onBlur={() => commit(typing, false)}
          onKeyDown={(event) => {
            event.stopPropagation();
            if (event.key === "Enter") commit(typing, true);
            if (event.key === "Escape") cancel();
          }}
        />
      ) : (
        (staged?.text ?? text)
      )}
    </td>
  );
}

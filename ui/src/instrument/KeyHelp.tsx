import { Dialog } from "radix-ui";
import { useEffect, useState } from "react";

const KEYS: [string, string][] = [
  ["Ctrl Z", "undo"],
  ["Ctrl Shift Z, Ctrl Y", "redo"],
  ["R, M, J, I, O, B, P, C", "draw a run of pipes, manhole, junction, inlet, outfall, pond, pipe, catchment"],
  ["Enter, Backspace, Esc while drawing", "end the run or outline; take a corner back; stop drawing"],
  ["→ ← ↑ ↓ on the plan", "to the next element with the water or against it; to a link beside"],
  ["Shift and a drag, Shift and a click on the plan", "pick a box; add one or take it out"],
  ["Ctrl A, Esc on the plan", "pick everything, nothing"],
  ["F on the plan", "bring what is picked into sight, or the network, catchments and backgrounds"],
  ["Ctrl and arrows on the plan", "move what is picked by 1 m, with Shift by 0.1 m"],
  ["Ctrl C, Ctrl V on the plan", "copy what is picked, draw it: M mirrors, T turns by 15°, with Alt by 1°"],
  ["Delete on the plan", "remove what is picked"],
  ["Ctrl and a drag of a pipe’s end", "lead the pipe to another node"],
  ["Alt and a click on a corner", "take the corner out of a course or outline"],
  ["↑ ↓ on the long section", "raise or lower the picked pipe by 10 mm, with Shift by 100 mm"],
  ["+ − on the long section", "the picked pipe a size up or down in the catalogue"],
  ["Shift, Alt while a level is dragged", "the whole pipe, to a millimetre"],
  ["Space", "play or pause the replay"],
  ["← → on the time bar", "a moment back or on"],
  ["Home, End on the time bar", "start or end of the storm"],
  ["Tab, Enter in the storm matrix", "pick a storm"],
  ["Enter, Esc in a field", "take the number, or the old one back"],
  ["arrows, Page Up, Page Down, Ctrl Home in a table", "another cell; with Shift, a block of cells"],
  ["Enter, F2 or a sign in a table", "type into the cell"],
  ["Ctrl C, Ctrl V in a table", "copy the block; draw another over it, to be accepted"],
  ["Ctrl D in a table", "fill the block with its first row"],
  ["Enter, Esc over a paste", "accept it, or drop it"],
  ["?", "this list"],
];

/** One overlay that lists every key. */
export function KeyHelp() {
  const [shown, setShown] = useState(false);
  useEffect(() => {
    const ask = (event: KeyboardEvent) => {
      if (event.key === "?" && !(event.target instanceof HTMLInputElement)) setShown(true);
    };
    window.addEventListener("keydown", ask);
    return () => window.removeEventListener("keydown", ask);
  }, []);
  return (
    <Dialog.Root open={shown} onOpenChange={setShown}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 bg-ink/30" />
        <Dialog.Content
          className="fixed left-1/2 top-12 max-h-[90vh] w-[680px] overflow-y-auto -translate-x-1/2 border border-ink bg-hi p-4"
          aria-describedby={undefined}
        >
          <Dialog.Title className="mb-2 text-[15px] font-semibold">Keys</Dialog.Title>
          {KEYS.map(([key, what]) => (
            <p key={key} className="flex justify-between border-b border-rule py-1">
              <b className="font-semibold">{key}</b>
              <span>{what}</span>
            </p>
          ))}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

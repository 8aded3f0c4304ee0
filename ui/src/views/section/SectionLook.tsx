import { Popover } from "radix-ui";
import { useState } from "react";
import { Choice, Tick } from "../../primitives/Choice";
import { keepShown, LINES, type Shown } from "./shown";

export type Sheet = { along: number; up: number };

/** What the section shows, how steep it is drawn, and its way onto paper at a scale. */
export function SectionLook({
  shown,
  show,
  exaggeration,
  exaggerate,
  drawn,
  print,
}: {
  shown: Shown;
  show: (shown: Shown) => void;
  exaggeration: number | null;
  exaggerate: (times: number | null) => void;
  /** How many times higher than long it stands there. */
  drawn: number;
  print: (sheet: Sheet) => void;
}) {
  const [along, setAlong] = useState("500");
  const [up, setUp] = useState("100");
  const change = (next: Shown) => {
    keepShown(next);
    show(next);
  };
  return (
    <Popover.Root>
      <Popover.Trigger className="textlink whitespace-nowrap" data-testid="section-look">
        show
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content align="end" side="top" className="z-20 w-[270px] border border-ink bg-hi p-3">
          {(Object.keys(LINES) as (keyof Shown)[]).map((key) => (
            <Tick key={key} label={LINES[key]} value={shown[key]} commit={(on) => change({ ...shown, [key]: on })} />
          ))}
          <Choice
            label="exaggeration"
            value={String(exaggeration ?? "")}
            options={{ "": `to fit, ×${drawn.toFixed(1)}`, 1: "×1", 2: "×2", 5: "×5", 10: "×10", 20: "×20", 50: "×50" }}
            commit={(value) => exaggerate(value ? Number(value) : null)}
            testId="exaggeration"
          />
          <div className="mt-2 border-t border-rule pt-1">
            <Choice
              label="on paper along 1:"
              value={along}
              options={{ 200: "200", 250: "250", 500: "500", 1000: "1000", 1250: "1250", 2500: "2500" }}
              commit={setAlong}
            />
            <Choice
              label="upward 1:"
              value={up}
              options={{ 20: "20", 50: "50", 100: "100", 200: "200", 500: "500" }}
              commit={setUp}
            />
            <button
              type="button"
              className="mt-1 bg-ink px-3 font-semibold text-hi"
              onClick={() => print({ along: Number(along), up: Number(up) })}
              data-testid="print-section"
            >
              SVG at this scale
            </button>
          </div>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

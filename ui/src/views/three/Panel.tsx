import { Tick } from "../../primitives/Choice";
import type { View } from "./Camera";
import type { GroundLook } from "./Ground";

export type Look = { upward: number; ground: GroundLook; curtain: boolean; floods: boolean; names: boolean };
export const USUAL: Look = { upward: 10, ground: "glass", curtain: true, floods: true, names: true };

const POINTS = ["N", "NE", "E", "SE", "S", "SW", "W", "NW"];

/** The compass point that is nearest. */
export const pointOf = (degrees: number) => POINTS[Math.round((((degrees % 360) + 360) % 360) / 45) % 8] ?? "N";

/** How the scene is seen: from where, how steep, how much higher than long, and what is shown. */
export function Panel({
  look,
  change,
  view,
  turn,
  take,
}: {
  look: Look;
  change: (look: Look) => void;
  view: View;
  turn: (view: View) => void;
  /** Save what is seen as a picture. */
  take: () => void;
}) {
  const set = (part: Partial<Look>) => change({ ...look, ...part });
  const button = (on: boolean) => `px-2 ${on ? "bg-ink text-hi" : "border-b border-rule2"}`;
  return (
    <div className="absolute right-3 bottom-3 flex gap-4 border border-ink bg-hi px-3 py-2" data-testid="three-panel">
      <div className="w-[118px]">
        <label className="block">
          <span className="flex justify-between text-ink2">
            Seen from{" "}
            <span className="figure">
              {pointOf(view.from)} {view.from.toFixed(0)}°
            </span>
          </span>
          <input
            type="range"
            min={0}
            max={359}
            className="w-full accent-[#1d2427]"
            value={Math.round(view.from) % 360}
            onChange={(event) => turn({ ...view, from: Number(event.target.value) })}
            data-testid="seen-from"
          />
        </label>
        <label className="block">
          <span className="flex justify-between text-ink2">
            Tilt <span className="figure">{view.tilt.toFixed(0)}°</span>
          </span>
          <input
            type="range"
            min={-15}
            max={89}
            className="w-full accent-[#1d2427]"
            value={Math.round(view.tilt)}
            onChange={(event) => turn({ ...view, tilt: Number(event.target.value) })}
            data-testid="tilt"
          />
        </label>
      </div>
      <div>
        <p className="text-ink2">Upward</p>
        <span className="grid grid-cols-2 gap-1" role="group" aria-label="Upward">
          {[20, 10, 5, 1].map((times) => (
            <button
              key={times}
              type="button"
              aria-pressed={look.upward === times}
              className={`figure ${button(look.upward === times)}`}
              onClick={() => set({ upward: times })}
              data-testid={`upward-${times}`}
            >
              ×{times}
            </button>
          ))}
        </span>
      </div>
      <div>
        <p className="text-ink2">Ground</p>
        <span className="flex gap-1" role="group" aria-label="Ground">
          {(["solid", "glass", "off"] as const).map((each) => (
            <button
              key={each}
              type="button"
              aria-pressed={look.ground === each}
              className={button(look.ground === each)}
              onClick={() => set({ ground: each })}
              data-testid={`ground-${each}`}
            >
              {each}
            </button>
          ))}
        </span>
        <div className="grid grid-cols-3 gap-x-3">
          <Tick label="curtain" value={look.curtain} commit={(curtain) => set({ curtain })} />
          <Tick label="floods" value={look.floods} commit={(floods) => set({ floods })} />
          <Tick label="names" value={look.names} commit={(names) => set({ names })} />
        </div>
        <button type="button" className="textlink" onClick={take} data-testid="take-picture">
          picture, PNG
        </button>
      </div>
    </div>
  );
}

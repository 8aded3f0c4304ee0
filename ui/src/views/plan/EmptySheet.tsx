import type { Drawable } from "../../kinds";

const STEPS: { at: [number, number]; step: number; what: string; key: string; note: string; kind: Drawable }[] = [
  { at: [118, 166], step: 1, what: "Draw a run", key: "R", note: "click each manhole; Enter ends it", kind: "run" },
  {
    at: [300, 206],
    step: 2,
    what: "It names and levels itself",
    key: "",
    note: "by the defaults of the catalogue",
    kind: "run",
  },
  {
    at: [510, 262],
    step: 3,
    what: "End at an outfall",
    key: "O",
    note: "free, normal depth, fixed or a tide",
    kind: "outfall",
  },
  { at: [430, 70], step: 4, what: "Draw what drains", key: "C", note: "its area counts itself", kind: "ground" },
];

/** What an empty sheet could hold: a ghost of a run with its steps and keys. A click on a step begins it. */
export function EmptySheet({ choose }: { choose: (kind: Drawable) => void }) {
  const dash = { fill: "none", stroke: "var(--color-ink3)", strokeDasharray: "5 4" };
  return (
    <div className="pointer-events-none absolute inset-0 flex items-center justify-center" data-testid="empty-sheet">
      <svg
        viewBox="0 0 760 300"
        className="h-full max-h-[320px] w-full max-w-[760px]"
        role="group"
        aria-label="First steps"
      >
        <polygon points="250,30 410,22 424,96 262,110" {...dash} />
        <path d="M340 100v40" {...dash} />
        <path
          d="M120 122L340 150M120 130L340 158M340 150L500 172M340 158L500 180M500 172L640 232M500 180L636 240"
          {...dash}
        />
        {[
          [120, 126],
          [340, 154],
          [500, 176],
        ].map(([x, y]) => (
          <g key={x}>
            <circle cx={x} cy={y} r={11} {...dash} fill="var(--color-paper)" />
            <circle cx={x} cy={y} r={2} fill="var(--color-ink3)" />
          </g>
        ))}
        <path d="M630 222l18 30M640 220l14 6M634 250l14 8" stroke="var(--color-ink3)" strokeWidth={2} fill="none" />
        {STEPS.map(({ at: [x, y], step, what, key, note, kind }) => (
          <g
            key={step}
            role="button"
            tabIndex={0}
            aria-label={`${what}: ${note}`}
            className="pointer-events-auto cursor-pointer"
            onClick={() => choose(kind)}
            onKeyDown={(event) => event.key === "Enter" && choose(kind)}
            data-testid={`first-step-${step}`}
          >
            <rect x={x - 10} y={y - 12} width={220} height={34} fill="transparent" />
            <circle cx={x} cy={y} r={8} fill="var(--color-ink)" />
            <text x={x} y={y + 4} fontSize={11} textAnchor="middle" fill="var(--color-hi)">
              {step}
            </text>
            <text x={x + 14} y={y + 4} fontSize={13} fontWeight={600}>
              {what}
            </text>
            <text x={x + 14} y={y + 18} fontSize={11} fill="var(--color-ink2)">
              {key && `key ${key}: `}
              {note}
            </text>
          </g>
        ))}
      </svg>
    </div>
  );
}

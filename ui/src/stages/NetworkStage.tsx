import { type KeyboardEvent, type PointerEvent, useEffect, useRef, useState } from "react";
import { type Laying, LINK_KINDS, type LinkKind, NODE_KINDS, type NodeKind } from "../document/elements";
import { Findings } from "../views/Findings";
import { Inspector } from "../views/Inspector";
import { LongSection } from "../views/LongSection";
import { Plan } from "../views/Plan";
import { Tables } from "../views/Tables";
import { TakeIn } from "../views/TakeIn";

const isLink = (kind: string | null): kind is LinkKind => kind !== null && kind in LINK_KINDS;

const KEPT = "madidus.plan-share";
const clamp = (share: number) => Math.min(0.85, Math.max(0.15, Number.isFinite(share) ? share : 0.56));

/** Plan above, long section or tables below, the lane of checks between, the inspector on the right. */
export function NetworkStage() {
  const column = useRef<HTMLDivElement>(null);
  const [share, setShare] = useState(() => clamp(Number(localStorage.getItem(KEPT) ?? 0.56)));
  const keep = (value: number) => {
    setShare(clamp(value));
    localStorage.setItem(KEPT, String(clamp(value)));
  };
  const [tables, setTables] = useState(false);
  const [adding, setAdding] = useState<Laying | null>(null);
  useEffect(() => {
    const leave = (event: globalThis.KeyboardEvent) => event.key === "Escape" && setAdding(null);
    window.addEventListener("keydown", leave);
    return () => window.removeEventListener("keydown", leave);
  }, []);
  const drag = (event: PointerEvent) => {
    const box = column.current?.getBoundingClientRect();
    if (box && event.buttons === 1) keep((event.clientY - box.top) / box.height);
  };
  const nudge = (event: KeyboardEvent) => {
    const step = { ArrowUp: -0.04, ArrowDown: 0.04 }[event.key];
    if (step === undefined) return;
    event.preventDefault();
    keep(share + step);
  };
  return (
    <>
      <div className="flex min-w-0 flex-1 flex-col" ref={column}>
        <Palette adding={adding} choose={setAdding} />
        <div className="flex min-h-0" style={{ flex: `${share} 1 0` }}>
          <Plan adding={adding} added={() => isLink(adding) || setAdding(null)} />
        </div>
        <div
          role="separator"
          aria-orientation="horizontal"
          aria-label="Between plan and long section"
          aria-valuenow={Math.round(share * 100)}
          aria-valuemin={15}
          aria-valuemax={85}
          tabIndex={0}
          className="h-[5px] shrink-0 cursor-row-resize touch-none border-t border-rule2 bg-lo"
          onPointerDown={(event) => event.currentTarget.setPointerCapture(event.pointerId)}
          onPointerMove={drag}
          onKeyDown={nudge}
          data-testid="splitter"
        />
        <Findings />
        <div className="flex min-h-0" style={{ flex: `${1 - share} 1 0` }}>
          {tables ? <Tables leave={() => setTables(false)} /> : <LongSection showTables={() => setTables(true)} />}
        </div>
      </div>
      <Inspector />
    </>
  );
}

/** What can be laid on the plan. A node is laid once; links go on until Escape. */
function Palette({ adding, choose }: { adding: Laying | null; choose: (kind: Laying | null) => void }) {
  const button = (kind: Laying, label: string) => (
    <button
      key={kind}
      type="button"
      aria-pressed={adding === kind}
      data-testid={`lay-${kind}`}
      className={`whitespace-nowrap px-2 py-[3px] ${adding === kind ? "bg-ink text-hi" : "text-ink2"}`}
      onClick={() => choose(adding === kind ? null : kind)}
    >
      {label}
    </button>
  );
  return (
    <div
      role="toolbar"
      aria-label="Lay on the plan"
      className="flex h-[26px] shrink-0 items-center border-b border-rule px-2"
    >
      <div className="flex min-w-0 items-center overflow-x-auto">
        <span className="pr-1 font-semibold">Lay</span>
        {button("run", "Run of pipes")}
        <span className="mx-1 h-4 border-l border-rule2" />
        {Object.entries(NODE_KINDS).map(([kind, label]) => button(kind as NodeKind, label))}
        <span className="mx-1 h-4 border-l border-rule2" />
        {Object.entries(LINK_KINDS).map(([kind, label]) => button(kind as LinkKind, label))}
      </div>
      <TakeIn />
    </div>
  );
}

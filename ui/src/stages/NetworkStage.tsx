import { DropdownMenu } from "radix-ui";
import { type KeyboardEvent, type PointerEvent, useEffect, useRef, useState } from "react";
import { UnderPlan } from "../backgrounds/Backgrounds";
import { CataloguePage } from "../catalogue/CataloguePage";
import { useProject } from "../document/store";
import type { NetworkView } from "../document/types";
import { BeforeFirstRun } from "../findings/BeforeFirstRun";
import { Findings } from "../findings/Findings";
import { ImportPage } from "../imports/ImportPage";
import { Inspector } from "../inspector/Inspector";
import { CONDUIT_KINDS, CONTROL_KINDS, type Drawable, isDrawnLink, NODE_KINDS } from "../kinds";
import type { NodeKind } from "../kinds/node";
import { FitPage } from "../search/fit/FitPage";
import { SizingPage } from "../search/sizing/SizingPage";
import { Tables } from "../tables/Tables";
import { Graphs } from "../views/graphs/Graphs";
import { EmptySheet } from "../views/plan/EmptySheet";
import { Plan } from "../views/plan/Plan";
import { LongSection } from "../views/section/LongSection";
import { ThreeView } from "../views/three/ThreeView";

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
  const { view, network, sizing, fitting } = useProject();
  const empty = network !== null && Object.keys(network.nodes).length === 0;
  const [adding, setAdding] = useState<Drawable | null>(null);
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
  if (sizing) return <SizingPage pipes={sizing} />;
  if (fitting) return <FitPage elements={fitting} />;
  return (
    <>
      <div className="flex min-w-0 flex-1 flex-col" ref={column}>
        <div className="flex h-[26px] shrink-0 items-center border-b border-rule px-2">
          <Views />
          {view === "plan" && <Palette adding={adding} choose={setAdding} />}
        </div>
        {view === "graphs" && <Graphs />}
        {view === "3d" && <ThreeView />}
        {view === "plan" && (
          <>
            <div className="relative flex min-h-0" style={{ flex: `${share} 1 0` }}>
              <Plan adding={adding} added={() => (adding && isDrawnLink(adding)) || setAdding(null)} />
              {empty && adding === null && <EmptySheet choose={setAdding} />}
              {empty && <OtherWays />}
            </div>
            <BeforeFirstRun choose={setAdding} />
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
            <Findings about="network" />
            <div className="flex min-h-0" style={{ flex: `${1 - share} 1 0` }}>
              {tables ? <Tables leave={() => setTables(false)} /> : <LongSection showTables={() => setTables(true)} />}
            </div>
          </>
        )}
      </div>
      <Inspector />
    </>
  );
}

const VIEWS: [NetworkView, string][] = [
  ["plan", "Plan and section"],
  ["graphs", "Graphs"],
  ["3d", "3D"],
];

/** Other ways into an empty sheet than drawing. */
function OtherWays() {
  return (
    <aside
      className="absolute right-3 top-9 w-[150px] border border-ink bg-hi px-3 py-2 leading-[15px]"
      aria-label="Other ways in"
    >
      <p className="pb-2">
        <b className="font-semibold">Bring a file</b>
        <br />
        <span className="text-ink2">LandXML, DXF, GeoJSON, a workbook; seen first</span>
      </p>
      <ImportPage />
      <p className="border-t border-rule pt-2">
        <b className="font-semibold">Paste tables</b>
        <br />
        <span className="text-ink2">manholes, then pipes: the tables below take them from a spreadsheet</span>
      </p>
    </aside>
  );
}

/** What the stage shows of the network. */
function Views() {
  const { view, look } = useProject();
  return (
    <span role="tablist" aria-label="Views" className="mr-3 flex border-r border-rule2 pr-2">
      {VIEWS.map(([key, label]) => (
        <button
          key={key}
          type="button"
          role="tab"
          aria-selected={view === key}
          onClick={() => look(key)}
          className={`whitespace-nowrap px-2 py-[3px] ${view === key ? "bg-ink text-hi" : "text-ink2"}`}
          data-testid={`view-${key}`}
        >
          {label}
        </button>
      ))}
    </span>
  );
}

/** What is added most, each with its key; the rest stands in menus. */
const menuOf = (nodes: NodeKind[]): [Drawable, string, string?][] =>
  nodes.flatMap(({ draws }) => draws.map(({ drawn, label, key }): [Drawable, string, string?] => [drawn, label, key]));
const stores = (yes: boolean) => Object.values(NODE_KINDS).filter(({ outline }) => (outline !== undefined) === yes);
const PALETTE: { label: string; kinds: [Drawable, string, string?][] }[] = [
  { label: "", kinds: [["run", "Run of pipes", "r"]] },
  { label: "Nodes", kinds: menuOf(stores(false)) },
  { label: "Stores", kinds: menuOf(stores(true)) },
  {
    label: "Conduits",
    kinds: Object.values(CONDUIT_KINDS).map(({ kind, label, key }) => [kind, label, key]),
  },
  {
    label: "Controls",
    kinds: Object.values(CONTROL_KINDS).map(({ kind, label }) => [kind, label]),
  },
  { label: "", kinds: [["ground", "Catchment", "c"]] },
];
const KEY_OF = new Map(PALETTE.flatMap(({ kinds }) => kinds.flatMap(([kind, , key]) => (key ? [[key, kind]] : []))));

/** What can be drawn on the plan. A node is added once; links go on until Escape. */
function Palette({ adding, choose }: { adding: Drawable | null; choose: (kind: Drawable | null) => void }) {
  useEffect(() => {
    const keys = (event: globalThis.KeyboardEvent) => {
      const at = event.target as HTMLElement;
      // letters draw only where nothing else takes them: on the plan, or when nothing has the focus
      const free = at === document.body || at.dataset.testid === "plan";
      const kind = KEY_OF.get(event.key);
      if (kind && free && !event.defaultPrevented && !event.ctrlKey && !event.metaKey && !event.altKey)
        choose(kind as Drawable);
    };
    window.addEventListener("keydown", keys);
    return () => window.removeEventListener("keydown", keys);
  }, [choose]);
  const look = (on: boolean) => `whitespace-nowrap px-2 py-[3px] ${on ? "bg-ink text-hi" : "text-ink2"}`;
  return (
    <div role="toolbar" aria-label="Draw on the plan" className="flex min-w-0 flex-1 items-center">
      <span className="pr-1 font-semibold">Draw</span>
      {PALETTE.map(({ label, kinds }) => {
        const current = kinds.find(([kind]) => kind === adding);
        if (!label)
          return kinds.map(([kind, name, key]) => (
            <button
              key={kind}
              type="button"
              aria-pressed={adding === kind}
              title={`key ${key?.toUpperCase()}`}
              data-testid={`draw-${kind}`}
              className={look(adding === kind)}
              onClick={() => choose(adding === kind ? null : kind)}
            >
              {name}
            </button>
          ));
        return (
          <DropdownMenu.Root key={label} modal={false}>
            <DropdownMenu.Trigger className={look(current !== undefined)} data-testid={`draw-${label.toLowerCase()}`}>
              {current?.[1] ?? label} <span className="text-[9px]">▾</span>
            </DropdownMenu.Trigger>
            <DropdownMenu.Portal>
              <DropdownMenu.Content
                align="start"
                className="z-20 min-w-40 border border-ink bg-hi py-1"
                // the plan takes the keys once something is to be drawn
                onCloseAutoFocus={(event) => event.preventDefault()}
              >
                {kinds.map(([kind, name, key]) => (
                  <DropdownMenu.Item
                    key={kind}
                    className="flex cursor-pointer justify-between px-3 py-[3px] outline-none data-[highlighted]:bg-lo"
                    data-testid={`draw-${kind}`}
                    onSelect={() => choose(kind)}
                  >
                    {name} <span className="pl-6 text-ink3">{key?.toUpperCase()}</span>
                  </DropdownMenu.Item>
                ))}
              </DropdownMenu.Content>
            </DropdownMenu.Portal>
          </DropdownMenu.Root>
        );
      })}
      <span className="ml-auto" />
      <Levels />
      <UnderPlan />
      <CataloguePage />
      <ImportPage />
    </div>
  );
}

/** Whether levels are read and typed as such, or as depths below the ground: in tables, section and inspector alike. */
function Levels() {
  const { depths, showDepths } = useProject();
  return (
    <button
      type="button"
      className="px-3 text-ink2 underline"
      title="read and type inverts, crests and beds as levels, or as depths below the ground"
      aria-pressed={depths}
      onClick={() => showDepths(!depths)}
      data-testid="levels-or-depths"
    >
      {depths ? "as levels" : "as depths"}
    </button>
  );
}

import { useEffect, useState } from "react";
import { useProject } from "../../document/store";
import { isConduit, type Network } from "../../document/types";
import { show, unitOf } from "../../document/units";
import { NameForm } from "../../primitives/NameForm";
import { ApplyAsOption } from "../ApplyAsOption";
import { DesignSection } from "./DesignSection";
import { DesignTable, LIMITS } from "./DesignTable";
import { Settings } from "./Settings";
import { AIMS, type Aim, type Asked, type Design, useSizing } from "./useSizing";

/** Pipes sized by every aim, side by side with what lies; nothing changes before it is applied, as an option of its own. */
export function SizingPage({ pipes }: { pipes: string[] }) {
  const { project, network, sizePipes } = useProject();
  const [asked, setAsked] = useState<Asked>({
    material: "",
    source: "rational",
    return_period: 5,
    allowance: 0,
    storm: "",
    rules: null,
  });
  const [aim, setAim] = useState<Aim>("excavation");
  const { data, error, isFetching } = useSizing(pipes, asked);
  useEffect(() => {
    const leave = (event: KeyboardEvent) =>
      event.key === "Escape" && !(event.target instanceof HTMLInputElement) && sizePipes(null);
    window.addEventListener("keydown", leave);
    return () => window.removeEventListener("keydown", leave);
  }, [sizePipes]);
  if (!project || !network) return null;
  const found = error ? null : (data ?? null);
  const design = found?.aims[aim];
  return (
    <div className="flex min-w-0 flex-1" data-testid="sizing">
      <div className="w-[256px] shrink-0 overflow-y-auto border-r border-rule2 px-3 py-2">
        <p className="flex items-baseline gap-2 pb-1">
          <b className="text-[15px] font-semibold">Size pipes</b>
          <span className="text-[11px] text-ink2">
            {pipes.length ? `${pipes.length} picked` : "all that are round"}
          </span>
          <button type="button" className="textlink ml-auto" onClick={() => sizePipes(null)} data-testid="sizing-close">
            close
          </button>
        </p>
        <Settings asked={asked} ask={(part) => setAsked({ ...asked, ...part })} />
      </div>
      <div className="flex min-w-0 flex-1 flex-col">
        {error && (
          <p role="alert" className="border-b border-rule2 px-3 py-2 text-madder" data-testid="sizing-wrong">
            {error.message}
          </p>
        )}
        {found && design && (
          <>
            <div className="flex shrink-0 border-b border-rule2" role="radiogroup" aria-label="aim">
              {(Object.keys(AIMS) as Aim[]).map((each) => (
                <Card
                  key={each}
                  aim={each}
                  design={found.aims[each] as Design}
                  before={found.before}
                  shown={each === aim}
                  show={() => setAim(each)}
                />
              ))}
              <NotMet design={design} />
            </div>
            <div className="flex h-[170px] shrink-0 border-b border-rule2">
              {[aim, aim === "diameter" ? ("excavation" as const) : ("diameter" as const)].map((each) => (
                <div key={each} className="min-w-0 flex-1 border-l border-rule first:border-0">
                  <DesignSection
                    first={found.order[0] ?? ""}
                    before={found.before}
                    after={found.aims[each] as Design}
                    name={AIMS[each]}
                  />
                </div>
              ))}
            </div>
            <div className="min-h-0 flex-1 overflow-auto px-2">
              <DesignTable order={found.order} before={found.before} after={design} />
              {found.notes.map((note) => (
                <p key={note} className="py-[1px] text-[11px] text-ink2">
                  {note}
                </p>
              ))}
            </div>
            <p className="flex items-center justify-end gap-3 border-t border-rule2 px-3 py-2">
              <span className="text-ink3">
                {isFetching
                  ? "sizing …"
                  : design.exact
                    ? "every combination weighed"
                    : "designs that are alike to the millimetre were taken as one"}
                ; nothing changes before you apply; one step of undo
              </span>
              <ApplyAsOption
                patch={design.patch}
                suggested={AIMS[aim].toLowerCase()}
                done={() => sizePipes(null)}
                disabled={isFetching}
                testId="sizing-apply"
              />
            </p>
          </>
        )}
        {!found && !error && <p className="p-4 text-ink3">sizing …</p>}
      </div>
    </div>
  );
}

/** Lengths by diameter, rising. */
function lengths(network: Network | null, design: Design): string[] {
  const found = new Map<number, number>();
  for (const pipe of Object.values(design.pipes)) {
    const link = network?.links[pipe.id];
    if (isConduit(link)) found.set(pipe.diameter, (found.get(pipe.diameter) ?? 0) + link.length);
  }
  return [...found]
    .sort(([a], [b]) => a - b)
    .map(([d, length]) => `Ø ${show(d, "diameter")} ${show(length, "length", 0)} ${unitOf("length")}`);
}

/** Limits that are not met, and not allowed with a reason. */
const counted = (design: Design) => design.unmet.filter((one) => one.reason === null).length;

/** What an aim comes to, beside what lies. */
function Card({
  aim,
  design,
  before,
  shown,
  show: pick,
}: {
  aim: Aim;
  design: Design;
  before: Design;
  shown: boolean;
  show: () => void;
}) {
  const network = useProject((s) => s.network);
  const line = (label: string, was: string, is: string, unit: string) => (
    <span className="flex justify-between border-b border-rule py-[1px]">
      <span>{label}</span>
      <span className="figure">
        <s className="pr-2 text-[11px] text-ink3">{was}</s>
        {is} <span className="text-[11px] text-ink3">{unit}</span>
      </span>
    </span>
  );
  return (
    <button
      type="button"
      role="radio"
      aria-checked={shown}
      className={`w-[200px] border-t-4 px-3 py-1 text-left ${shown ? "border-ink bg-hi" : "border-transparent"}`}
      onClick={pick}
      data-testid={`aim-${aim}`}
    >
      <b className="font-semibold">{AIMS[aim]}</b>
      {line("Excavation", show(before.excavation, "volume", 0), show(design.excavation, "volume", 0), unitOf("volume"))}
      {line(
        "Ø × length",
        show(before.diameter_length, "area", 1),
        show(design.diameter_length, "area", 1),
        unitOf("area"),
      )}
      {line("Cost", before.cost.toFixed(0), design.cost.toFixed(0), "")}
      <span className="block truncate pt-[1px] text-[11px] text-ink2" title={lengths(network, design).join(", ")}>
        {lengths(network, design).join(", ")}
      </span>
      {line("Limits not met", String(counted(before)), String(counted(design)), "")}
    </button>
  );
}

/** Every limit that is not met, with its value, the limit, and what stands in the way. */
function NotMet({ design }: { design: Design }) {
  const { network, project, point, edit } = useProject();
  const [allowing, setAllowing] = useState<string | null>(null);
  const open = design.unmet.filter((one) => one.reason === null);
  const allow = (at: Design["unmet"][number], reason: string | null) => {
    const rest = (project?.sizing.allowed ?? []).filter((one) => one.pipe !== at.pipe || one.limit !== at.limit);
    const own = reason === null ? [] : [{ pipe: at.pipe, limit: at.limit, reason }];
    void edit([{ op: "replace", path: "/sizing/allowed", value: [...rest, ...own] }]);
  };
  return (
    <div
      className="max-h-[120px] min-w-0 flex-1 overflow-y-auto border-l border-rule2 px-3 py-1"
      data-testid="sizing-unmet"
    >
      <b className={`font-semibold ${open.length ? "text-madder" : ""}`}>
        {open.length ? "Not met" : design.unmet.length ? "Every other limit is met" : "Every limit is met"}
      </b>
      {design.unmet.map((one) => {
        const { word, quantity } = LIMITS[one.limit] ?? { word: one.limit, quantity: "length" as const };
        return (
          <p key={`${one.pipe}/${one.limit}/${one.why}`} className="py-[2px] leading-[14px]">
            <button
              type="button"
              className={`font-semibold ${one.reason === null ? "text-madder" : "text-ink2"}`}
              onClick={() => point({ element: one.pipe })}
            >
              {network?.links[one.pipe]?.name}: {word} {show(one.value, quantity)}, limit {show(one.allowed, quantity)}{" "}
              {unitOf(quantity)}
            </button>
            <br />
            <span className="text-[11px] text-ink2">{one.why}</span>{" "}
            {one.reason === null ? (
              allowing === `${one.pipe}/${one.limit}` ? (
                <NameForm
                  label="why it is allowed here"
                  keep={(reason) => allow(one, reason)}
                  leave={() => setAllowing(null)}
                  testId="allow-reason"
                />
              ) : (
                <button
                  type="button"
                  className="textlink text-[11px]"
                  onClick={() => setAllowing(`${one.pipe}/${one.limit}`)}
                  data-testid={`allow-${network?.links[one.pipe]?.name}`}
                >
                  allow here
                </button>
              )
            ) : (
              <span className="text-[11px] text-ink2">
                allowed here: {one.reason}{" "}
                <button type="button" className="textlink" onClick={() => allow(one, null)}>
                  ask it again
                </button>
              </span>
            )}
          </p>
        );
      })}
    </div>
  );
}

import { useEffect, useState } from "react";
import { api, call } from "../../api/client";
import type { components } from "../../api/schema";
import { useProject } from "../../document/store";
import { show, unitOf } from "../../document/units";
import { Choice } from "../../primitives/Choice";
import { NumberField } from "../../primitives/NumberField";

export type Profile = components["schemas"]["Profile"];
type Found = Record<string, components["schemas"]["Capacity"]>;
type Keep = components["schemas"]["CapacityIn"]["keep"];
type Tail = "own" | "free" | "normal" | "fixed";

const TAILS: Record<Tail, string> = { own: "as drawn", free: "free", normal: "normal depth", fixed: "a level" };
const KEEPS: Record<Keep, string> = { "below soffit": "below soffit", "below cover": "below cover" };
const REST = 400; // ms of no typing before the profile is asked for

/** Steady inflows and tail water; what they settle to goes to `shown`, and capacity is found on demand. */
export function SteadyFlow({
  profile,
  shown,
  leave,
}: {
  profile: Profile | null;
  shown: (profile: Profile | null) => void;
  leave: () => void;
}) {
  const { id, option, revision, network, cursor, point } = useProject();
  const [inflows, setInflows] = useState<Record<string, number>>({});
  const [tail, setTail] = useState<Tail>("own");
  const [level, setLevel] = useState(0);
  const [keep, setKeep] = useState<Keep>("below soffit");
  const [found, setFound] = useState<Found | "computing" | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const node = network?.nodes[cursor.element ?? ""] ?? null;
  const takes = node !== null && node.kind !== "outfall" && !((cursor.element ?? "") in inflows);
  const flows = Object.entries(inflows).filter(([key]) => network?.nodes[key]);
  const flowing = flows.some(([, q]) => q > 0);
  const asked = JSON.stringify([flows, tail, level, revision]);

  // biome-ignore lint/correctness/useExhaustiveDependencies: `asked` holds all that the profile depends on
  useEffect(() => {
    setFound(null);
    if (!id || !flowing) {
      shown(null);
      return;
    }
    let current = true;
    const timer = setTimeout(() => {
      setBusy(true);
      const tail_water = tail === "own" ? null : tail === "fixed" ? { kind: tail, level } : { kind: tail };
      call(
        api.POST("/api/projects/{project_id}/options/{option}/steady", {
          params: { path: { project_id: id, option } },
          body: { inflows: Object.fromEntries(flows), tail_water },
        }),
      )
        .then((profile) => {
          if (!current) return;
          setProblem(null);
          shown(profile);
        })
        .catch((error: Error) => {
          if (!current) return;
          setProblem(error.message);
          shown(null);
        })
        .finally(() => current && setBusy(false));
    }, REST);
    return () => {
      current = false;
      clearTimeout(timer);
    };
  }, [asked]);

  const most = () => {
    if (!id) return;
    setFound("computing");
    call(
      api.POST("/api/projects/{project_id}/options/{option}/capacity", {
        params: { path: { project_id: id, option } },
        body: { inflows: Object.fromEntries(flows), keep },
      }),
    )
      .then((capacities) => {
        setProblem(null);
        setFound(capacities);
      })
      .catch((error: Error) => {
        setProblem(error.message);
        setFound(null);
      });
  };
  const nameOf = (key: string) => (network?.nodes[key] ?? network?.links[key])?.name ?? "";
  return (
    <aside
      // biome-ignore lint/a11y/noNoninteractiveTabindex: what scrolls must be reachable by keyboard
      tabIndex={0}
      className="w-[250px] shrink-0 overflow-y-auto border-r border-rule2 px-2 pb-2"
      aria-label="Steady flow"
      data-testid="steady-flow"
    >
      <p className="flex items-baseline justify-between py-1">
        <b className="text-[14px] font-semibold">Steady flow</b>
        <button type="button" className="textlink text-[11px]" onClick={leave}>
          back to the storm
        </button>
      </p>
      {flows.map(([key, q]) => (
        <p key={key} className="flex items-center gap-1">
          <span className="flex-1">
            <NumberField
              label={`into ${nameOf(key)}`}
              value={q}
              quantity="flow"
              commit={(value) => setInflows({ ...inflows, [key]: value })}
              testId={`steady-${nameOf(key)}`}
            />
          </span>
          <button
            type="button"
            aria-label={`no inflow into ${nameOf(key)}`}
            className="px-1 text-ink3"
            onClick={() => setInflows(Object.fromEntries(flows.filter(([other]) => other !== key)))}
          >
            ×
          </button>
        </p>
      ))}
      {takes ? (
        <button
          type="button"
          className="textlink text-[11px]"
          onClick={() => setInflows({ ...inflows, [cursor.element ?? ""]: 0.01 })}
        >
          let water in at {node.name}
        </button>
      ) : (
        <p className="text-[11px] text-ink3">Pick a node to let water in there.</p>
      )}
      <Choice
        label="Tail water"
        value={tail}
        options={TAILS}
        commit={(value) => setTail(value as Tail)}
        testId="tail-water"
      />
      {tail === "fixed" && (
        <NumberField label="at" value={level} quantity="level" commit={setLevel} testId="tail-level" />
      )}
      {busy && <p className="text-[11px] text-ink3">settling…</p>}
      {problem && (
        <p role="alert" className="text-[11px] text-madder">
          {problem}
        </p>
      )}
      {profile && <Floods profile={profile} />}
      {flowing && (
        <>
          <h3 className="mt-1 border-t border-rule pt-1 font-semibold">Capacity</h3>
          <Choice label="Water stays" value={keep} options={KEEPS} commit={(value) => setKeep(value as Keep)} />
          <button
            type="button"
            className="border border-ink px-2"
            disabled={found === "computing"}
            onClick={most}
            data-testid="find-capacity"
          >
            {found === "computing" ? "finding…" : "Find it"}
          </button>
          {found && found !== "computing" && (
            <table className="mt-1 w-full" data-testid="capacities">
              <thead>
                <tr className="text-left text-[11px] text-ink3">
                  <th className="font-normal">tail water</th>
                  <th className="text-right font-normal">{unitOf("flow")}</th>
                  <th className="text-right font-normal">×</th>
                  <th className="pl-2 font-normal">limit at</th>
                </tr>
              </thead>
              <tbody>
                {Object.entries(found).map(([name, one]) => (
                  <tr key={name} className="border-b border-rule">
                    <td>{TAILS[name as Tail]}</td>
                    <td className="figure text-right">{show(one.flow, "flow")}</td>
                    <td className="figure text-right">{one.multiple.toFixed(2)}</td>
                    <td className="pl-2">
                      <button type="button" className="textlink" onClick={() => point({ element: one.element })}>
                        {nameOf(one.element)}
                      </button>
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          )}
        </>
      )}
    </aside>
  );
}

/** What a steady flow does not keep in the network: it runs over covers, or stands over banks. */
function Floods({ profile }: { profile: Profile }) {
  const { network, point } = useProject();
  const floods = Object.entries(profile.floods).sort(([, a], [, b]) => b - a);
  const banks = Object.entries(profile.over_bank);
  if (floods.length + banks.length === 0) return null;
  const told = (id: string, words: string) => (
    <button key={id} type="button" className="block text-left" onClick={() => point({ element: id })}>
      <b>{(network?.nodes[id] ?? network?.links[id])?.name}</b> {words}
    </button>
  );
  return (
    <div role="status" className="mt-1 border-l-4 border-madder pl-2 text-madder" data-testid="steady-floods">
      <b className="font-semibold">Not all of it fits:</b>
      {floods.map(([id, flow]) => told(id, `floods, ${show(flow, "flow")} ${unitOf("flow")} run away`))}
      {banks.map(([id, over]) => told(id, `is over its bank by ${show(over, "length")} ${unitOf("length")}`))}
    </div>
  );
}

import { Dialog } from "radix-ui";
import { useEffect, useState } from "react";
import { api, call, type Finding } from "../api/client";
import type { components } from "../api/schema";
import { type Change, useProject } from "../document/store";
import type { CheckLimits } from "../document/types";
import type { Quantity } from "../document/units";
import { NumberField } from "../primitives/NumberField";
import { Page } from "../primitives/Page";

type Explained = Record<string, components["schemas"]["Explanation"]>;
let explained: Explained | null = null;

const LIMITS: [keyof CheckLimits, string, Quantity][] = [
  ["cover", "Cover, at least", "length"],
  ["min_velocity", "Full-bore velocity, at least", "speed"],
  ["max_velocity", "Full-bore velocity, at most", "speed"],
  ["drop", "Drop into a node, at most", "length"],
  ["min_roughness", "Manning's n, at least", "roughness"],
  ["max_roughness", "Manning's n, at most", "roughness"],
  ["max_distance", "Catchment to node, at most", "length"],
  ["depth", "Cover to invert, at most", "length"],
  ["silt", "Silt of a pipe's height, at most", "share"],
  ["shaft_area", "Plan area of a shaft, at most", "area"],
  ["ponded_area", "Ponded area, at most", "area"],
  ["unit_storage", "Store for each paved hectare, at most", "volume"],
  ["unit_outflow", "Permit for each hectare, at most", "flow"],
  ["entry", "Time of entry, at most", "minutes"],
  ["min_runoff", "Coefficient of paved ground, at least", "share"],
  ["creep", "Urban creep, at most", "share"],
  ["opening", "Opening of an orifice, at least", "diameter"],
  ["least_catchment", "Area of a catchment, at least", "area"],
  ["catchment", "Area of a catchment, at most", "area"],
  ["least_rain", "Of the greatest rain measured, the worst storm at least", "share"],
  ["rain", "Of the greatest rain measured, at most", "share"],
];

const keyOf = (finding: Finding) => `${finding.check}/${finding.element}/${finding.field}/${finding.why}`;

/** The lane of checks between plan and section: what is open, with its safe remedies; the rest in a page of its own. */
export function Findings({ about }: { about: "network" | "rain" }) {
  const { findings: all, lastEdit, point } = useProject();
  const findings = all.filter((f) => f.about === about);
  const [page, setPage] = useState<string | null>(null);
  const open = findings.filter((f) => f.accepted === null);
  const accepted = findings.length - open.length;
  return (
    <div
      className="flex h-[26px] shrink-0 items-center gap-5 overflow-x-auto whitespace-nowrap border-b border-rule2 bg-lo px-3"
      data-testid="checks"
    >
      <button
        type="button"
        className={`font-semibold ${open.length ? "text-ochre-ink underline" : ""}`}
        onClick={() => setPage("")}
        data-testid="all-findings"
      >
        {open.length || lastEdit?.leap
          ? `${open.length + (lastEdit?.leap ? 1 : 0)} thing${open.length + (lastEdit?.leap ? 1 : 0) > 1 ? "s" : ""} to look at`
          : "nothing to look at"}
        {accepted > 0 && <span className="font-normal text-ink3">, {accepted} accepted</span>}
      </button>
      <Leap />
      {open.map((f, i) => (
        <span key={keyOf(f)}>
          <button type="button" title={f.remedy} onClick={() => f.element && point({ element: f.element })}>
            <span className="mr-1 inline-flex h-4 w-4 rotate-45 items-center justify-center border border-ochre bg-ochre-tint">
              <span className="-rotate-45 text-[10.5px]">{i + 1}</span>
            </span>{" "}
            {f.why}; <span className="text-ink3">{f.remedy}</span>
          </button>
          <Remedy finding={f} />
          <button type="button" className="textlink ml-2 text-[11px]" onClick={() => setPage(keyOf(f))}>
            why?
          </button>
        </span>
      ))}
      <Dialog.Root open={page !== null} onOpenChange={(shown) => !shown && setPage(null)}>
        <Page title="What the checks find" wide={720} testId="findings-page">
          <div className="overflow-y-auto px-4 pb-4">
            {findings.length === 0 && <p className="py-2 text-ink3">Nothing to look at.</p>}
            {findings.map((f) => (
              <One key={keyOf(f)} finding={f} picked={keyOf(f) === page} />
            ))}
            <Limits />
          </div>
        </Page>
      </Dialog.Root>
    </div>
  );
}

/** A figure that the last edit moved out of proportion. */
function Leap() {
  const { lastEdit, undo } = useProject();
  if (!lastEdit?.leap) return null;
  return (
    <span data-testid="leap">
      <b className="font-semibold text-ochre-ink">last edit</b> {lastEdit.leap}{" "}
      <button type="button" className="ml-1 border border-ink px-1 text-[11px]" onClick={() => void undo(true)}>
        undo
      </button>
    </span>
  );
}

/** The safe remedies of a finding, one click each. */
function Remedy({ finding }: { finding: Finding }) {
  const { edit, optionPath } = useProject();
  if (finding.accepted !== null) return null;
  return [finding.fix, finding.instead].map((fix, k) => {
    if (!fix) return null;
    const root = finding.about === "rain" ? "" : optionPath;
    const changes = fix.patch.map((change) => ({ ...change, path: `${root}${String(change.path)}` }) as Change);
    return (
      <button
        key={fix.does}
        type="button"
        className="ml-2 border border-ink px-1 text-[11px]"
        onClick={() => void edit(changes)}
        data-testid={`${k ? "instead" : "fix"}-${finding.check}`}
      >
        {fix.does}
      </button>
    );
  });
}

/** A finding with its explanation, its remedy, and the reason for which it may stay. */
function One({ finding, picked }: { finding: Finding; picked: boolean }) {
  const { project, option, edit, point } = useProject();
  const [texts, setTexts] = useState(explained);
  const [reason, setReason] = useState("");
  const [element, setElement] = useState<HTMLElement | null>(null);
  useEffect(() => {
    if (texts) return;
    call(api.GET("/api/checks"))
      .then((found) => {
        explained = found;
        setTexts(found);
      })
      .catch(() => setTexts({})); // the finding itself still says what to do
  }, [texts]);
  useEffect(() => {
    if (picked) element?.scrollIntoView({ block: "start" });
  }, [picked, element]);
  const text = texts?.[finding.check];
  const at = (project?.accepted ?? []).findIndex(
    (a) => a.check === finding.check && a.element === finding.element && (a.option ?? option) === option,
  );
  const accept = () =>
    void edit([
      {
        op: "add",
        path: "/accepted/-",
        value: { option, check: finding.check, element: finding.element, reason: reason.trim() },
      },
    ]);
  return (
    <article ref={setElement} className="border-b border-rule py-2" data-testid={`finding-${finding.check}`}>
      <p className="flex items-baseline gap-2">
        <b className={`font-semibold ${finding.severity === "stops" ? "text-madder" : ""}`}>{finding.why}</b>
        <span className="text-[11px] text-ink3">
          {finding.severity === "stops" ? "stops the run" : finding.accepted === null ? "look" : "accepted"}
        </span>
        {finding.element && (
          <button
            type="button"
            className="textlink ml-auto text-[11px]"
            onClick={() => point({ element: finding.element })}
          >
            show it
          </button>
        )}
      </p>
      <p>
        {finding.remedy}
        <Remedy finding={finding} />
      </p>
      {text && (
        <details open={picked}>
          <summary className="cursor-pointer text-[11px] text-ink3">{text.title}: what this check is about</summary>
          <p className="pt-1">{text.looks}</p>
          <p>{text.matters}</p>
          <p>{text.remedy}</p>
        </details>
      )}
      {finding.accepted !== null ? (
        <p className="text-ink2">
          Stays as it is: {finding.accepted}{" "}
          <button
            type="button"
            className="textlink text-[11px]"
            onClick={() => void edit([{ op: "remove", path: `/accepted/${at}` }])}
          >
            take back
          </button>
        </p>
      ) : (
        finding.severity === "look" &&
        finding.acceptable && (
          <form
            className="flex items-center gap-2 pt-1"
            onSubmit={(event) => {
              event.preventDefault();
              if (reason.trim()) accept();
            }}
          >
            <input
              className="field !w-[420px] !text-left !font-sans"
              aria-label={`reason to leave: ${finding.why}`}
              placeholder="it may stay, because …"
              maxLength={500}
              value={reason}
              onChange={(event) => setReason(event.target.value)}
              data-testid={`reason-${finding.check}`}
            />
            <button type="submit" className="border border-ink px-2" disabled={!reason.trim()}>
              Accept
            </button>
          </form>
        )
      )}
    </article>
  );
}

/** What is usual on this site: the bounds that the checks judge by. */
function Limits() {
  const { project, edit } = useProject();
  if (!project) return null;
  return (
    <section className="w-[360px] pt-3" aria-label="Limits of the checks">
      <h3 className="font-semibold">Limits of the checks</h3>
      {LIMITS.map(([field, label, quantity]) => (
        <NumberField
          key={field}
          label={label}
          value={project.check_limits[field]}
          quantity={quantity}
          commit={(value) => void edit([{ op: "add", path: `/check_limits/${field}`, value }])}
          testId={`usual-${field}`}
        />
      ))}
    </section>
  );
}

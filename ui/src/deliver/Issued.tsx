import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, call, sent } from "../api/client";
import type { components } from "../api/schema";
import { useProject } from "../document/store";

type Issue = components["schemas"]["IssueOut"];
type Changes = components["schemas"]["SinceIssue"];
type Verified = components["schemas"]["Verified"];

const SEALED: Record<Verified["state"], string> = {
  issued: "",
  superseded: "text-ochre-ink",
  "not proven": "text-ochre-ink",
  differs: "text-madder",
  foreign: "text-madder",
};

/** Reports that were issued: frozen under a number, taken again, and what has changed since. */
export function Issued({ layout }: { layout: string }) {
  const { id, option, revision, answer, fingerprint } = useProject();
  const queries = useQueryClient();
  const [number, setNumber] = useState("");
  const [busy, setBusy] = useState(false);
  const [wrong, setWrong] = useState<string | null>(null);
  const [open, setOpen] = useState<number | null>(null);
  const [verified, setVerified] = useState<Verified | null>(null);
  const { data: issues = [] } = useQuery({
    queryKey: ["issues", id, revision],
    enabled: id !== null,
    queryFn: () =>
      call(api.GET("/api/projects/{project_id}/issues", { params: { path: { project_id: id ?? "" } } })) as Promise<
        Issue[]
      >,
  });
  const { data: changes } = useQuery({
    queryKey: ["issue-changes", id, option, open, revision, answer?.version],
    enabled: open !== null && id !== null,
    queryFn: () =>
      call(
        api.GET("/api/projects/{project_id}/options/{option}/issues/{issue}/changes", {
          params: { path: { project_id: id ?? "", option, issue: open ?? 0 } },
        }),
      ) as Promise<Changes>,
  });
  const missing = answer?.overall.missing ?? "";
  const issue = async () => {
    setBusy(true);
    setWrong(null);
    try {
      await call(
        api.POST("/api/projects/{project_id}/options/{option}/issues", {
          params: { path: { project_id: id ?? "", option } },
          body: { number: number.trim(), layout, incomplete: false },
        }),
      );
      setNumber("");
      await queries.invalidateQueries({ queryKey: ["issues", id] });
    } catch (error) {
      setWrong(error instanceof Error ? error.message : String(error));
    }
    setBusy(false);
  };
  const verify = async (file: File | undefined) => {
    if (!file) return;
    setWrong(null);
    setVerified(null);
    try {
      setVerified(await sent(`/api/projects/${id}/verify`, file));
    } catch (error) {
      setWrong(error instanceof Error ? error.message : String(error));
    }
  };
  const bars = [...fingerprint.slice(0, 40)].map((c, i) => ({ key: i, height: 3 + Number.parseInt(c, 16) * 1.1 }));
  return (
    <section
      onDragOver={(event) => event.preventDefault()}
      onDrop={(event) => {
        event.preventDefault();
        void verify(event.dataTransfer.files[0]);
      }}
      aria-label="issued reports"
    >
      <b className="block text-[14px] font-semibold">Fingerprint of the inputs</b>
      <svg width={256} height={22} className="mt-1" role="img" aria-label="fingerprint drawn as bars">
        {bars.map((bar) => (
          <rect key={bar.key} x={bar.key * 6.4} y={0} width={4} height={bar.height} fill="var(--color-ink)" />
        ))}
      </svg>
      <p className="flex items-baseline justify-between">
        <span className="figure text-[15px]">
          {fingerprint
            .slice(0, 12)
            .toUpperCase()
            .replace(/(.{4})/g, "$1 ")}
        </span>
        <label className="textlink cursor-pointer focus-within:outline">
          verify a report
          <input
            type="file"
            accept="application/pdf"
            className="sr-only"
            data-testid="verify"
            onChange={(event) => {
              void verify(event.target.files?.[0]);
              event.target.value = "";
            }}
          />
        </label>
      </p>
      <p className="text-ink2">
        Printed on every page. A report dropped here is held, byte for byte, against the issues, and its signature
        against the{" "}
        <a className="textlink" href="/api/certificate.pem" download>
          certificate
        </a>{" "}
        of this installation.
      </p>
      {verified && (
        <p className={`pt-1 font-semibold ${SEALED[verified.state]}`} data-testid="verified">
          {verified.said} {verified.signed} {verified.remarks.length > 0 && `Besides, ${verified.remarks.join("; ")}.`}
        </p>
      )}
      <form
        className="flex items-baseline gap-2 pt-3"
        onSubmit={(event) => {
          event.preventDefault();
          void issue();
        }}
      >
        <input
          className="field !w-[90px] !text-left"
          placeholder="number"
          aria-label="number of the issue"
          value={number}
          maxLength={40}
          onChange={(event) => setNumber(event.target.value)}
          data-testid="issue-number"
        />
        <button
          type="submit"
          className="border border-ink px-3 py-[2px] font-semibold"
          disabled={busy || !number.trim() || missing !== "" || answer?.state !== "settled"}
          title={missing || "freeze inputs, results and layout under this number"}
          data-testid="issue"
        >
          {busy ? "issuing …" : "Issue"}
        </button>
      </form>
      {wrong && (
        <p className="pt-1 text-madder" role="alert" data-testid="issue-wrong">
          {wrong}
        </p>
      )}
      <ul data-testid="issues">
        {issues.map((one) => (
          <li key={one.id} className="border-b border-rule py-[3px]">
            <span className="flex items-baseline gap-2">
              <b className="min-w-0 flex-1 truncate font-semibold">{one.number}</b>
              <span className={one.stands ? "text-ink2" : "text-ochre-ink"}>
                {one.stands ? "stands" : "superseded"}
              </span>
              <button
                type="button"
                className="textlink"
                onClick={() => setOpen(open === one.id ? null : one.id)}
                data-testid={`changes-${one.number}`}
              >
                changes
              </button>
              <a
                className="textlink"
                href={`/api/projects/${id}/issues/${one.id}/report.pdf`}
                download
                data-testid={`issued-${one.number}`}
              >
                take
              </a>
              <a
                className="textlink"
                href={`/api/projects/${id}/issues/${one.id}/issue.json`}
                download
                title="inputs, layout, digests and verdicts of this issue; madidus report --since tells changes by it"
                data-testid={`record-${one.number}`}
              >
                record
              </a>
            </span>
            <span className="block text-ink3">
              {one.made.slice(0, 10)}, {one.option_name}, {one.layout}
            </span>
            {open === one.id && changes && (
              <span className="block max-h-40 overflow-y-auto text-ink2" data-testid="changes">
                {changes.verdicts.map((verdict) => (
                  <span key={verdict.rule} className="block">
                    {verdict.rule}: {verdict.was} → {verdict.now}
                  </span>
                ))}
                {changes.elements.map(([element, field, was, now], k) => (
                  // biome-ignore lint/suspicious/noArrayIndexKey: rows have no id
                  <span key={k} className="block">
                    {element} {field}: {was} → {now}
                  </span>
                ))}
                {changes.verdicts.length + changes.elements.length === 0 && "nothing has changed"}
              </span>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}

import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, call } from "../api/client";
import { useProject } from "../document/store";
import { show, unitOf } from "../document/units";
import { NumberField } from "../primitives/NumberField";

const FIRST = 0.01; // m3/s, where no rule permits a rate

/** What a store would have to hold by a limiting flow, before its control is known: a range, and why it is a bound. */
export function QuickEstimate({ id }: { id: string }) {
  const { id: project_id, option, project, answer, point } = useProject();
  const permitted = project?.brief.rules.find((rule) => rule.kind === "outflow");
  const [rate, setRate] = useState(
    permitted?.kind === "outflow" ? Math.max(...permitted.limits.map((limit) => limit.value)) : FIRST,
  );
  const [open, setOpen] = useState(false);
  const { data, error } = useQuery({
    queryKey: ["estimate", project_id, option, id, rate, answer?.revision],
    enabled: open && !!project_id && rate > 0,
    placeholderData: (old) => old,
    retry: false,
    queryFn: () =>
      call(
        api.GET("/api/projects/{project_id}/options/{option}/stores/{store}/estimate", {
          params: { path: { project_id: project_id ?? "", option, store: id }, query: { rate } },
        }),
      ),
  });
  return (
    <details className="mt-1" onToggle={(event) => setOpen(event.currentTarget.open)} data-testid="quick-estimate">
      <summary className="text-ink2">Quick estimate of storage</summary>
      <NumberField
        label="Limiting flow"
        value={rate}
        quantity="flow"
        commit={(value) => value > 0 && setRate(value)}
        testId="limiting-flow"
      />
      {open && !data && !error && <p className="text-[11px] text-ink3">reckoning …</p>}
      {error && <p className="text-[11px] text-madder">{error.message}</p>}
      {data?.rows.map((one) => (
        <p key={one.row} className="flex justify-between border-b border-rule py-[1px]">
          <button type="button" className="textlink" onClick={() => point({ storm: one.least_storm })}>
            {one.row}
          </button>
          <span className="figure">
            {show(one.least, "volume", 0)} – {show(one.orifice, "volume", 0)}{" "}
            <span className="text-[11px] text-ink3">{unitOf("volume")}</span>
          </span>
        </p>
      ))}
      <p className="pt-1 text-[11px] leading-[13px] text-ink3">
        {data && data.above.length > 0 && (
          <span className="text-ochre-ink">
            {data.above.join(", ")} above {data.above.length > 1 ? "hold" : "holds"} some of it back: no lower bound
            here.{" "}
          </span>
        )}
        From the runoff above it alone, nothing routed. The first figure lets the limiting flow out from the first drop
        on, a lower bound; the second is for an orifice, which passes it only when the store is full.
      </p>
    </details>
  );
}

import { useQuery } from "@tanstack/react-query";
import { Dialog } from "radix-ui";
import { useState } from "react";
import { api, call } from "../../api/client";
import { useProject } from "../../document/store";
import { show, unitOf } from "../../document/units";
import { NumberField } from "../../primitives/NumberField";
import { Page } from "../../primitives/Page";

/** A first flow for every conduit by the rational method, against what it carries when full. */
export function RationalPage() {
  const [open, setOpen] = useState(false);
  return (
    <Dialog.Root open={open} onOpenChange={setOpen}>
      <Dialog.Trigger className="textlink" data-testid="rational">
        flows by the rational method
      </Dialog.Trigger>
      <Page title="Flows by the rational method, for sizing" wide={760} testId="rational-page">
        {open && <Flows />}
      </Page>
    </Dialog.Root>
  );
}

function Flows() {
  const { id, option, revision, project, network, point } = useProject();
  const first = project?.rain.ensemble.probabilities[0];
  const [asked, setAsked] = useState({ return_period: first?.return_period ?? 2, allowance: first?.allowance ?? 0 });
  const { data, error } = useQuery({
    queryKey: ["rational", id, option, revision, asked],
    enabled: !!id,
    retry: false,
    queryFn: () =>
      call(
        api.GET("/api/projects/{project_id}/options/{option}/rational", {
          params: { path: { project_id: id ?? "", option }, query: asked },
        }),
      ),
  });
  const small = data?.filter((row) => row.full !== null && row.flow > row.full).length ?? 0;
  return (
    <>
      <div className="flex items-baseline gap-4 px-4 pt-2">
        <NumberField
          label="Return period"
          value={asked.return_period}
          quantity="years"
          commit={(return_period) => setAsked({ ...asked, return_period })}
          testId="rational-period"
        />
        <NumberField
          label="Allowance"
          value={asked.allowance}
          quantity="share"
          commit={(allowance) => setAsked({ ...asked, allowance })}
        />
        {data && (
          <span className={`ml-auto ${small ? "text-madder" : "text-ink2"}`}>
            {small ? `${small} of ${data.length} carry less when full` : `all ${data.length} carry it when full`}
          </span>
        )}
      </div>
      <p className="px-4 text-[11px] text-ink3">
        All areas above × their greater coefficient × the intensity of the longest time that arrives; travel at
        full-bore speed; below a store gathering begins anew. It knows no storage and no backwater: a run of the
        ensemble decides.
      </p>
      {data?.some((row) => row.extended) && (
        <p className="px-4 text-ochre-ink" data-testid="below-table">
          Some times are shorter than those at which the rainfall begins (marked): there intensity goes on as its first
          two durations lead it.
        </p>
      )}
      {error && (
        <p role="alert" className="px-4 py-2 text-madder">
          {error.message}
        </p>
      )}
      <div className="mt-1 min-h-0 overflow-y-auto px-4 pb-4">
        <table className="w-full text-right">
          <thead className="sticky top-0 bg-hi">
            <tr className="border-b border-ink text-[11px] text-ink3">
              <th className="text-left font-normal">conduit</th>
              <th className="font-normal">area × c {unitOf("area")}</th>
              <th className="font-normal">time min</th>
              <th className="font-normal">intensity {unitOf("rate")}</th>
              <th className="font-normal">flow {unitOf("flow")}</th>
              <th className="font-normal">full {unitOf("flow")}</th>
              <th className="font-normal">speed {unitOf("speed")}</th>
              <th className="font-normal">of full %</th>
            </tr>
          </thead>
          <tbody>
            {data?.map((row) => {
              const share = row.full ? row.flow / row.full : null;
              return (
                <tr key={row.conduit} className="border-b border-rule">
                  <td className="text-left">
                    <button type="button" className="textlink" onClick={() => point({ element: row.conduit })}>
                      {network?.links[row.conduit]?.name}
                    </button>
                  </td>
                  <td className="figure">{show(row.gathered, "area")}</td>
                  <td className="figure">{row.concentration.toFixed(1)}</td>
                  <td className="figure">
                    {row.extended ? "▲ " : ""}
                    {show(row.intensity, "rate")}
                  </td>
                  <td className="figure">{show(row.flow, "flow")}</td>
                  <td className="figure">{row.full === null ? "falls not" : show(row.full, "flow")}</td>
                  <td className="figure">{show(row.speed, "speed")}</td>
                  <td className={`figure ${share !== null && share > 1 ? "font-semibold text-madder" : ""}`}>
                    {share === null ? "" : (share * 100).toFixed(0)}
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      </div>
    </>
  );
}

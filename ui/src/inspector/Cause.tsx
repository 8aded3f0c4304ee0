import { useQuery } from "@tanstack/react-query";
import { api, call } from "../api/client";
import { useResults } from "../document/results";
import { useProject } from "../document/store";
import { show, unitOf } from "../document/units";

/** Why a surcharged element is so in the picked storm: its own capacity, or what backs up from below, and the way there. */
export function Cause({ id }: { id: string }) {
  const { id: project, option, answer, cursor, network, point, showChain } = useProject();
  const { still } = useResults();
  const known = answer?.storms.find((s) => s.key === cursor.storm)?.state === "in";
  const { data } = useQuery({
    queryKey: ["cause", project, id, cursor.storm, answer?.revision],
    enabled: !!project && known && still,
    queryFn: () =>
      call(
        api.GET("/api/projects/{project_id}/options/{option}/elements/{element}/cause", {
          params: { path: { project_id: project ?? "", option, element: id }, query: { storm: cursor.storm ?? "" } },
        }),
      ),
  });
  if (!data || !network) return null;
  const name = (key: string) => network.nodes[key]?.name ?? network.links[key]?.name ?? "";
  const bottleneck = data.chain[data.chain.length - 1] ?? "";
  const end = network.nodes[bottleneck] ?? network.links[bottleneck];
  const rate = (flow: number) => `${show(flow, "flow")} ${unitOf("flow")}`;
  return (
    <section className="mt-2 border-t border-rule pt-1" aria-label="Cause" data-testid="cause">
      <p>
        <b className="font-semibold">Surcharged</b>{" "}
        {data.kind === "capacity" ? (
          <>by its own capacity: </>
        ) : (
          <>
            by backwater from{" "}
            <button type="button" className="textlink font-semibold" onClick={() => point({ element: bottleneck })}>
              {end?.kind} {end?.name}
            </button>
            :{" "}
          </>
        )}
        {data.level != null
          ? `its water stands at ${show(data.level, "level", 2)} ${unitOf("level")}`
          : data.full != null && data.flow != null
            ? `${rate(data.flow)} at the peak, ${rate(data.full)} when just full`
            : data.flow != null
              ? `it lets ${rate(data.flow)} on`
              : "its tail water is higher"}
      </p>
      {data.chain.length > 1 && (
        <p className="text-[11px] text-ink2">
          {data.chain.map(name).join(" › ")}{" "}
          <button
            type="button"
            className="textlink ml-1"
            onClick={() => showChain(data.chain)}
            title="pick the elements from here to the bottleneck, on plan and section"
            data-testid="show-chain"
          >
            show the chain
          </button>
        </p>
      )}
    </section>
  );
}

import type { Network } from "../../document/types";
import { flowOrder } from "./flowOrder";

const known = new WeakMap<Network, Map<string, { order: number; lane: number }>>();

/** Place of each node in flow order, and how many branches lie between its run and the one that reaches the outfall. */
export function lanesOf(network: Network): Map<string, { order: number; lane: number }> {
  const found = known.get(network);
  if (found) return found;
  const ids = flowOrder(network);
  const order = new Map(ids.map((id, k) => [id, k]));
  const below = new Map<string, string>();
  for (const link of Object.values(network.links)) below.set(link.upstream, link.downstream);
  // how many nodes drain through each: the longest feeder goes on with its run
  const above = new Map<string, number>();
  for (const id of ids) {
    const next = below.get(id);
    if (next) above.set(next, (above.get(next) ?? 0) + (above.get(id) ?? 0) + 1);
  }
  const main = new Map<string, string>();
  for (const id of ids) {
    const next = below.get(id);
    if (next && (above.get(id) ?? 0) >= (above.get(main.get(next) ?? "") ?? -1)) main.set(next, id);
  }
  const lanes = new Map<string, { order: number; lane: number }>();
  for (const id of [...ids].reverse()) {
    const next = below.get(id);
    const lane = next ? (lanes.get(next)?.lane ?? 0) + (main.get(next) === id ? 0 : 1) : 0;
    lanes.set(id, { order: order.get(id) ?? 0, lane });
  }
  known.set(network, lanes);
  return lanes;
}

import type { Network } from "./types";

type Joints = { into: Map<string, string[]>; out: Map<string, string[]> };
const known = new WeakMap<Network, Joints>();

/** Links that arrive at each node, and links that leave it. */
export function jointsOf(network: Network): Joints {
  const found = known.get(network);
  if (found) return found;
  const joints: Joints = { into: new Map(), out: new Map() };
  const put = (at: Map<string, string[]>, node: string, id: string) => {
    const here = at.get(node);
    if (here) here.push(id);
    else at.set(node, [id]);
  };
  for (const [id, link] of Object.entries(network.links)) {
    put(joints.into, link.downstream, id);
    put(joints.out, link.upstream, id);
  }
  known.set(network, joints);
  return joints;
}

import { jointsOf } from "./joints";
import { isConduit, type Network } from "./types";

/** The element that an arrow leads to: right goes with the water, left against it, up and down to links beside. */
export function walk(
  network: Network,
  from: string | null,
  key: "ArrowLeft" | "ArrowRight" | "ArrowUp" | "ArrowDown",
): string | null {
  const joints = jointsOf(network);
  const link = network.links[from ?? ""];
  // conduits go before controls
  const first = (found: string[]) => found.find((id) => isConduit(network.links[id])) ?? found[0] ?? null;
  const into = (node: string) => joints.into.get(node) ?? [];
  const out = (node: string) => joints.out.get(node) ?? [];
  if (!link) {
    const node = network.nodes[from ?? ""] ? (from ?? "") : (network.catchments[from ?? ""]?.node ?? null);
    if (!node) return Object.keys(network.nodes)[0] ?? null;
    if (node !== from) return node;
    return first(key === "ArrowRight" || key === "ArrowDown" ? out(node) : into(node));
  }
  if (key === "ArrowRight") return link.downstream;
  if (key === "ArrowLeft") return link.upstream;
  const beside = [...new Set([...into(link.downstream), ...out(link.upstream)])].sort();
  const at = beside.indexOf(from ?? "");
  return beside[(at + (key === "ArrowDown" ? 1 : beside.length - 1)) % beside.length] ?? null;
}

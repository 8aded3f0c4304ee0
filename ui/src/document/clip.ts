import { isConduit, type Network } from "./types";

const MARK = "madidus-elements";

/** Copied elements as text, so that they can be pasted in another project. */
export const writeClip = (network: Network) => JSON.stringify({ format: MARK, network });

/** Elements from a copied text, or what is wrong with it. What they hold is checked where they are pasted. */
export function readClip(text: string): Network | string {
  const none = "the clipboard holds no elements of a network; copy some on a plan first";
  if (!text.includes(MARK)) return none;
  try {
    const { format, network } = JSON.parse(text) as { format: string; network: Network };
    if (format !== MARK) return none;
    const placed = Object.values(network.nodes).every((n) => Number.isFinite(n.x) && Number.isFinite(n.y));
    const joined = Object.values(network.links).every(
      (l) => network.nodes[l.upstream] && network.nodes[l.downstream] && (!isConduit(l) || Array.isArray(l.bends)),
    );
    const outlined = Object.values(network.catchments).every((c) => Array.isArray(c.polygon));
    return placed && joined && outlined ? network : none;
  } catch {
    return none;
  }
}

import { drawnAs, isConduit, type NetLink, type NetNode, type Network, outlineOf, type Point } from "./types";

type Ids = ReadonlySet<string>;
const round = (value: number, digits = 2) => Number(value.toFixed(digits));
const rounded = ([x, y]: Point): Point => [round(x), round(y)];

/** A network as it looks with some of its elements moved: bends go with both of their pipe's nodes or with the pipe. */
export function moved(network: Network, ids: Ids, dx: number, dy: number): Network {
  const by = ([x, y]: Point): Point => rounded([x + dx, y + dy]);
  const map = <T>(elements: Record<string, T>, change: (id: string, element: T) => T) =>
    Object.fromEntries(Object.entries(elements).map(([id, element]) => [id, change(id, element)]));
  return {
    nodes: map(network.nodes, (id, node) => {
      if (!ids.has(id)) return node;
      const [x, y] = by([node.x, node.y]);
      return {
        ...node,
        x,
        y,
        ...(node.kind === "basin" ? { [drawnAs(node)]: outlineOf(node).map(by) } : {}),
      } as NetNode;
    }),
    links: map(network.links, (id, link) =>
      isConduit(link) && link.bends.length && (ids.has(id) || (ids.has(link.upstream) && ids.has(link.downstream)))
        ? { ...link, bends: link.bends.map(by) }
        : link,
    ),
    catchments: map(network.catchments, (id, ground) =>
      ids.has(id) ? { ...ground, polygon: ground.polygon.map(by) } : ground,
    ),
  };
}

/** Elements by their ids with some links, and the nodes that these links need. */
function part(network: Network, ids: Ids, wanted: (id: string, link: NetLink) => boolean): Network {
  const links = Object.fromEntries(Object.entries(network.links).filter(([id, link]) => wanted(id, link)));
  const needed = new Set([...ids, ...Object.values(links).flatMap((link) => [link.upstream, link.downstream])]);
  return {
    nodes: Object.fromEntries(Object.entries(network.nodes).filter(([id]) => needed.has(id))),
    links,
    catchments: Object.fromEntries(Object.entries(network.catchments).filter(([id]) => ids.has(id))),
  };
}

/** The part of a network that a move touches: the elements, and the links of nodes with the nodes at their other ends. */
export const touched = (network: Network, ids: Ids) =>
  part(network, ids, (id, link) => ids.has(id) || ids.has(link.upstream) || ids.has(link.downstream));

/** Names of the links that go with the nodes at their ends. */
export const goesAlso = (network: Network, ids: Ids): string[] =>
  Object.entries(network.links)
    .filter(([id, link]) => !ids.has(id) && (ids.has(link.upstream) || ids.has(link.downstream)))
    .map(([, link]) => link.name);

/** What is copied: elements by their ids, whole; a copied link brings its nodes. What they name outside is let go. */
export function copied(network: Network, ids: Ids): Network {
  const { nodes, links, catchments } = part(network, ids, (id) => ids.has(id));
  const among = (elements: object, id: string | null | undefined) => (id && id in elements ? id : null);
  return {
    nodes: Object.fromEntries(
      Object.entries(nodes).map(([id, node]) => [
        id,
        node.kind === "inlet" ? { ...node, bypass: among(nodes, node.bypass) } : node,
      ]),
    ),
    links,
    catchments: Object.fromEntries(
      Object.entries(catchments).map(([id, ground]) => [
        id,
        { ...ground, node: among(nodes, ground.node), over: among(catchments, ground.over) },
      ]),
    ),
  };
}

/** Every place of a network, given by `change` from where it was. */
function mapped(network: Network, change: (at: Point) => Point): Network {
  const each = <T>(elements: Record<string, T>, of: (element: T) => T) =>
    Object.fromEntries(Object.entries(elements).map(([id, element]) => [id, of(element)]));
  return {
    nodes: each(network.nodes, (node) => {
      const [x, y] = change([node.x, node.y]);
      return {
        ...node,
        x,
        y,
        ...(node.kind === "basin" ? { [drawnAs(node)]: outlineOf(node).map(change) } : {}),
      } as NetNode;
    }),
    links: each(network.links, (link) => (isConduit(link) ? { ...link, bends: link.bends.map(change) } : link)),
    catchments: each(network.catchments, (ground) => ({ ...ground, polygon: ground.polygon.map(change) })),
  };
}

/** The middle of a network's extent. */
export function middleOf(network: Network): Point {
  const points = [
    ...Object.values(network.nodes).map((node): Point => [node.x, node.y]),
    ...Object.values(network.catchments).flatMap((ground) => ground.polygon),
  ];
  const mid = (values: number[]) => (Math.min(...values) + Math.max(...values)) / 2;
  return points.length ? [mid(points.map(([x]) => x)), mid(points.map(([, y]) => y))] : [0, 0];
}

/** Mirrored from east to west about its middle. */
export function mirrored(network: Network): Network {
  const [cx] = middleOf(network);
  return mapped(network, ([x, y]) => [2 * cx - x, y]);
}

/** Turned about its middle, degrees against the clock. */
export function turned(network: Network, degrees: number): Network {
  const [cx, cy] = middleOf(network);
  const [cos, sin] = [Math.cos((degrees * Math.PI) / 180), Math.sin((degrees * Math.PI) / 180)];
  return mapped(network, ([x, y]) => [cx + cos * (x - cx) - sin * (y - cy), cy + sin * (x - cx) + cos * (y - cy)]);
}

/** A network with its middle at a place. */
export function centred(network: Network, x: number, y: number): Network {
  const [cx, cy] = middleOf(network);
  return mapped(network, ([px, py]) => rounded([px + x - cx, py + y - cy]));
}

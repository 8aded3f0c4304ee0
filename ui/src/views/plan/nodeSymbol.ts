import { courseOf, lengthOf } from "../../document/course";
import { depthOf, isConduit, isStore, type NetNode, type Network, type Store, spillOf } from "../../document/types";
import { nodeKind } from "../../kinds";

const soffits = new WeakMap<Network, Map<string, number>>();

/** The highest soffit at each node. */
function soffitsOf(network: Network): Map<string, number> {
  const known = soffits.get(network);
  if (known) return known;
  const found = new Map<string, number>();
  const rise = (node: string, level: number) => found.set(node, Math.max(found.get(node) ?? -1e9, level));
  for (const link of Object.values(network.links)) {
    if (!isConduit(link)) continue;
    rise(link.upstream, link.upstream_invert + depthOf(link));
    rise(link.downstream, link.downstream_invert + depthOf(link));
  }
  soffits.set(network, found);
  return found;
}

const spans = new WeakMap<Network, number>();

/** Whether the pipes of a network are so short on the screen that its manholes are mere dots. */
export function farOff(network: Network, resolution: number): boolean {
  let span = spans.get(network);
  if (span === undefined) {
    const links = Object.values(network.links);
    span = links.reduce((sum, link) => sum + lengthOf(courseOf(network, link)), 0) / Math.max(links.length, 1);
    spans.set(network, span);
  }
  return span / resolution < 12;
}

/** How a node lies on the plan: its pixel, and whether it is picked. */
export type Lying = { pixel: number[]; picked: boolean; resolution: number };

const lineOf = (picked: boolean) => (picked ? 3 : 1.3);
const isDot = (network: Network, node: NetNode, { picked, resolution }: Lying) =>
  !picked && node.kind !== "outfall" && !isStore(node) && farOff(network, resolution);

/** What stays of a node as the clock moves: the ring of a shaft, the mark of an outfall. */
export function drawStill(c: CanvasRenderingContext2D, network: Network, node: NetNode, lying: Lying, ratio: number) {
  const { pixel, picked } = lying;
  const shaft = node.kind !== "outfall" && !isStore(node);
  c.save();
  c.translate(pixel[0] ?? 0, pixel[1] ?? 0);
  c.scale(ratio, ratio);
  if (isDot(network, node, lying)) {
    c.fillStyle = "#1d2427";
    c.fillRect(-1.5, -1.5, 3, 3);
    c.restore();
    return;
  }
  c.strokeStyle = "#1d2427";
  c.lineWidth = lineOf(picked);
  const radius = nodeKind(node).radius;
  if (shaft) c.drawImage(shaftOf(node, radius, 0, c.lineWidth), -HALF, -HALF, 2 * HALF, 2 * HALF);
  if (node.kind === "outfall") {
    nodeKind(node).mark?.(c, node);
    c.stroke();
  }
  c.restore();
}

/** What moves: an arc of how much of a shaft's depth from soffit to cover is used, the water in a store, a flood. */
export function drawMoving(
  c: CanvasRenderingContext2D,
  network: Network,
  id: string,
  node: NetNode,
  lying: Lying,
  level: number,
) {
  if (node.kind === "outfall") return;
  const [x = 0, y = 0] = lying.pixel;
  const flooded = level > spillOf(node);
  if (isDot(network, node, lying)) {
    if (flooded) drawDisc(c, x, y, 4.5, "#9e2a3b", "over");
    return;
  }
  const store = isStore(node);
  const radius = nodeKind(node).radius;
  if (!store) {
    const soffit = soffitsOf(network).get(id) ?? -1e9;
    const used = (level - soffit) / Math.max(spillOf(node) - soffit, 0.01);
    if (!(used > 0)) return;
    c.drawImage(shaftOf(node, radius, used, lineOf(lying.picked)), x - HALF, y - HALF, 2 * HALF, 2 * HALF);
    if (!flooded) return;
  }
  c.save();
  c.translate(x, y);
  c.strokeStyle = "#1d2427";
  c.lineWidth = lineOf(lying.picked);
  if (store) drawStore(c, node, level);
  if (flooded) drawFlood(c, radius);
  c.restore();
}

/** A disc in a tone, set off from what lies under it: dotted where it is near a limit, with a bar where it is over. */
export function drawDisc(
  c: CanvasRenderingContext2D,
  x: number,
  y: number,
  radius: number,
  tone: string,
  mark: "tight" | "over" | "",
) {
  c.save();
  c.beginPath();
  c.arc(x, y, radius, 0, 2 * Math.PI);
  c.fillStyle = tone;
  c.fill();
  c.lineWidth = 1.2;
  c.strokeStyle = mark === "tight" ? "#1d2427" : "#fcfaf3";
  if (mark === "tight") c.setLineDash([1.5, 2]);
  c.stroke();
  if (mark === "over") {
    c.beginPath();
    c.moveTo(x - 0.6 * radius, y);
    c.lineTo(x + 0.6 * radius, y);
    c.lineWidth = Math.max(1.2, radius / 4);
    c.stroke();
  }
  c.restore();
}

/** Rays and a drop. */
function drawFlood(c: CanvasRenderingContext2D, radius: number) {
  c.fillStyle = "#9e2a3b";
  c.strokeStyle = "#9e2a3b";
  c.lineWidth = 1.6;
  for (let k = 0; k < 8; k++) {
    const a = (k * Math.PI) / 4;
    c.beginPath();
    c.moveTo(Math.cos(a) * (radius + 3), Math.sin(a) * (radius + 3));
    c.lineTo(Math.cos(a) * (radius + 8), Math.sin(a) * (radius + 8));
    c.stroke();
  }
  c.beginPath();
  c.moveTo(0, -5);
  c.quadraticCurveTo(6, 3, 0, 5);
  c.quadraticCurveTo(-6, 3, 0, -5);
  c.fill();
}

const HALF = 10; // px, of the picture of a shaft
const STEPS = 32; // in which an arc grows
const shafts = new Map<string, OffscreenCanvas>();

/** Picture of a shaft seen from above: a thousand of them are drawn many times a second from a few dozen. */
function shaftOf(node: NetNode, radius: number, used: number, line: number): OffscreenCanvas {
  const share = Math.round(Math.min(Math.max(used, 0), 1) * STEPS) / STEPS;
  const ratio = Math.ceil(window.devicePixelRatio);
  const lid = node.kind === "manhole" && node.sealed ? "sealed" : node.kind;
  const key = [lid, share, used > 0.9, line, ratio].join();
  const known = shafts.get(key);
  if (known) return known;
  const picture = new OffscreenCanvas(2 * HALF * ratio, 2 * HALF * ratio);
  shafts.set(key, picture);
  const c = picture.getContext("2d");
  if (!c) return picture;
  c.scale(ratio, ratio);
  c.translate(HALF, HALF);
  c.strokeStyle = "#1d2427";
  c.lineWidth = line;
  c.beginPath();
  c.arc(0, 0, radius, 0, 2 * Math.PI);
  c.fillStyle = "#fcfaf3";
  c.fill();
  if (share > 0) {
    c.beginPath();
    c.moveTo(0, 0);
    c.arc(0, 0, radius - 1, -Math.PI / 2, -Math.PI / 2 + 2 * Math.PI * share);
    c.fillStyle = used > 0.9 ? "#cc9433" : "#25727d";
    c.fill();
  }
  c.beginPath();
  c.arc(0, 0, radius, 0, 2 * Math.PI);
  c.stroke();
  c.lineWidth = 1;
  c.beginPath();
  nodeKind(node).mark?.(c, node);
  c.stroke();
  return picture;
}

/** A store by its kind, with the water in it. */
function drawStore(c: CanvasRenderingContext2D, store: Store, level: number) {
  const share = Number.isFinite(level)
    ? Math.min(Math.max((level - store.invert) / (spillOf(store) - store.invert), 0), 1)
    : 0;
  const { outline, mark } = nodeKind(store);
  c.beginPath();
  const dash = outline?.(c, store) ?? [];
  c.fillStyle = "#dce9e3";
  c.fill();
  c.save();
  c.clip();
  c.fillStyle = "#73aeb0";
  c.fillRect(-20, 13 - 26 * share, 40, 26);
  c.restore();
  c.setLineDash(dash);
  c.stroke();
  c.setLineDash([]);
  c.lineWidth = 1;
  c.beginPath();
  mark?.(c, store);
  c.stroke();
}

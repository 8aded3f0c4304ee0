import { courseOf, lengthOf } from "../../document/course";
import { useProject } from "../../document/store";
import { depthOf, isConduit, isStore, type NetNode, type Network, type Store } from "../../document/types";

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
function farOff(network: Network, resolution: number): boolean {
  let span = spans.get(network);
  if (span === undefined) {
    const links = Object.values(network.links);
    span = links.reduce((sum, link) => sum + lengthOf(courseOf(network, link)), 0) / Math.max(links.length, 1);
    spans.set(network, span);
  }
  return span / resolution < 12;
}

/** Draw a node: a ring whose arc is how much of the depth from soffit to cover is used, or a store with its water. */
export function drawNode(context: CanvasRenderingContext2D, pixel: number[], id: string, resolution: number) {
  const { network, series, picked: all, moment } = useProject.getState();
  const node = network?.nodes[id];
  if (!node || !network) return;
  const [x = 0, y = 0] = pixel;
  const level = series ? series.at(`level:${id}`, moment) : Number.NaN;
  const picked = all.has(id);
  const c = context;
  c.save();
  c.translate(x, y);
  c.strokeStyle = "#1d2427";
  c.lineWidth = picked ? 3 : 1.3;
  let radius = 6;
  if (!picked && farOff(network, resolution) && node.kind !== "outfall" && !isStore(node)) {
    const flooded = Number.isFinite(level) && level > node.cover;
    c.fillStyle = flooded ? "#9e2a3b" : "#1d2427";
    c.fillRect(-1.5, -1.5, flooded ? 5 : 3, flooded ? 5 : 3);
    c.restore();
    return;
  }
  if (isStore(node)) {
    radius = 15;
    drawStore(c, node, level);
  } else if (node.kind === "outfall") {
    c.beginPath();
    c.rect(-5, -5, 10, 10);
    c.fillStyle = "#fcfaf3";
    c.fill();
    c.stroke();
    c.beginPath();
    c.moveTo(-2, -3);
    c.lineTo(2, 0);
    c.lineTo(-2, 3);
    c.stroke();
  } else {
    c.beginPath();
    if (node.kind === "junction") radius = 4;
    c.arc(0, 0, radius, 0, 2 * Math.PI);
    c.fillStyle = "#fcfaf3";
    c.fill();
    const soffit = soffitsOf(network).get(id) ?? -1e9;
    const used = Number.isFinite(level) ? (level - soffit) / Math.max(node.cover - soffit, 0.01) : 0;
    if (used > 0) {
      c.beginPath();
      c.moveTo(0, 0);
      c.arc(0, 0, radius - 1, -Math.PI / 2, -Math.PI / 2 + 2 * Math.PI * Math.min(used, 1));
      c.fillStyle = used > 0.9 ? "#cc9433" : "#25727d";
      c.fill();
    }
    c.beginPath();
    c.arc(0, 0, radius, 0, 2 * Math.PI);
    c.stroke();
    drawLid(c, node);
  }
  if (node.kind !== "outfall" && Number.isFinite(level) && level > node.cover) {
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
  if (resolution < 1.05 || node.kind !== "manhole" || picked) {
    c.font = "600 11px 'Archivo Variable'";
    c.lineWidth = 3;
    c.strokeStyle = "#f6f2e7";
    c.fillStyle = "#1d2427";
    c.strokeText(node.name, radius + 3, -radius + 1);
    c.fillText(node.name, radius + 3, -radius + 1);
  }
  c.restore();
}

/** A store by its kind: an oval pond, a rectangle with banks for one by side slope, a dashed tank, a bed of stones. */
function drawStore(c: CanvasRenderingContext2D, store: Store, level: number) {
  const share = Number.isFinite(level)
    ? Math.min(Math.max((level - store.invert) / (store.cover - store.invert), 0), 1)
    : 0;
  c.beginPath();
  if (store.kind === "storage" && store.form === "pond") c.ellipse(0, 0, 19, 13, 0, 0, 2 * Math.PI);
  else c.rect(-17, -12, 34, 24);
  c.fillStyle = "#dce9e3";
  c.fill();
  c.save();
  c.clip();
  c.fillStyle = "#73aeb0";
  c.fillRect(-20, 13 - 26 * share, 40, 26);
  c.restore();
  if (store.kind === "storage" && store.form === "tank") c.setLineDash([4, 2]);
  c.stroke();
  c.setLineDash([]);
  c.lineWidth = 1;
  if (store.kind === "basin") {
    c.strokeRect(-10, -6, 20, 12);
    for (const [sx, sy] of [
      [-1, -1],
      [1, -1],
      [1, 1],
      [-1, 1],
    ] as const) {
      c.beginPath();
      c.moveTo(17 * sx, 12 * sy);
      c.lineTo(10 * sx, 6 * sy);
      c.stroke();
    }
  }
  if (store.kind === "stone") {
    c.fillStyle = "#65665f";
    for (let i = 0; i < 5; i++)
      for (let j = 0; j < 3; j++) {
        c.beginPath();
        c.arc(-13 + 6.5 * i + (j % 2) * 3, -7 + 7 * j, 1.7, 0, 2 * Math.PI);
        c.fill();
      }
  }
}

/** Bars of a grating over an inlet, a bolt on a sealed manhole. */
function drawLid(c: CanvasRenderingContext2D, node: NetNode) {
  c.lineWidth = 1;
  if (node.kind === "inlet")
    for (const x of [-3, 0, 3]) {
      c.beginPath();
      c.moveTo(x, -Math.sqrt(36 - x * x));
      c.lineTo(x, Math.sqrt(36 - x * x));
      c.stroke();
    }
  if (node.kind === "manhole" && node.sealed) {
    c.beginPath();
    c.moveTo(-4.2, -4.2);
    c.lineTo(4.2, 4.2);
    c.moveTo(4.2, -4.2);
    c.lineTo(-4.2, 4.2);
    c.stroke();
  }
}

import { useProject } from "../document/store";
import { heightOf } from "../document/types";

/** Draw a node: a ring whose arc is how much of the depth from soffit to cover is used, or a store with its water. */
export function drawNode(
  context: CanvasRenderingContext2D,
  pixel: number[],
  id: string,
  ratio: number,
  resolution: number,
) {
  const { network, series, cursor } = useProject.getState();
  const node = network?.nodes[id];
  if (!node || !network) return;
  const [x = 0, y = 0] = pixel;
  const level = series ? series.at(`level:${id}`, cursor.moment) : Number.NaN;
  const picked = cursor.element === id;
  const c = context;
  c.save();
  c.translate(x, y);
  c.scale(ratio, ratio);
  c.strokeStyle = "#1d2427";
  c.lineWidth = picked ? 3 : 1.3;
  let radius = 6;
  if (node.kind === "storage") {
    radius = 15;
    const share = Number.isFinite(level)
      ? Math.min(Math.max((level - node.invert) / (node.cover - node.invert), 0), 1)
      : 0;
    c.beginPath();
    if (node.form === "pond") c.ellipse(0, 0, 19, 13, 0, 0, 2 * Math.PI);
    else c.rect(-16, -11, 32, 22);
    c.fillStyle = "#dce9e3";
    c.fill();
    c.save();
    c.clip();
    c.fillStyle = "#73aeb0";
    c.fillRect(-20, 13 - 26 * share, 40, 26);
    c.restore();
    if (node.form === "tank") c.setLineDash([4, 2]);
    c.stroke();
    c.setLineDash([]);
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
    c.arc(0, 0, radius, 0, 2 * Math.PI);
    c.fillStyle = "#fcfaf3";
    c.fill();
    const soffit = Object.values(network.links).reduce(
      (top, l) =>
        l.kind !== "pipe"
          ? top
          : Math.max(
              top,
              l.upstream === id ? l.upstream_invert + heightOf(l.section) : -1e9,
              l.downstream === id ? l.downstream_invert + heightOf(l.section) : -1e9,
            ),
      -1e9,
    );
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

import { encoded, pictureOf, svgOf } from "../graphs/out";

/** What draws the scene so many pixels wide, at once, and leaves it as it was. */
export type Shot = (wide: number) => HTMLCanvasElement;

const WIDE = 2400; // px: 350 dots to the inch across a page
const FOOT = 28; // px on the screen, under the scene

/** The scene at print quality as a PNG: names and levels over it, and under it what it shows. */
export async function portrait(view: HTMLElement, shot: Shot, says: string): Promise<Blob> {
  const { width, height } = view.getBoundingClientRect();
  const scale = WIDE / width;
  const canvas = document.createElement("canvas");
  [canvas.width, canvas.height] = [WIDE, Math.round((height + FOOT) * scale)];
  const context = canvas.getContext("2d");
  if (!context) throw new Error("no picture was made");
  context.fillStyle = "#fff"; // of print, not of the screen
  context.fillRect(0, 0, canvas.width, canvas.height);
  context.scale(scale, scale);
  context.drawImage(shot(WIDE), 0, 0, width, height);
  for (const over of view.querySelectorAll<SVGSVGElement>("svg[data-over]")) {
    const copy = over.cloneNode(true) as SVGSVGElement;
    copy.setAttribute("width", String(width * scale));
    copy.setAttribute("height", String(height * scale));
    copy.setAttribute("viewBox", `0 0 ${width} ${height}`);
    for (const halo of copy.querySelectorAll("text[stroke]")) halo.setAttribute("stroke", "#fff");
    context.drawImage(await pictureOf(svgOf(copy)), 0, 0, width, height);
  }
  context.fillStyle = "#000";
  context.font = "12px sans-serif";
  context.fillText(says, 10, height + FOOT - 10, width - 20);
  return encoded(canvas);
}

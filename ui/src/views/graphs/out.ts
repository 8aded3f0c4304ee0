import type { components } from "../../api/schema";
import { type Quantity, show, unitOf } from "../../document/units";
import { DRAWN, type Trace } from "./traces";

type Spread = components["schemas"]["SpreadOut"];

/** A name must not begin a formula in a spreadsheet. */
export const quoted = (text: string) => `"${text.replace(/^[=+@-]/, "'$&").replaceAll('"', '""')}"`;

/** A row for each moment of each storm, a column for each element and quantity, in the units that are read. */
export function csvOf(traces: Trace[], name: (id: string) => string, label: (storm: string) => string): string {
  const column = (t: Trace) => `${t.element}/${t.quantity}`;
  const heads = new Map(
    traces.map((t) => {
      const { word, quantity } = DRAWN[t.quantity];
      return [column(t), quoted(`${name(t.element)} ${word} ${unitOf(quantity)}`.trim())];
    }),
  );
  const part = (t: Trace) => `${t.storm}/${t.beside ?? ""}`;
  const rows = [...new Map(traces.map((t) => [part(t), t])).values()].flatMap(({ storm, beside }) => {
    const own = new Map(traces.filter((t) => t.storm === storm && t.beside === beside).map((t) => [column(t), t]));
    const [first] = own.values();
    return Array.from({ length: first?.values.length ?? 0 }, (_, k) => [
      quoted(beside ? `${label(storm)}, ${beside}` : label(storm)),
      (first?.times[k] ?? 0).toFixed(1),
      ...[...heads.keys()].map((key) => {
        const trace = own.get(key);
        return trace ? show(trace.values[k], DRAWN[trace.quantity].quantity, 4).replace("−", "-") : "";
      }),
    ]);
  });
  return [["storm", "time s", ...heads.values()], ...rows].map((cells) => cells.join(",")).join("\n");
}

const TITLE = 26; // px over a drawing

/** A drawing that stands alone, under its title: colours of the page are written into it. */
export function svgOf(drawing: SVGSVGElement, title = ""): string {
  const copy = drawing.cloneNode(true) as SVGSVGElement;
  copy.setAttribute("xmlns", "http://www.w3.org/2000/svg");
  if (title) {
    const [width, height] = [Number(copy.getAttribute("width")), Number(copy.getAttribute("height")) + TITLE];
    copy.setAttribute("height", String(height));
    copy.setAttribute("viewBox", `0 ${-TITLE} ${width} ${height}`);
    const text = document.createElementNS("http://www.w3.org/2000/svg", "text");
    for (const [key, value] of Object.entries({ x: 8, y: -9, "font-size": 15, "font-weight": 600 }))
      text.setAttribute(key, String(value));
    text.textContent = title;
    copy.prepend(text);
  }
  const style = getComputedStyle(document.documentElement);
  for (const element of copy.querySelectorAll(".figure")) element.setAttribute("font-family", "monospace");
  copy.setAttribute("font-family", "sans-serif");
  return copy.outerHTML.replace(/var\((--[\w-]+)\)/g, (_, key: string) => style.getPropertyValue(key).trim() || "#000");
}

/** The drawing as a PNG at twice its size, on paper. */
export async function pngOf(drawing: SVGSVGElement, title = ""): Promise<Blob> {
  const picture = await pictureOf(svgOf(drawing, title));
  const { naturalWidth: width, naturalHeight: height } = picture;
  const canvas = document.createElement("canvas");
  [canvas.width, canvas.height] = [2 * width, 2 * height];
  const context = canvas.getContext("2d");
  if (context) {
    context.fillStyle = getComputedStyle(document.documentElement).getPropertyValue("--color-paper").trim() || "#fff";
    context.fillRect(0, 0, canvas.width, canvas.height);
    context.drawImage(picture, 0, 0, canvas.width, canvas.height);
  }
  return encoded(canvas);
}

/** A drawing that stands alone as a picture, to be drawn on a canvas. */
export async function pictureOf(svg: string): Promise<HTMLImageElement> {
  const picture = new Image();
  picture.src = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(svg)}`;
  await picture.decode();
  return picture;
}

/** What is on a canvas, as a PNG. */
export const encoded = (canvas: HTMLCanvasElement) =>
  new Promise<Blob>((done, fail) =>
    canvas.toBlob((blob) => (blob ? done(blob) : fail(new Error("no picture was made"))), "image/png"),
  );

/** Peaks of each element by duration: how they are spread, and the statistic of each column's name. */
export function spreadCsv(
  spreads: { element: string; quantity: Quantity; word: string; durations: Spread["durations"] }[],
  name: (id: string) => string,
): string {
  const rows = spreads.flatMap(({ element, quantity, word, durations }) => {
    const figure = (value: number) => show(value, quantity, 4).replace("−", "-");
    return durations.map((d) => [
      quoted(name(element)),
      quoted(`${word}, ${unitOf(quantity)}`),
      String(d.duration),
      String(Object.keys(d.peaks).length),
      ...[d.mean, d.lowest, d.whiskers[0], d.quartiles[0], d.median, d.quartiles[1], d.whiskers[1], d.highest].map(
        figure,
      ),
    ]);
  });
  const heads = "element,quantity,duration min,storms,mean,lowest,lower whisker,lower quartile,median,upper quartile";
  return [`${heads},upper whisker,highest`, ...rows.map((cells) => cells.join(","))].join("\n");
}

export function save(content: Blob, name: string) {
  const address = URL.createObjectURL(content);
  const link = document.createElement("a");
  link.href = address;
  link.download = name;
  link.click();
  URL.revokeObjectURL(address);
}

import { useEffect, useRef } from "react";
import { useProject } from "../../document/store";
import { save, svgOf } from "../graphs/out";
import { Drawing } from "./Drawing";
import { frameOf } from "./frame";
import type { Sheet } from "./SectionLook";
import type { Shown } from "./shown";
import type { Along } from "./useAlong";

const PER_MM = 96 / 25.4; // px of a page
const SIDES = 80; // px beside the run

/** Draws the section at a scale out of sight, saves it as an SVG whose size is in millimetres, and is done. */
export function PrintedSection({
  path,
  sheet,
  shown,
  along,
  done,
}: {
  path: string[];
  sheet: Sheet;
  shown: Shown;
  along: Along;
  done: () => void;
}) {
  const { network } = useProject();
  const ref = useRef<HTMLDivElement>(null);
  const probe = network ? frameOf(network, path, 1000, 400, 5) : null;
  const total = probe?.chainage.at(-1) ?? 1;
  const width = (total * 1000 * PER_MM) / sheet.along + SIDES;
  const [first, last] = [probe?.nodes[0]?.name ?? "", probe?.nodes.at(-1)?.name ?? ""];
  useEffect(() => {
    const svg = ref.current?.querySelector("svg");
    if (svg) {
      const [w, h] = [Number(svg.getAttribute("width")), Number(svg.getAttribute("height"))];
      const text = svgOf(svg)
        .replace(/ width="[\d.]+"/, ` width="${(w / PER_MM).toFixed(2)}mm"`)
        .replace(/ height="[\d.]+"/, ` height="${(h / PER_MM).toFixed(2)}mm" viewBox="0 0 ${w} ${h}"`);
      save(new Blob([text], { type: "image/svg+xml" }), `${first} to ${last} 1 ${sheet.along} 1 ${sheet.up}.svg`);
    }
    done();
  }, [done, first, last, sheet]);
  return (
    <div ref={ref} className="invisible absolute" aria-hidden="true">
      <Drawing
        path={path}
        width={width}
        height={400}
        steady={false}
        profile={null}
        shown={shown}
        along={along}
        exaggeration={sheet.along / sheet.up}
      />
    </div>
  );
}

import { useEffect, useRef, useState } from "react";
import type { Report } from "./useReport";

const SMALL = 148; // px, of a page among all
const PRINT = 4960; // px, of a page that is printed elsewhere: 300 dots an inch on A3
const ZOOMS = [0.5, 0.75, 1, 1.5, 2, 3];

/** The pages as they are printed: all of them small, or one of them large. */
export function Pages({
  report,
  url,
  page,
  look,
  large,
  setLarge,
  svg,
}: {
  report: Report;
  url: (page: number, wide: number) => string;
  page: number;
  look: (page: number) => void;
  large: boolean;
  setLarge: (large: boolean) => void;
  /** Of a page that is a drawing. */
  svg: string | null;
}) {
  const frame = useRef<HTMLDivElement>(null);
  const [room, setRoom] = useState(640);
  const [zoom, setZoom] = useState(1);
  useEffect(() => {
    const element = frame.current;
    if (!element) return;
    const seen = new ResizeObserver(() => setRoom(element.clientWidth));
    seen.observe(element);
    return () => seen.disconnect();
  }, []);
  const at = Math.min(page, report.sizes.length - 1);
  const [wide = 210, high = 297] = report.sizes[at] ?? [];
  const shown = Math.round((room - 24) * zoom * Math.min(1, wide / 300 + 0.35));
  const step = (by: number) => look(Math.max(0, Math.min(report.sizes.length - 1, at + by)));
  return (
    <div
      ref={frame}
      className="min-h-0 flex-1 overflow-auto p-3"
      // biome-ignore lint/a11y/noNoninteractiveTabindex: arrows turn the pages of what is scrolled here
      tabIndex={0}
      role="region"
      aria-label="pages of the report"
      onKeyDown={(event) => {
        if (event.key === "PageDown" || event.key === "ArrowRight") step(1);
        else if (event.key === "PageUp" || event.key === "ArrowLeft") step(-1);
        else if (event.key === "+" || event.key === "-") {
          const to = ZOOMS.indexOf(zoom) + (event.key === "+" ? 1 : -1);
          setZoom(ZOOMS[Math.max(0, Math.min(ZOOMS.length - 1, to))] ?? 1);
        } else return;
        event.preventDefault();
      }}
      data-testid="pages"
    >
      {large ? (
        <>
          <p className="flex items-baseline gap-4 pb-2 text-ink2">
            <button type="button" className="textlink" disabled={at === 0} onClick={() => step(-1)}>
              before
            </button>
            <span className="figure" data-testid="page-number">
              {at + 1} of {report.sizes.length}
            </span>
            <button
              type="button"
              className="textlink"
              disabled={at >= report.sizes.length - 1}
              onClick={() => step(1)}
              data-testid="page-next"
            >
              next
            </button>
            <span>
              {Math.round(wide)} × {Math.round(high)} mm
            </span>
            <a
              className="textlink ml-auto"
              href={url(at, PRINT)}
              download={`page-${at + 1}.png`}
              data-testid="page-png"
            >
              PNG
            </a>
            {svg && (
              <a className="textlink" href={svg} download={`sheet-${at + 1}.svg`} data-testid="page-svg">
                SVG
              </a>
            )}
            <label className="flex items-baseline gap-1">
              zoom
              <select
                className="bg-transparent underline"
                value={zoom}
                onChange={(event) => setZoom(Number(event.target.value))}
                data-testid="zoom"
              >
                {ZOOMS.map((one) => (
                  <option key={one} value={one}>
                    {one * 100} %
                  </option>
                ))}
              </select>
            </label>
          </p>
          <img
            src={url(at, Math.min(shown * 2, 4000))}
            alt={`page ${at + 1} as it is printed`}
            className="border border-rule2 bg-hi"
            style={{ width: shown, height: (shown * high) / wide, maxWidth: "none" }}
            data-testid="page-large"
          />
        </>
      ) : (
        <div className="flex flex-wrap gap-3">
          {report.sizes.map(([w, h], k) => (
            <button
              // biome-ignore lint/suspicious/noArrayIndexKey: pages are known by their number
              key={k}
              type="button"
              className="text-left"
              onClick={() => {
                look(k);
                setLarge(true);
              }}
              data-testid={`page-${k}`}
            >
              <img
                src={url(k, SMALL * 2)}
                alt={`page ${k + 1}`}
                loading="lazy"
                className={`border bg-hi ${k === at ? "border-ink" : "border-rule2"}`}
                style={{ width: SMALL, height: (SMALL * h) / w }}
              />
              <span className="figure block pt-[2px] text-ink3">{k + 1}</span>
            </button>
          ))}
        </div>
      )}
    </div>
  );
}

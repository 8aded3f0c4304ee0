import { type RefObject, useEffect, useMemo } from "react";
import { mostlyPeaked, moved, type Span, stormSpan, zoomed } from "../document/span";
import { useProject } from "../document/store";

type Line = { times: Float32Array; values: Float32Array };

/** What of the picked storm's time graphs show, and the ways to change it. lines: that are drawn, else the storm's. */
export function useSpan(lines: readonly Line[] = []) {
  const series = useProject((s) => s.series);
  const zoom = useProject((s) => s.zoom);
  const storm = useProject((s) => s.cursor.storm);
  const network = useProject((s) => s.network);
  const end = Math.max(series?.end ?? 1, ...lines.map(({ times }) => times.at(-1) ?? 0));
  const rainEnds = series?.rain.times.at(-1) ?? 0;
  const peaked = useMemo(
    () =>
      series
        ? mostlyPeaked(
            series,
            Object.keys(network?.links ?? {}).map((id) => `flow:${id}`),
          )
        : 0,
    [series, network],
  );
  const peaks = lines.map(({ times, values }) => times[values.indexOf(Math.max(...values))] ?? 0);
  const usual = stormSpan(rainEnds, lines.length ? peaks : [peaked], end);
  const own = zoom && zoom.storm === storm ? zoom.span : null;
  const span = own ?? usual;
  const show = (next: Span | null) =>
    useProject.setState({ zoom: next && storm ? { storm, span: [next[0], Math.min(next[1], end)] } : null });
  return {
    span,
    end,
    whole: span[0] <= 0 && span[1] >= end - 1e-6,
    /** Back to the storm itself; from there to all of it. */
    back: () => show(own ? null : [0, end]),
    show,
    zoom: (about: number, factor: number) => show(zoomed(span, about, factor, end)),
    move: (by: number) => show(moved(span, by, end)),
  };
}

/** Scrolling over a drawing comes closer about the moment under the pointer; sideways, or with Shift, it moves along. */
export function useWheel(
  target: RefObject<Element | null>,
  momentAt: (clientX: number) => number,
  { zoom, move, span }: Pick<ReturnType<typeof useSpan>, "zoom" | "move" | "span">,
) {
  useEffect(() => {
    const element = target.current;
    if (!element) return;
    // React's own listener is passive: it could not keep the page from scrolling
    const turn = (event: Event) => {
      const { deltaX, deltaY, shiftKey, clientX } = event as WheelEvent;
      event.preventDefault();
      const along = Math.abs(deltaX) > Math.abs(deltaY) ? deltaX : shiftKey ? deltaY : 0;
      if (along) move((along / 800) * (span[1] - span[0]));
      else zoom(momentAt(clientX), 1.0015 ** deltaY);
    };
    element.addEventListener("wheel", turn, { passive: false });
    return () => element.removeEventListener("wheel", turn);
  }, [target, momentAt, zoom, move, span]);
}

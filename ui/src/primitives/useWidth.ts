import { type RefCallback, useEffect, useState } from "react";

/** The width and height of an element, kept up to date from the moment it appears. */
export function useWidth<T extends HTMLElement>(): [RefCallback<T>, number, number] {
  const [element, setElement] = useState<T | null>(null);
  const [size, setSize] = useState({ width: 0, height: 0 });
  useEffect(() => {
    if (!element) return;
    const watch = new ResizeObserver(([entry]) => {
      if (entry) setSize({ width: entry.contentRect.width, height: entry.contentRect.height });
    });
    watch.observe(element);
    return () => watch.disconnect();
  }, [element]);
  return [setElement, size.width, size.height];
}

/** The part of a storm's time that graphs show: the storm itself first, its recession a scroll or a drag away. */
import type { StormSeries } from "./series";

export type Span = [number, number];

const LEAST = 20; // s, closest look
const ROOM = 1.25; // of the time to the last of rain and peak

/** When three quarters of the columns have had their peak, s: what a pond holds back would hide the storm itself. */
export function mostlyPeaked(series: StormSeries, columns: string[]): number {
  const times = columns.filter((name) => series.highest(name) > 0).map((name) => series.peakTime(name) ?? 0);
  times.sort((a, b) => a - b);
  return times[Math.ceil(0.75 * times.length) - 1] ?? 0;
}

/** From the beginning to a little after the end of the rain and the peaks. */
export function stormSpan(rainEnds: number, peaks: number[], end: number): Span {
  const last = Math.max(rainEnds, ...peaks, 60);
  return [0, Math.min(last * ROOM, end)];
}

/** Closer (factor under 1) or wider about a moment, within the whole. */
export function zoomed([from, to]: Span, about: number, factor: number, end: number): Span {
  const wide = Math.min(Math.max((to - from) * factor, Math.min(LEAST, end)), end);
  const share = (about - from) / Math.max(to - from, 1e-9);
  const start = Math.min(Math.max(about - share * wide, 0), end - wide);
  return [start, start + wide];
}

/** Moved by some seconds, within the whole. */
export function moved([from, to]: Span, by: number, end: number): Span {
  const start = Math.min(Math.max(from + by, 0), Math.max(end - (to - from), 0));
  return [start, start + (to - from)];
}

const STEPS = [1, 2, 5, 10, 15, 30, 60, 120, 300, 600, 900, 1800, 3600, 7200, 14_400, 21_600, 43_200, 86_400, 172_800];

/** Moments to mark on an axis, about `most` of them, and whether they want seconds. */
export function marks([from, to]: Span, most: number): { at: number[]; seconds: boolean } {
  const step = STEPS.find((s) => (to - from) / s <= most) ?? 604_800;
  const first = Math.ceil(from / step - 1e-9);
  const count = Math.floor(to / step + 1e-9) - first + 1;
  return { at: Array.from({ length: Math.max(count, 0) }, (_, k) => (first + k) * step), seconds: step < 60 };
}

import { between, frameAt, namedRows } from "./series";

/** Where a value stands along a conduit, m from its upstream end, and the value. */
export type Station = readonly [number, number];

/** Water and energy along some conduits over a storm, at their ends and the middles of their cells. */
export class AlongSeries {
  private readonly time: Float32Array;
  private readonly columns: Map<string, Float32Array>;
  private readonly chainage: Record<string, number[]>;

  constructor(buffer: ArrayBuffer) {
    const { columns, metadata } = namedRows(buffer);
    this.columns = columns;
    this.time = columns.get("time") ?? new Float32Array();
    this.chainage = JSON.parse(metadata.get("chainage") ?? "{}");
  }

  /** Levels at a moment; none of a conduit that was not asked for. */
  at(what: "water" | "energy", id: string, seconds: number): Station[] {
    const frame = frameAt(this.time, seconds);
    return this.stations(what, id, (column) => between(column, frame));
  }

  /** The highest water of the storm. */
  highest(id: string): Station[] {
    return this.stations("water", id, (column) => column.reduce((most, v) => Math.max(most, v)));
  }

  private stations(what: "water" | "energy", id: string, of: (column: Float32Array) => number): Station[] {
    return (this.chainage[id] ?? []).flatMap((at, k): Station[] => {
      const column = this.columns.get(`${what}:${id}:${k}`);
      return column?.length ? [[at, of(column)]] : [];
    });
  }
}

/** The value at a place, straight between stations; not a number where there are none. */
export function valueAt(stations: readonly Station[], at: number): number {
  const k = stations.findIndex(([c]) => c >= at);
  const [before, after] = [stations[k - 1], stations[k]];
  if (!after) return stations.at(-1)?.[1] ?? Number.NaN;
  if (!before) return after[1];
  return before[1] + ((after[1] - before[1]) * (at - before[0])) / Math.max(after[0] - before[0], 1e-9);
}

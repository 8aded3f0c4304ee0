import { tableFromIPC } from "apache-arrow";

/** Series of one storm: levels and flows at moments that follow the water, straight between them; and the rain. */
export class StormSeries {
  readonly end: number;
  private readonly columns: Map<string, Float32Array>;
  private readonly tops = new Map<string, number>();
  readonly time: Float32Array;
  /** mm/h between times (s). */
  readonly rain: { times: number[]; intensity: number[] };
  /** m, by how much straight lines may miss a level. */
  readonly tolerance: number;

  constructor(buffer: ArrayBuffer) {
    const { columns, metadata } = namedRows(buffer);
    this.columns = columns;
    this.rain = JSON.parse(metadata.get("rain") ?? '{"times":[],"intensity":[]}');
    this.tolerance = Number(metadata.get("tolerance"));
    this.time = this.columns.get("time") ?? new Float32Array();
    this.end = this.time[this.time.length - 1] ?? 0;
  }

  column(name: string): Float32Array | undefined {
    return this.columns.get(name);
  }

  /** The greatest value of a column; not a number where there is no such column. */
  highest(name: string): number {
    let known = this.tops.get(name);
    if (known === undefined) {
      const values = this.columns.get(name);
      known = values ? values.reduce((most, v) => Math.max(most, v), Number.NEGATIVE_INFINITY) : Number.NaN;
      this.tops.set(name, known);
    }
    return known;
  }

  /** Value of a column at a moment, between frames. */
  at(name: string, seconds: number): number {
    return between(this.columns.get(name), this.frame(seconds));
  }

  /** The frame that a moment stands at, with its part of the way to the next. */
  frame(seconds: number): number {
    return frameAt(this.time, seconds);
  }

  /** When a column is greatest, s; undefined where there is no such column. */
  peakTime(name: string): number | undefined {
    const values = this.columns.get(name);
    return values ? this.time[values.indexOf(this.highest(name))] : undefined;
  }
}

/** Rows of equal length by their names, and what is said of them all: how the server sends series. */
export function namedRows(buffer: ArrayBuffer): {
  columns: Map<string, Float32Array>;
  metadata: Map<string, string>;
} {
  const table = tableFromIPC(new Uint8Array(buffer));
  // they lie one after the other in a single array
  const all = table.getChild("values")?.data[0]?.children[0]?.values as Float32Array;
  const frames = all.length / Math.max(table.numRows, 1);
  const names = table.getChild("name");
  const columns = new Map<string, Float32Array>();
  for (let k = 0; k < table.numRows; k++)
    columns.set(names?.get(k) as string, all.subarray(k * frames, (k + 1) * frames));
  return { columns, metadata: table.schema.metadata };
}

/** The place of a moment among rising times, with its part of the way to the next. */
export function frameAt(time: ArrayLike<number>, seconds: number): number {
  let [low, high] = [0, time.length - 1];
  if (high < 1 || seconds <= (time[0] ?? 0)) return 0;
  if (seconds >= (time[high] ?? 0)) return high;
  while (high - low > 1) {
    const middle = (low + high) >> 1;
    if ((time[middle] ?? 0) <= seconds) low = middle;
    else high = middle;
  }
  const [a = 0, b = 1] = [time[low], time[high]];
  return low + (seconds - a) / Math.max(b - a, 1e-9);
}

/** Value of a column at a frame with its part of the way to the next; not a number where there is no such column. */
export function between(values: Float32Array | undefined, frame: number): number {
  if (!values || values.length === 0) return Number.NaN;
  const i = Math.min(Math.floor(frame), Math.max(values.length - 2, 0));
  const part = frame - i;
  return (values[i] ?? 0) * (1 - part) + (values[i + 1] ?? 0) * part;
}

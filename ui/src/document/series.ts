import { tableFromIPC } from "apache-arrow";

/** Series of one storm at equal moments: levels, flows and rain. */
export class StormSeries {
  readonly end: number;
  private readonly columns = new Map<string, Float32Array>();
  private readonly tops = new Map<string, number>();
  readonly time: Float32Array;
  readonly rain: Float32Array;

  constructor(buffer: ArrayBuffer) {
    const table = tableFromIPC(new Uint8Array(buffer));
    const interval = Number(table.schema.metadata.get("interval"));
    // rows of equal length lie one after the other in a single array
    const all = table.getChild("values")?.data[0]?.children[0]?.values as Float32Array;
    const frames = all.length / Math.max(table.numRows, 1);
    const names = table.getChild("name");
    for (let k = 0; k < table.numRows; k++) {
      this.columns.set(names?.get(k) as string, all.subarray(k * frames, (k + 1) * frames));
    }
    this.time = Float32Array.from({ length: frames }, (_, k) => k * interval);
    this.rain = this.columns.get("rain") ?? new Float32Array();
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
    const last = this.time.length - 1;
    return Math.min(Math.max((seconds / Math.max(this.end, 1)) * last, 0), last);
  }
}

/** Value of a column at a frame with its part of the way to the next; not a number where there is no such column. */
export function between(values: Float32Array | undefined, frame: number): number {
  if (!values || values.length === 0) return Number.NaN;
  const i = Math.min(Math.floor(frame), Math.max(values.length - 2, 0));
  const part = frame - i;
  return (values[i] ?? 0) * (1 - part) + (values[i + 1] ?? 0) * part;
}

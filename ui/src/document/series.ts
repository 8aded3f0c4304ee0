import { tableFromIPC } from "apache-arrow";

/** Series of one storm at equal moments: levels, flows and rain. */
export class StormSeries {
  readonly end: number;
  private readonly columns = new Map<string, Float32Array>();
  readonly time: Float32Array;
  readonly rain: Float32Array;

  constructor(buffer: ArrayBuffer) {
    const table = tableFromIPC(new Uint8Array(buffer));
    for (const field of table.schema.fields) {
      this.columns.set(field.name, table.getChild(field.name)?.toArray() as Float32Array);
    }
    this.time = this.columns.get("time") ?? new Float32Array();
    this.rain = this.columns.get("rain") ?? new Float32Array();
    this.end = this.time[this.time.length - 1] ?? 0;
  }

  column(name: string): Float32Array | undefined {
    return this.columns.get(name);
  }

  /** Value of a column at a moment, between frames. */
  at(name: string, seconds: number): number {
    const values = this.columns.get(name);
    if (!values || values.length === 0) return Number.NaN;
    const position = Math.min(Math.max((seconds / Math.max(this.end, 1)) * (values.length - 1), 0), values.length - 1);
    const i = Math.min(Math.floor(position), values.length - 2);
    const part = position - i;
    return (values[i] ?? 0) * (1 - part) + (values[i + 1] ?? 0) * part;
  }
}

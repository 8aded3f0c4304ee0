import {
  Field,
  FixedSizeList,
  Float32,
  makeData,
  RecordBatch,
  Schema,
  Struct,
  Table,
  tableToIPC,
  Utf8,
  vectorFromArray,
} from "apache-arrow";

/** The stream that the server sends: a row for each series, in one array. */
export function stream(rows: Record<string, number[]>, about: Record<string, string> = {}): ArrayBuffer {
  const names = Object.keys(rows);
  const frames = Object.values(rows)[0]?.length ?? 0;
  const flat = Float32Array.from(Object.values(rows).flat());
  const list = new FixedSizeList(frames, new Field("item", new Float32()));
  const values = makeData({
    type: list,
    length: names.length,
    child: makeData({ type: new Float32(), data: flat }),
  });
  const schema = new Schema(
    [new Field("name", new Utf8()), new Field("values", list)],
    new Map([
      ["rain", JSON.stringify({ times: [0, 300], intensity: [10] })],
      ["tolerance", "0.002"],
      ...Object.entries(about),
    ]),
  );
  const data = makeData({
    type: new Struct(schema.fields),
    length: names.length,
    children: [vectorFromArray(names, new Utf8()).data[0], values] as never,
  });
  const bytes = tableToIPC(new Table([new RecordBatch(schema, data as never)]));
  return bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength) as ArrayBuffer;
}

/** What of a proposal is taken in: by element, field by field, or as something else. */
import type { components } from "../api/schema";
import type { Change } from "../document/store";

export type Proposal = components["schemas"]["Proposal"];
export type Entry = components["schemas"]["Entry"];
export type Action = Entry["action"];
/** Of a long list that many are shown. */
export const SHOWN = 400;

export const keyOf = (entry: Entry, index: number) => entry.element ?? `${entry.group}/${entry.name}/${index}`;

/** Which side's value is taken, by element and field, where somebody has chosen. */
export type Takes = Record<string, "file" | "here">;
export type Field = NonNullable<Entry["fields"]>[number];
export const fieldKey = (entry: Entry, field: Field) => `${entry.element}/${field.field}`;
export const takeOf = (entry: Entry, field: Field, takes: Takes) => takes[fieldKey(entry, field)] ?? field.take;

/** The edits of an entry: of an update, those fields whose value is taken from the file. */
export function operations(entry: Entry, takes: Takes, instead: ReadonlySet<string>): Change[] {
  if (entry.instead && instead.has(entry.element ?? "")) return entry.instead.patch as unknown as Change[];
  const patch = (entry.patch ?? []) as unknown as Change[];
  if (entry.action !== "update") return patch;
  return patch.filter((_, k) => {
    const field = entry.fields?.[k];
    return field === undefined || takeOf(entry, field, takes) === "file";
  });
}

/** A set with one more or one fewer. */
export function withOne(set: ReadonlySet<string>, one: string, there: boolean): ReadonlySet<string> {
  const next = new Set(set);
  if (there) next.add(one);
  else next.delete(one);
  return next;
}

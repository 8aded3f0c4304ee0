/**
 * Edits made while others are on their way. Each was made from what was seen; when its turn comes the document may be
 * another: lists have lost or gained entries, which have no ids. So an edit says what it changed, not what it saw.
 */
import type { Change } from "./transport";

const MEANT = "what this was meant for has changed meanwhile: look, and do it again if it is still wanted";

type Json = unknown;

/** Whether two parts of a document say the same. */
export function same(a: Json, b: Json): boolean {
  if (Object.is(a, b)) return true;
  if (typeof a !== "object" || typeof b !== "object" || !a || !b) return false;
  if (Array.isArray(a) !== Array.isArray(b)) return false;
  const [left, right] = [a as Record<string, Json>, b as Record<string, Json>];
  const keys = Object.keys(left);
  return keys.length === Object.keys(right).length && keys.every((key) => key in right && same(left[key], right[key]));
}

/** What is left of a list without some entries, each taken out once; null where one is not there. */
function without(list: Json[], gone: Json[]): Json[] | null {
  const left = [...list];
  for (const entry of gone) {
    const at = left.findIndex((other) => same(other, entry));
    if (at < 0) return null;
    left.splice(at, 1);
  }
  return left;
}

/** Entries of a list that another does not have, by how often they are there. */
function beyond(list: Json[], other: Json[]): Json[] {
  const rest = [...other];
  return list.filter((entry) => {
    const at = rest.findIndex((one) => same(one, entry));
    if (at >= 0) rest.splice(at, 1);
    return at < 0;
  });
}

const rising = (list: Json[]): list is number[] =>
  list.every((v, k) => typeof v === "number" && (k === 0 || v >= (list[k - 1] as number)));

/** A list that someone made `next` of `base`, made the same of what it is now; null where that cannot be told. */
export function merged(base: Json[], next: Json[], now: Json[]): Json[] | null {
  if (same(base, now)) return next;
  const [gone, come] = [beyond(base, next), beyond(next, base)];
  if (gone.length === 0 && come.length === 0) {
    // another order: of those that are still there, the new ones behind
    const kept = next.filter((entry) => now.some((other) => same(other, entry)));
    return [...kept, ...beyond(now, kept)];
  }
  const left = without(now, gone);
  if (!left) return null;
  const fresh = beyond(come, beyond(now, base)); // what another edit has put there already is there
  if (rising(base) && rising(next) && rising(now))
    return [...(left as number[]), ...(fresh as number[])].sort((a, b) => a - b);
  for (const entry of fresh) {
    const at = next.findIndex((one) => same(one, entry));
    const before = next.slice(0, at).reverse();
    const beside = before.map((one) => left.findIndex((other) => same(other, one))).find((k) => k >= 0);
    left.splice(beside === undefined ? (at === 0 ? 0 : left.length) : beside + 1, 0, entry);
  }
  return left;
}

const parts = (path: string) =>
  path
    .split("/")
    .slice(1)
    .map((part) => part.replaceAll("~1", "/").replaceAll("~0", "~"));

/** Where an entry of a list is now; null where that cannot be told. */
function placeOf(base: Json[], now: Json[], at: number): number | null {
  const entry = base[at];
  if (same(now[at], entry)) return at;
  const places = now.flatMap((other, k) => (same(other, entry) ? [k] : []));
  if (places.length === 1) return places[0] as number;
  return now.length === base.length && places.length === 0 ? at : null;
}

/** One change made from `base`, as it is to be made of `now`. */
function moved(change: Change, base: Json, now: Json, careful: boolean): Change | null {
  const way: string[] = [];
  let [before, after]: [Json, Json] = [base, now];
  const steps = parts(change.path);
  for (const [k, step] of steps.entries()) {
    const last = k === steps.length - 1;
    if (Array.isArray(before) && Array.isArray(after) && /^\d+$/.test(step)) {
      const at = Number(step);
      const inserts = last && change.op === "add";
      const place = inserts || at >= before.length ? Math.min(at, after.length) : placeOf(before, after, at);
      if (place === null) return null;
      way.push(String(place));
      [before, after] = [before[at], after[place]];
    } else {
      way.push(step);
      before = (before as Record<string, Json> | undefined)?.[step];
      after = (after as Record<string, Json> | undefined)?.[step];
    }
    if (!last && (before === undefined || after === undefined)) return change;
  }
  const written = change.op !== "add" || (before !== undefined && !/^(\d+|-)$/.test(steps.at(-1) ?? ""));
  if (careful && written && !Array.isArray(before) && !same(before, after)) return null;
  const path = `/${way.map((part) => part.replaceAll("~", "~0").replaceAll("/", "~1")).join("/")}`;
  const next = change.value;
  if (change.op !== "remove" && Array.isArray(next) && Array.isArray(before) && Array.isArray(after)) {
    const value = merged(before, next, after);
    return value === null ? null : { ...change, path, value };
  }
  return { ...change, path };
}

/**
 * Changes that were made from `base`, as they are to be made of `now`; or why they cannot be. careful: what somebody
 * else has changed is not written over.
 */
export function rebased(changes: Change[], base: Json, now: Json, careful = false): Change[] | string {
  if (base === now) return changes;
  const found: Change[] = [];
  for (const change of changes) {
    const one = moved(change, base, now, careful);
    if (!one) return MEANT;
    found.push(one);
  }
  return found;
}

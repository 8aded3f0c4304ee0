import { useRef, useSyncExternalStore } from "react";
import { createStore } from "zustand";
import { type CursorPart, cursorPart } from "./cursor";
import { type ServerPart, serverPart } from "./server";
import { type Transport, transport } from "./transport";
import { type ViewPart, viewPart } from "./view";

export type { Cursor } from "./cursor";
export type { Change } from "./transport";
export type { GraphLook } from "./view";

export type State = ServerPart & CursorPart & ViewPart;

/** The document, what is looked at, and how: on the server that a transport speaks to. */
export const documentOn = (over: Transport) =>
  createStore<State>((set, get) => ({
    ...serverPart(over, set, get),
    ...cursorPart(over, set, get),
    ...viewPart(set, get, over.trial),
  }));

const store = documentOn(transport);

/**
 * The project on the sheet. A component is drawn again only when one of the parts that it took has changed: the clock
 * of a replay moves many times a second.
 */
function useParts(): State;
function useParts<T>(part: (state: State) => T): T;
function useParts<T>(part?: (state: State) => T): State | T {
  const taken = useRef(new Set<keyof State>());
  const seen = useRef<State | null>(null);
  const look = () => {
    const now = store.getState();
    if (part) return part(now);
    const before = seen.current;
    if (before && [...taken.current].every((key) => before[key] === now[key])) return before;
    seen.current = now;
    return now;
  };
  const found = useSyncExternalStore(store.subscribe, look);
  if (part) return found as T;
  return new Proxy(found as State, {
    get: (_, key: keyof State) => {
      taken.current.add(key);
      return store.getState()[key];
    },
  });
}

export const useProject = Object.assign(useParts, {
  getState: store.getState,
  setState: store.setState,
  subscribe: store.subscribe,
});

import type { Answer } from "../api/client";

/** `lost`: whether the stream is broken. */
export type Told = { answer: (answer: Answer) => void; lost: (lost: boolean) => void };

/** ms until a stream that broke is opened again, longer each time. */
const WAITS = [300, 1000, 2000, 5000, 10_000];

/**
 * Follow an answer by server-sent events until the server says that it is settled. A stream that breaks (a server that
 * is started anew, a machine that slept) is opened again; `told.lost` says so and when it is back.
 */
export function follow(
  url: string,
  told: Told,
  open = (from: string): EventSource => new EventSource(from),
): () => void {
  let source: EventSource | null = null;
  let timer: ReturnType<typeof setTimeout> | undefined;
  let failures = 0;
  let ended = false;

  function begin() {
    const own = open(url);
    source = own;
    own.addEventListener("answer", (event) => {
      if (ended) return;
      if (failures > 0) told.lost(false);
      failures = 0;
      told.answer(JSON.parse((event as MessageEvent<string>).data) as Answer);
    });
    own.addEventListener("end", end);
    own.onerror = () => {
      own.close();
      if (ended) return;
      if (failures === 0) told.lost(true);
      timer = setTimeout(begin, WAITS[Math.min(failures, WAITS.length - 1)]);
      failures += 1;
    };
  }

  function end() {
    ended = true;
    clearTimeout(timer);
    source?.close();
  }

  begin();
  return end;
}

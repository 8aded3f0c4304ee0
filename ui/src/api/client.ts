import createClient from "openapi-fetch";
import type { components, paths } from "./schema";

export type Answer = components["schemas"]["AnswerOut"];
export type Verdict = components["schemas"]["VerdictOut"];
export type StormInfo = components["schemas"]["StormOut"];
export type ProjectState = components["schemas"]["ProjectOut"];
export type ShelfEntry = components["schemas"]["ShelfEntry"];
export type Finding = components["schemas"]["FindingOut"];

/** What went wrong, as the server says it (RFC 9457). */
export class Problem extends Error {
  readonly status: number;
  constructor(status: number, title: string, detail?: string) {
    super(detail ? `${title}; ${detail}` : title);
    this.status = status;
  }
}

export const api = createClient<paths>({ baseUrl: "" });

type Outcome<T> = { data?: T; error?: unknown; response: Response };

/** The data of a call, or a Problem. */
export async function call<T>(promise: Promise<Outcome<T>>): Promise<T> {
  const { data, error, response } = await promise;
  if (!response.ok) {
    const body = (error ?? {}) as { title?: string; detail?: string };
    throw new Problem(response.status, body.title ?? `the server answers ${response.status}`, body.detail);
  }
  return data as T;
}

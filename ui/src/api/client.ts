import createClient from "openapi-fetch";
import type { components, paths } from "./schema";

export type Answer = components["schemas"]["AnswerOut"];
export type Verdict = components["schemas"]["VerdictOut"];
export type StormInfo = components["schemas"]["StormOut"];
export type ProjectState = components["schemas"]["ProjectOut"];
export type Edited = components["schemas"]["EditedOut"];
export type ProjectList = components["schemas"]["ListOut"];
export type Listed = components["schemas"]["ListedOut"];
export type LastEdit = components["schemas"]["LastEdit"];
export type Finding = components["schemas"]["FindingOut"];

/** What went wrong, as the server says it (RFC 9457). */
export class Problem extends Error {
  readonly status: number;
  /** Path of the document's field that is wrong. */
  readonly field: string | null;
  constructor(status: number, title: string, detail?: string, field?: string) {
    super(detail ? `${title}; ${detail}` : title);
    this.status = status;
    this.field = field ?? null;
  }
}

export const api = createClient<paths>({ baseUrl: "" });

type Outcome<T> = { data?: T; error?: unknown; response: Response };

/** The data of a call, or a Problem. */
export async function call<T>(promise: Promise<Outcome<T>>): Promise<T> {
  const { data, error, response } = await promise;
  if (!response.ok) {
    const body = (error ?? {}) as { title?: string; detail?: string; field?: string };
    throw new Problem(response.status, body.title ?? `the server answers ${response.status}`, body.detail, body.field);
  }
  return data as T;
}

/** What the server answers to a file, or a Problem. The schema does not tell of bodies that are files. */
export async function sent<T>(address: string, body: Blob | FormData): Promise<T> {
  const response = await fetch(address, { method: "POST", body });
  const answer = await response.json();
  if (!response.ok) throw new Problem(response.status, answer.title, answer.detail);
  return answer as T;
}

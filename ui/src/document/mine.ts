/** Revisions that were made in this browser: undo takes those back unasked, and no others. */
const MOST = 300;
const keyOf = (project: string) => `madidus-made-${project}`;
// of a browser that keeps nothing, as long as the page lives
const lasting: Record<string, number[]> = {};

function read(project: string): number[] {
  try {
    const kept: unknown = JSON.parse(localStorage.getItem(keyOf(project)) ?? "[]");
    if (Array.isArray(kept)) return kept.filter((one) => typeof one === "number");
  } catch {
    // not there, or not ours
  }
  return lasting[project] ?? [];
}

export const isMine = (project: string, revision: number) => read(project).includes(revision);

export function made(project: string, revision: number) {
  const all = [...read(project), revision].slice(-MOST);
  lasting[project] = all;
  try {
    localStorage.setItem(keyOf(project), JSON.stringify(all));
  } catch {
    // full, or forbidden
  }
}

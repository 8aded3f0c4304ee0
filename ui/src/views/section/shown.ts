/** What is drawn over the run besides its water now. */
export type Shown = { highest: boolean; all: boolean; probabilities: boolean; energy: boolean };

export const LINES: Record<keyof Shown, string> = {
  highest: "highest of this storm (dashed)",
  all: "highest of every storm (dotted)",
  probabilities: "highest of each return period",
  energy: "energy line",
};

const KEPT = "madidus.section-lines";

export function shownAtFirst(): Shown {
  const usual: Shown = { highest: false, all: true, probabilities: false, energy: false };
  try {
    return { ...usual, ...JSON.parse(localStorage.getItem(KEPT) ?? "{}") };
  } catch {
    return usual;
  }
}

export const keepShown = (shown: Shown) => localStorage.setItem(KEPT, JSON.stringify(shown));

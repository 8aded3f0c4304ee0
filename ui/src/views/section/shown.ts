/** What is drawn over the run besides its water now. */
export type Shown = { highest: boolean; all: boolean; rarities: boolean; energy: boolean };

export const LINES: Record<keyof Shown, string> = {
  highest: "highest of this storm (dashed)",
  all: "highest of every storm (dotted)",
  rarities: "highest of each rarity",
  energy: "energy line",
};

const KEPT = "madidus.section-lines";

export function shownAtFirst(): Shown {
  const usual: Shown = { highest: false, all: true, rarities: false, energy: false };
  try {
    return { ...usual, ...JSON.parse(localStorage.getItem(KEPT) ?? "{}") };
  } catch {
    return usual;
  }
}

export const keepShown = (shown: Shown) => localStorage.setItem(KEPT, JSON.stringify(shown));

/** Colours of the sheet, for what is drawn on a canvas of its own. */
export const TONE = {
  paper: "#f6f2e7",
  hi: "#fcfaf3",
  lo: "#ece6d7",
  ink: "#1d2427",
  ink3: "#65665f",
  rule: "#d5ccb8",
  rule2: "#a39a86",
  water1: "#dce9e3",
  water2: "#b3d5d0",
  water3: "#73aeb0",
  water4: "#25727d",
  water5: "#0e4a58",
  madder: "#9e2a3b",
} as const;

import type { Paper, Part, PartKind } from "../document/types";

/** What each part is called until somebody gives it another heading. */
export const NAMES: Record<PartKind, string> = {
  cover: "Cover and author",
  verdicts: "Brief and verdicts",
  method: "Method",
  rainfall: "Rainfall",
  schedules: "Schedules",
  storms: "Storms, volume balance",
  results: "Results by return period",
  critical: "Critical durations",
  spread: "Spread of peaks",
  events: "Event log",
  quality: "Quality and doubts",
  accepted: "Accepted findings",
  graphs: "Graphs kept",
  views: "Views kept",
  plan: "Plan",
  section: "Long section",
  sheets: "Sheets composed",
  changes: "Changes since last issue",
};

/** Parts that a layout may have several of: each with its own settings. */
export const SEVERAL: PartKind[] = ["plan", "section", "results", "schedules", "graphs", "views", "sheets"];

export const PAPERS: Paper[] = ["A4", "A3", "A2", "A1", "A0", "Letter", "ANSI B", "ANSI C", "ANSI D", "ANSI E"];

export const SCALES = [100, 125, 150, 200, 250, 300, 400, 500, 750, 1000, 1250, 1500, 2000, 2500, 4000, 5000];

export const titleOf = (part: Part) => part.heading || NAMES[part.kind];

import type { Answer } from "../api/client";

/** s; a run that is likely to take less: what only looks closer waits for it, so as not to stand in its way. */
const MOMENTS = 3;

/** Whether the run under way is likely to end within moments. */
export const soon = (answer: Answer) => answer.state === "running" && !answer.compiling && answer.estimate < MOMENTS;

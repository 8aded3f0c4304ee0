import type { Control } from "../document/types";

/** A mark for each kind of control, within 5 units of its middle: on the plan and on the section alike. */
export const CONTROL_MARK: Record<Control["kind"], string> = {
  // a hole in a wall
  orifice: "M0 -5V-2M0 2V5M-2 0a2 2 0 1 0 4 0a2 2 0 1 0 -4 0",
  // water over a crest
  weir: "M0 5V-1M-5 -2C-2 -2 0 -3 1 -1S3 3 4 4",
  // a ring that drinks
  riser: "M-4 -2H-2V5M4 -2H2V5M-4 -4H4",
  // a vortex
  curve: "M0 0a1 1 0 0 1 2 0a2 2 0 0 1 -4 0a3 3 0 0 1 6 0a4 4 0 0 1 -8 0",
  // an impeller's arrow
  pump: "M-4 -4L5 0L-4 4Z",
};

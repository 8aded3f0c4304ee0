import type { Conduit } from "./types";

export const gradientOf = (run: Conduit) => (run.upstream_invert - run.downstream_invert) / run.length;

import { isStore, type NetNode } from "../../document/types";

/** Half the width that a node is drawn with, px. */
export const halfOf = (node: NetNode) => (isStore(node) ? 16 : 3.5);

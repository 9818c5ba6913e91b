/** What weights are called on screen. */
import type { Finding } from "../api/client";

export const WEIGHT_WORDS: Record<Finding["weight"], string> = { blocks: "Blocks the switch", mend: "Mend soon", note: "Note" };

/** The ink of what has a weight. */
export const WEIGHT_INK: Record<Finding["weight"], string> = { blocks: "text-madder", mend: "text-ochre", note: "text-soft" };

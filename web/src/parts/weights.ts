/** What weights are called on screen. */
import type { Finding } from "../api/client";

export const WEIGHT_WORDS: Record<Finding["weight"], string> = { blocks: "Blocks the switch", mend: "Mend soon", note: "Note" };

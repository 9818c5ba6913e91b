/** The views in which checks stand, in the order of the contents line. */
import type { Comparison } from "../api/client";

export const VIEWS: [string, string][] = [
  ["pages", "Pages"],
  ["counts", "Counts"],
  ["leftovers", "Leftovers"],
  ["links", "Links"],
  ["permalinks", "Permalinks"],
  ["redirects", "Redirects"],
  ["site", "Site checks"],
  ["names", "Names"],
];

/** How many rows of a view's checks want a person. */
export function wanting(comparison: Comparison | null, view: string): number {
  return (comparison?.checks ?? [])
    .filter((check) => check.view === view)
    .flatMap((check) => check.verdicts)
    .reduce((sum, one) => sum + (one.wants ? one.rows : 0), 0);
}

/** Whether a check of the view has something to say. Pages are shown from the first on. */
export function appears(comparison: Comparison | null, view: string): boolean {
  return view === "pages" || (comparison?.checks ?? []).some((check) => check.view === view && (check.rows > 0 || check.unseen.length > 0));
}

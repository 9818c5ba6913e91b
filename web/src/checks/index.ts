/** How rows of a check are shown; a check without a file here is shown like any other. */
import type { ReactNode } from "react";

import type { Check, Comparison, Row } from "../api/client";
import { FILES } from "./files";
import { PAGES } from "./pages";
import { PLAIN } from "./plain";

export type Shown = {
  left: (row: Row, comparison: Comparison, check: Check) => ReactNode;
  mid: (row: Row, check: Check) => ReactNode;
  right: (row: Row, comparison: Comparison, check: Check) => ReactNode;
  /** Where a row opens. */
  path: (move: number, row: Row) => string;
  /** Whether what is open on a row can be accepted, and the row retired. */
  marks: (row: Row) => boolean;
  /** What a search looks in. */
  find: string;
};

const OWN: Record<string, Shown> = { pages: PAGES, files: FILES };

export function shownOf(check: Check | undefined): Shown {
  return check ? (OWN[check.name] ?? PLAIN(check.name)) : PAGES;
}

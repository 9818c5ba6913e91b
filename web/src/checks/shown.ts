/** How rows of one check are shown. */
import type { ReactNode } from "react";

import type { Check, Comparison, Row } from "../api/client";

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

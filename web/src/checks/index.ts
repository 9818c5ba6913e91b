/** How rows of a check are shown; a check without a file here is shown like any other. */
import type { Check } from "../api/client";
import { ADDRESSES } from "./addresses";
import { COUNTED } from "./counted";
import { FILES } from "./files";
import { PAGES } from "./pages";
import { PLAIN } from "./plain";
import type { Shown } from "./shown";

const OWN: Record<string, Shown> = {
  pages: PAGES,
  files: FILES,
  content: COUNTED("content"),
  tables: COUNTED("tables"),
  disk: COUNTED("disk"),
  leftovers: ADDRESSES("leftovers", { number: "times", unmarked: ["stays", "listed"], find: "Find an address or a place" }),
  permalinks: ADDRESSES("permalinks", { number: "pages", unmarked: ["gone", "unplanned", "part", "unknown", "planned", "new", "same"], find: "Find a pattern" }),
  policies: ADDRESSES("policies", { unmarked: ["altered", "hops", "unknown", "same"], find: "Find a policy" }),
  links: ADDRESSES("links", { number: "pages", unmarked: ["unknown", "mended", "answers", "deeper"], find: "Find an address" }),
};

export function shownOf(check: Check | undefined): Shown {
  return check ? (OWN[check.name] ?? PLAIN(check.name)) : PAGES;
}

/** Rows of pages: address and title facing address and what differs. */
import type { Comparison, Row } from "../api/client";
import { Thread, THREAD_INK, verdictOf } from "../parts/Thread";
import { count, day, place } from "../lib/format";
import type { Shown } from "./shown";

const NOT_THERE = ["lost", "unknown", "retired"];

/** Whether a page that moved also says something else. */
export function isWaved(row: Row): boolean {
  return row.verdict === "moved" && row.numbers.content_change !== 0;
}

/** In how many fields a page differs just as many others do. */
function sharedOf(row: Row): number {
  let bits = Math.max(0, row.numbers.shared_change ?? 0);
  let number = 0;
  for (; bits; bits &= bits - 1) number += 1;
  return number;
}

/** How often people asked for the page, where logs say. */
function Visits({ row }: { row: Row }) {
  const visits = row.numbers.visits ?? 0;
  if (visits <= 0) return null;
  return (
    <span className="ml-2 text-[13px]" title={`By imported logs; the last ${day(row.numbers.last_visit ?? 0)}`}>
      {count(visits, "visit")}
    </span>
  );
}

export const PAGES: Shown = {
  left: (row: Row, comparison: Comparison) =>
    row.left ? (
      <span title={`${row.left}${row.left_note ? `\n${row.left_note}` : ""}`}>
        <span className="font-mono text-[14px]">{place(row.left, comparison.left.base)}</span>
        <Visits row={row} />
        <span className="text-soft ml-2 text-[14px]">{row.left_note}</span>
      </span>
    ) : null,
  mid: (row, check) => {
    const { label, shape } = verdictOf(check, row.verdict);
    return <Thread shape={shape} label={`${label}${isWaved(row) ? " and altered" : ""}`} wave={isWaved(row)} />;
  },
  right: (row, comparison, check) => (
    <span title={`${row.right ?? ""}${row.right_note ? `\n${row.right_note}` : ""}`}>
      <span className={`font-mono text-[14px] ${NOT_THERE.includes(row.verdict) ? "text-soft" : ""}`}>{place(row.right ?? "", comparison.right.base)}</span>
      <span className={`ml-2 text-[14px] ${THREAD_INK[verdictOf(check, row.verdict).shape]}`}>{row.right_note || (row.verdict === "new" ? row.left_note : "")}</span>
      {sharedOf(row) ? (
        <span className="text-soft border-edge ml-2 rounded-[3px] border px-1 text-[12px]" title="Differs as many other pages do, which leaves it what it is; open the row to see in what">
          {sharedOf(row)} shared
        </span>
      ) : null}
    </span>
  ),
  path: (move, row) => `/moves/${move}/pages/${row.rank}`,
  marks: (row) => row.verdict !== "kept" && row.verdict !== "retired",
  find: "Find a path or title",
};

/** Rows of files: a folder or a kind of file with how many there are, facing how many are there now. */
import { Thread, THREAD_INK, verdictOf } from "../parts/Thread";
import type { Shown } from "./shown";
import { PLAIN } from "./plain";

export const FILES: Shown = {
  ...PLAIN("files"),
  left: (row) => (
    <span className="flex items-baseline gap-4 pr-2" title={row.left_note ?? ""}>
      <span className="min-w-0 flex-1 truncate font-mono text-[14px]">{row.left_note}</span>
      <b className="text-[15px] tabular-nums">{row.left}</b>
    </span>
  ),
  mid: (row, check) => {
    const { label, shape } = verdictOf(check, row.verdict);
    return <Thread shape={shape} label={label} />;
  },
  right: (row, _, check) => (
    <span className="flex items-baseline gap-4" title={row.right_note}>
      <b className="min-w-[60px] text-[15px] tabular-nums">{row.right}</b>
      <span className={`min-w-0 truncate text-[14px] ${THREAD_INK[verdictOf(check, row.verdict).shape]}`}>
        {row.verdict === "same" ? "" : `${verdictOf(check, row.verdict).label.toLowerCase()}${row.right_note ? `, ${row.right_note}` : ""}`}
      </span>
    </span>
  ),
};

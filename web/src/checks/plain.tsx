/** Rows of any check: what it is and what stands there, facing what stands at the destination. */
import { Thread, THREAD_INK, verdictOf } from "../parts/Thread";
import type { Shown } from "./shown";

export function PLAIN(name: string): Shown {
  return {
    left: (row) => (
      <span className="grid grid-cols-[minmax(0,170px)_minmax(0,1fr)] gap-3" title={[row.left_note, row.left].filter(Boolean).join("\n")}>
        <span className="truncate text-[14px]">{row.left_note}</span>
        <span className="truncate font-mono text-[14px]">{row.left}</span>
      </span>
    ),
    mid: (row, check) => {
      const { label, shape } = verdictOf(check, row.verdict);
      return <Thread shape={shape} label={label} />;
    },
    right: (row, _, check) => (
      <span title={[row.right, row.right_note].filter(Boolean).join("\n")}>
        <span className="font-mono text-[14px]">{row.right}</span>
        <span className={`${row.right ? "ml-2" : ""} text-[14px] ${THREAD_INK[verdictOf(check, row.verdict).shape]}`}>{row.right_note}</span>
      </span>
    ),
    path: (move, row) => `/moves/${move}/rows/${name}/${row.rank}`,
    marks: (row) => !["same", "moved", "new"].includes(row.verdict),
    find: "Find in these rows",
  };
}

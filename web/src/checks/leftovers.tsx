/** Rows of leftovers: the old form with where it stands, facing the form that is expected; between them how often. */
import { Thread, THREAD_INK, verdictOf } from "../parts/Thread";
import type { Shown } from "./shown";
import { PLAIN } from "./plain";

export const LEFTOVERS: Shown = {
  ...PLAIN("leftovers"),
  left: (row) => (
    <span className="flex items-baseline gap-3 pr-2" title={[row.left, row.left_note].filter(Boolean).join("\n")}>
      <span className="min-w-0 flex-1 truncate font-mono text-[14px]">{row.left}</span>
      <span className="text-soft max-w-[45%] shrink-0 truncate text-[13px]">{row.left_note}</span>
    </span>
  ),
  mid: (row, check) => {
    const { label, shape } = verdictOf(check, row.verdict);
    const times = row.numbers.times ?? 0;
    return (
      <span className="relative block">
        <Thread shape={shape} label={`${label}, ${times.toLocaleString("en")}`} />
        <span aria-hidden className={`bg-gutter absolute top-[7px] right-0 pl-1 text-[13px] font-bold tabular-nums ${THREAD_INK[shape]}`}>
          {times.toLocaleString("en")}
        </span>
      </span>
    );
  },
  right: (row, _, check) => (
    <span className="grid grid-cols-[fit-content(55%)_minmax(0,1fr)] items-baseline gap-3" title={[row.right, row.right_note].filter(Boolean).join("\n")}>
      <span className="min-w-0 truncate font-mono text-[14px]">{row.right}</span>
      <span className={`truncate text-[14px] ${THREAD_INK[verdictOf(check, row.verdict).shape]}`}>{row.right_note}</span>
    </span>
  ),
  marks: (row) => row.verdict !== "stays" && row.verdict !== "listed",
  find: "Find an address or a place",
};

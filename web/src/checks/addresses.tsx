/** Rows of addresses: one at the source with what is said of it, facing one at the destination; between them how often. */
import { Thread, THREAD_INK, verdictOf } from "../parts/Thread";
import type { Shown } from "./shown";
import { PLAIN } from "./plain";

type Kind = {
  /** The array that says how often; none where nothing is counted. */
  number?: string;
  /** Verdicts of rows on which nothing can be accepted. */
  unmarked: string[];
  find: string;
};

export const ADDRESSES = (name: string, { number, unmarked, find }: Kind): Shown => ({
  ...PLAIN(name),
  left: (row) => (
    <span className="flex items-baseline gap-3 pr-2" title={[row.left, row.left_note].filter(Boolean).join("\n")}>
      <span className="min-w-0 flex-1 truncate font-mono text-[14px]">{row.left}</span>
      <span className="text-soft max-w-[45%] shrink-0 truncate text-[13px]">{row.left_note}</span>
    </span>
  ),
  mid: (row, check) => {
    const { label, shape } = verdictOf(check, row.verdict);
    if (!number) return <Thread shape={shape} label={label} />;
    const times = Math.max(0, row.numbers[number] ?? 0);
    return (
      <span className="relative block">
        <span className="block [&>svg]:w-full" style={{ paddingRight: `${times.toLocaleString("en").length + 0.5}ch` }}>
          <Thread shape={shape} label={`${label}, ${times.toLocaleString("en")}`} />
        </span>
        <span aria-hidden className={`bg-gutter absolute top-[7px] right-0 pl-1 text-[13px] font-bold tabular-nums ${THREAD_INK[shape]}`}>
          {times.toLocaleString("en")}
        </span>
      </span>
    );
  },
  right: (row, _, check) => (
    <span className={`grid items-baseline gap-3 ${row.right_note ? "grid-cols-[fit-content(65%)_minmax(0,1fr)]" : ""}`} title={[row.right, row.right_note].filter(Boolean).join("\n")}>
      <span className="min-w-0 truncate font-mono text-[14px]">{row.right}</span>
      {row.right_note ? <span className={`truncate text-[14px] ${THREAD_INK[verdictOf(check, row.verdict).shape]}`}>{row.right_note}</span> : null}
    </span>
  ),
  marks: (row) => !unmarked.includes(row.verdict),
  find,
});

/** Rows of what is counted: its name and number facing the number now, with a mark for each evidence that counts it. */
import type { Row } from "../api/client";
import { Thread, THREAD_INK, verdictOf } from "../parts/Thread";
import type { Shown } from "./shown";
import { PLAIN } from "./plain";

type Side = "source" | "destination";

/** What each evidence counts on a side, in the order in which the check names them. */
function marks(row: Row, side: Side): { kind: string; number: number }[] {
  const names = Object.keys(row.numbers).filter((name) => name.startsWith(`${side}_`) && (row.numbers[name] ?? -1) >= 0);
  return names.map((name) => ({ kind: name.slice(side.length + 1), number: row.numbers[name] ?? 0 }));
}

function shownNumber(text: string | null): number {
  return Number((text ?? "").replaceAll(",", "") || NaN);
}

/** Evidence by evidence; with numbers as soon as one says something else than what is shown. */
function Marks({ row, side }: { row: Row; side: Side }) {
  const all = (["source", "destination"] as const).flatMap((one) => marks(row, one).map((mark) => mark.number !== shownNumber(one === "source" ? row.left : row.right)));
  const source = shownNumber(row.left);
  return (
    <span className="flex shrink-0 gap-2.5 text-[12px] max-[1100px]:hidden">
      {marks(row, side).map(({ kind, number }) => {
        const odd = side === "destination" ? number < source : number !== source;
        return (
          <span key={kind} className={`border-b ${odd && all.some(Boolean) ? "text-madder border-madder" : "text-soft border-line"}`}>
            {kind}
            {all.some(Boolean) ? ` ${number.toLocaleString("en")}` : ""}
          </span>
        );
      })}
    </span>
  );
}

/** How many more or fewer there are, beside the thread. */
function change(row: Row): string {
  const difference = shownNumber(row.right) - shownNumber(row.left);
  if (!difference) return "";
  return `${difference > 0 ? "+" : "−"}${Math.abs(difference).toLocaleString("en")}`;
}

export function COUNTED(name: string): Shown {
  return {
    ...PLAIN(name),
    left: (row) => (
      <span className="flex items-baseline gap-4 pr-2" title={row.left_note ?? ""}>
        <span className="min-w-0 flex-1 truncate text-[14px]">{row.left_note}</span>
        <Marks row={row} side="source" />
        <b className="min-w-[64px] shrink-0 text-right text-[15px] tabular-nums">{row.left}</b>
      </span>
    ),
    mid: (row, check) => {
      const { label, shape } = verdictOf(check, row.verdict);
      const said = change(row);
      return (
        <span className="relative block">
          <Thread shape={shape} label={said ? `${label}, ${said}` : label} />
          {said && shape === "cut" ? (
            <span aria-hidden className={`absolute top-[7px] left-[54px] text-[13px] font-bold ${THREAD_INK[shape]}`}>
              {said}
            </span>
          ) : null}
        </span>
      );
    },
    right: (row, _, check) => (
      <span className="flex items-baseline gap-4" title={row.right_note ?? ""}>
        <b className="min-w-[64px] shrink-0 text-[15px] tabular-nums">{row.right}</b>
        <span className={`min-w-0 flex-1 truncate text-[14px] ${THREAD_INK[verdictOf(check, row.verdict).shape]}`}>{row.right_note}</span>
        <Marks row={row} side="destination" />
      </span>
    ),
    marks: (row) => !["same", "set_aside", "more"].includes(row.verdict),
  };
}

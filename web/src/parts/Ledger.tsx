/**
 * A ledger of facing rows, in one part or several, each under its heading. All ledgers are this one, fed with different
 * rows: virtual rows over stored ranks, asked for by the page, moved through by keyboard.
 */
import { useQueries } from "@tanstack/react-query";
import { useVirtualizer } from "@tanstack/react-virtual";
import { useEffect, useRef, type ReactNode } from "react";
import { Link } from "react-router";

import { count } from "../lib/format";

const PAGE = 200;
const HEIGHT = 34;
const HEADING = 38;

export type Page<R> = { total: number; at_least: boolean; counts: Record<string, number>; rows: R[] };

export type Part<R> = {
  /** Names the choice of rows: a new name begins anew. */
  name: unknown[];
  /** Its heading; none where a ledger has only one part. */
  title?: string;
  ask: (first: number, rows: number) => Promise<Page<R>>;
};

export type LedgerProps<R> = {
  parts: Part<R>[];
  selected: number;
  onSelect: (index: number) => void;
  link: (row: R, index: number) => string;
  left: (row: R) => ReactNode;
  mid: (row: R) => ReactNode;
  right: (row: R) => ReactNode;
  /** Rows that can be marked get a box before them; undefined for one that cannot. */
  mark?: (row: R) => { on: boolean; label: string; onMark: () => void } | undefined;
  /** Told of the first page of each part, in their order. */
  onPages: (pages: Page<R>[], rowAt: (index: number) => R | undefined) => void;
  /** Told while another choice is being read: the rows of the one before are not there any more. */
  onWaiting?: () => void;
  onVisible: (first: number, last: number) => void;
  empty: ReactNode;
};

/** What stands at one place of the list: a heading, or a row by its place among all rows and in its part. */
type Line = { heading: string; rows: number } | { index: number; part: number; at: number };

export function Ledger<R>(props: LedgerProps<R>) {
  const { parts, selected, onSelect, onPages, onVisible } = props;
  const scroller = useRef<HTMLDivElement>(null);
  const firsts = useQueries({ queries: parts.map((part) => query(part, 0)) });
  const totals = firsts.map((one) => one.data?.total ?? 0);
  const total = totals.reduce((sum, one) => sum + one, 0);
  // Where each part's heading and rows begin in the list.
  const starts: { heading: number; first: number; before: number }[] = [];
  let length = 0;
  let before = 0;
  parts.forEach((part, at) => {
    const heading = part.title === undefined || !totals[at] ? 0 : 1;
    starts.push({ heading: heading ? length : -1, first: length + heading, before });
    length += heading + (totals[at] ?? 0);
    before += totals[at] ?? 0;
  });

  function lineAt(place: number): Line {
    let part = 0;
    while (part + 1 < starts.length && place >= lineStart(part + 1)) part += 1;
    const start = starts[part] ?? { heading: -1, first: 0, before: 0 };
    if (place === start.heading) return { heading: parts[part]?.title ?? "", rows: totals[part] ?? 0 };
    return { index: start.before + place - start.first, part, at: place - start.first };
  }

  function lineStart(part: number): number {
    const start = starts[part];
    if (!start) return length;
    return start.heading >= 0 ? start.heading : start.first;
  }

  /** The place in the list of a row, by its place among all rows. */
  function placeOf(index: number): number {
    let part = 0;
    while (part + 1 < starts.length && index >= (starts[part + 1]?.before ?? 0)) part += 1;
    const start = starts[part];
    return start ? start.first + index - start.before : index;
  }

  const rows = useVirtualizer({
    count: length,
    getScrollElement: () => scroller.current,
    estimateSize: (place) => ("heading" in lineAt(place) ? HEADING : window.innerWidth < 900 ? 2 * HEIGHT : HEIGHT),
    overscan: 12,
  });
  useEffect(() => rows.measure(), [length, rows]);
  const items = rows.getVirtualItems();
  const wanted = new Map<string, [number, number]>();
  for (const item of items) {
    const line = lineAt(item.index);
    if ("part" in line) wanted.set(`${line.part}:${Math.floor(line.at / PAGE)}`, [line.part, Math.floor(line.at / PAGE)]);
  }
  const chunks = [...wanted.values()];
  const pages = useQueries({ queries: chunks.map(([part, chunk]) => query(parts[part], chunk)) });

  function query(part: Part<R> | undefined, chunk: number) {
    return {
      queryKey: ["ledger", ...(part?.name ?? []), chunk],
      queryFn: () => (part ? part.ask(chunk * PAGE, PAGE) : Promise.reject(new Error("There is no such part."))),
      staleTime: Infinity,
    };
  }

  function rowOf(part: number, at: number): R | undefined {
    const found = chunks.findIndex(([one, chunk]) => one === part && chunk === Math.floor(at / PAGE));
    return pages[found]?.data?.rows[at % PAGE];
  }

  function rowAt(index: number): R | undefined {
    const line = lineAt(placeOf(index));
    return "part" in line ? rowOf(line.part, line.at) : undefined;
  }

  const ready = firsts.every((one) => one.data);
  useEffect(() => {
    if (ready) onPages(firsts.flatMap((one) => (one.data ? [one.data] : [])), rowAt);
    else props.onWaiting?.();
  });

  const range = rows.range;
  useEffect(() => {
    const rowsBefore = (place: number) => {
      const line = lineAt(place);
      return "part" in line ? line.index : placeOf(0) <= place ? placeIndex(place) : 0;
    };
    onVisible(rowsBefore(range?.startIndex ?? 0), rowsBefore(range?.endIndex ?? 0));
  }, [range?.startIndex, range?.endIndex, onVisible]); // eslint-disable-line react-hooks/exhaustive-deps

  /** How many rows stand before a heading. */
  function placeIndex(place: number): number {
    return starts.find((one) => one.heading === place)?.before ?? 0;
  }

  useEffect(() => {
    if (selected >= 0 && selected < total) rows.scrollToIndex(placeOf(selected), { align: "auto" });
  }, [selected, total, rows]); // eslint-disable-line react-hooks/exhaustive-deps

  const failed = firsts.find((one) => one.error)?.error;
  if (failed) return <p role="alert" className="text-madder p-6">{String(failed.message)}</p>;
  if (!ready) return <p role="status" className="text-soft p-6 text-center">Reading the rows …</p>;
  if (!total) return <div className="flex-1 p-10 text-center">{props.empty}</div>;
  return (
    <div ref={scroller} className="bg-paper min-h-0 flex-1 overflow-y-auto [scrollbar-gutter:stable]" tabIndex={-1} data-ledger>
      <ul style={{ height: rows.getTotalSize() }} className="relative" aria-label={`${total} rows`}>
        {items.map((item) => {
          const line = lineAt(item.index);
          if ("heading" in line)
            return (
              <li key={item.key} className="absolute inset-x-0" style={{ height: item.size, transform: `translateY(${item.start}px)` }}>
                <h2 className="border-edge bg-paper h-full border-b px-6 pt-2.5 text-[15px]">
                  {line.heading} <span className="text-soft ml-2 font-sans text-[13px] font-normal">{count(line.rows, "row")}</span>
                </h2>
              </li>
            );
          const row = rowOf(line.part, line.at);
          const mark = row === undefined ? undefined : props.mark?.(row);
          return (
            <li
              key={item.key}
              className="absolute inset-x-0"
              style={{ height: item.size, transform: `translateY(${item.start}px)` }}
              aria-setsize={total}
              aria-posinset={line.index + 1}
            >
              {row === undefined ? (
                <div className="facing bg-leaf border-edge h-full border-b">
                  <div className="left" />
                  <div className="mid" />
                  <div className="right" />
                </div>
              ) : (
                <Link
                  to={props.link(row, line.index)}
                  aria-current={line.index === selected ? "true" : undefined}
                  data-index={line.index}
                  onFocus={() => onSelect(line.index)}
                  className={`facing bg-leaf border-edge h-full items-center border-b -outline-offset-2! [&>.mid]:h-full ${
                    line.index === selected ? "outline-ink outline-2" : ""
                  }`}
                >
                  <div className="left truncate whitespace-nowrap">{props.left(row)}</div>
                  <div className="mid">{props.mid(row)}</div>
                  <div className="right truncate whitespace-nowrap">{props.right(row)}</div>
                </Link>
              )}
              {mark ? (
                <input
                  type="checkbox"
                  className="accent-ink absolute top-[10px] left-[6px]"
                  aria-label={mark.label}
                  tabIndex={-1}
                  checked={mark.on}
                  onChange={mark.onMark}
                />
              ) : null}
            </li>
          );
        })}
      </ul>
    </div>
  );
}

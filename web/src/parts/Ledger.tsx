/**
 * A ledger of facing rows. All ledgers are this one, fed with different rows: virtual rows over stored
 * ranks, asked for by the page, moved through by keyboard.
 */
import { useQueries } from "@tanstack/react-query";
import { useVirtualizer } from "@tanstack/react-virtual";
import { useEffect, useRef, type ReactNode } from "react";
import { Link } from "react-router";

const PAGE = 200;
const HEIGHT = 34;

export type Page<R> = { total: number; at_least: boolean; counts: Record<string, number>; rows: R[] };

export type LedgerProps<R> = {
  /** Names the choice of rows: a new name begins anew. */
  name: unknown[];
  ask: (first: number, rows: number) => Promise<Page<R>>;
  selected: number;
  onSelect: (index: number) => void;
  link: (row: R, index: number) => string;
  left: (row: R) => ReactNode;
  mid: (row: R) => ReactNode;
  right: (row: R) => ReactNode;
  /** Rows that can be marked get a box before them; undefined for one that cannot. */
  mark?: (row: R) => { on: boolean; label: string; onMark: () => void } | undefined;
  onPage: (page: Page<R>, rowAt: (index: number) => R | undefined) => void;
  onVisible: (first: number, last: number) => void;
  empty: ReactNode;
};

export function Ledger<R>(props: LedgerProps<R>) {
  const { name, ask, selected, onSelect, onPage, onVisible } = props;
  const scroller = useRef<HTMLDivElement>(null);
  const first = useQueries({ queries: [query(0)] })[0];
  const total = first?.data?.total ?? 0;
  const rows = useVirtualizer({
    count: total,
    getScrollElement: () => scroller.current,
    estimateSize: () => (window.innerWidth < 900 ? 2 * HEIGHT : HEIGHT),
    overscan: 12,
  });
  const items = rows.getVirtualItems();
  const from = items[0]?.index ?? 0;
  const to = items.at(-1)?.index ?? 0;
  const chunks: number[] = [];
  for (let chunk = Math.floor(from / PAGE); chunk <= Math.floor(to / PAGE); chunk += 1) chunks.push(chunk);
  const pages = useQueries({ queries: chunks.map(query) });

  function query(chunk: number) {
    return {
      queryKey: ["ledger", ...name, chunk],
      queryFn: () => ask(chunk * PAGE, PAGE),
      staleTime: Infinity,
    };
  }

  function rowAt(index: number): R | undefined {
    const at = chunks.indexOf(Math.floor(index / PAGE));
    return pages[at]?.data?.rows[index % PAGE];
  }

  useEffect(() => {
    if (first?.data) onPage(first.data, rowAt);
  });

  useEffect(() => {
    onVisible(rows.range?.startIndex ?? 0, rows.range?.endIndex ?? 0);
  }, [rows.range?.startIndex, rows.range?.endIndex, onVisible]);

  useEffect(() => {
    if (selected >= 0 && selected < total) rows.scrollToIndex(selected, { align: "auto" });
  }, [selected, total, rows]);

  if (first?.error) return <p role="alert" className="text-madder p-6">{String(first.error.message)}</p>;
  if (!first?.data) return <p role="status" className="text-soft p-6 text-center">Reading the rows …</p>;
  if (!total) return <div className="p-10 text-center">{props.empty}</div>;
  return (
    <div ref={scroller} className="bg-paper min-h-0 flex-1 overflow-y-auto" tabIndex={-1} data-ledger>
      <ul style={{ height: rows.getTotalSize() }} className="relative" aria-label={`${total} rows`}>
        {items.map((item) => {
          const row = rowAt(item.index);
          const mark = row === undefined ? undefined : props.mark?.(row);
          return (
            <li
              key={item.key}
              className="absolute inset-x-0"
              style={{ height: item.size, transform: `translateY(${item.start}px)` }}
              aria-setsize={total}
              aria-posinset={item.index + 1}
            >
              {row === undefined ? (
                <div className="facing bg-leaf border-edge h-full border-b">
                  <div className="left" />
                  <div className="mid" />
                  <div className="right" />
                </div>
              ) : (
                <Link
                  to={props.link(row, item.index)}
                  aria-current={item.index === selected ? "true" : undefined}
                  data-index={item.index}
                  onFocus={() => onSelect(item.index)}
                  className={`facing bg-leaf border-edge h-full items-center border-b -outline-offset-2! [&>.mid]:h-full ${
                    item.index === selected ? "outline-ink outline-2" : ""
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

/** The facing ledger of pages. Its whole state is in the URL, so that a view can be sent to a colleague. */
import { useCallback, useEffect, useRef, useState } from "react";
import { useNavigate, useSearchParams } from "react-router";

import { api, data, type Fate, type Row } from "../api/client";
import { FacingHead } from "../parts/FacingHead";
import { KeyFoot, KeyList, type KeyLine } from "../parts/Keys";
import { Ledger, type Page } from "../parts/Ledger";
import type { Framed } from "../parts/MoveFrame";
import { Notice } from "../parts/Notice";
import { Retire } from "../parts/Retire";
import { FATE_INK, FATE_WORDS, Thread } from "../parts/Thread";
import { within } from "../lib/format";
import { useKeys } from "../lib/keys";
import { useLater } from "../lib/later";

const FATES = Object.keys(FATE_WORDS) as Fate[];

const KEYS: KeyLine[] = [
  { keys: ["J", "K"], does: "move" },
  { keys: ["Enter"], does: "read the pair" },
  { keys: ["T"], does: "retire with a reason" },
  { keys: ["/"], does: "find" },
  { keys: ["?"], does: "all keys" },
];

export function Pages({ framed }: { framed: Framed }) {
  const { move, comparison } = framed;
  const changes = comparison && comparison.left.side === comparison.right.side ? comparison.standing : null;
  const [search, setSearch] = useSearchParams();
  const navigate = useNavigate();
  const [shown, setShown] = useState<{ total: number; at_least: boolean; counts: Record<string, number> } | null>(null);
  const [visible, setVisible] = useState([0, 0]);
  const [help, setHelp] = useState(false);
  const [retiring, setRetiring] = useState<Row | null>(null);
  const rowAt = useRef<(index: number) => Row | undefined>(() => undefined);
  const find = useRef<HTMLInputElement>(null);

  const fate = search.get("fate") ?? "";
  const section = search.get("section") ?? "";
  const words = search.get("find") ?? "";
  const order = search.get("order") === "address" ? "address" : "worst";
  const selected = Number(search.get("row") ?? 0);

  const change = useCallback(
    (changes: Record<string, string>, keepRow = false) => {
      setSearch(
        (before) => {
          const next = new URLSearchParams(before);
          if (!keepRow) next.delete("row");
          for (const [name, value] of Object.entries(changes)) {
            if (value) next.set(name, value);
            else next.delete(name);
          }
          return next;
        },
        { replace: true },
      );
    },
    [setSearch],
  );
  // What is typed goes into the URL when the typing rests; a URL that changes otherwise is shown.
  const [typed, setTyped] = useState(words);
  const rested = useLater(typed, 200);
  useEffect(() => change({ find: rested }, rested === words), [rested]); // eslint-disable-line react-hooks/exhaustive-deps
  useEffect(() => {
    if (document.activeElement !== find.current) setTyped(words);
  }, [words]);
  const select = useCallback((index: number) => change({ row: index ? String(index) : "" }, true), [change]);
  const onVisible = useCallback((first: number, last: number) => setVisible([first, last]), []);

  // Where the next step begins: keys may come faster than the view is drawn.
  const standing = useRef(selected);
  useEffect(() => {
    standing.current = selected;
  }, [selected]);

  function go(step: number) {
    const next = Math.min(Math.max(0, standing.current + step), (shown?.total ?? 1) - 1);
    standing.current = next;
    select(next);
    requestAnimationFrame(() => document.querySelector<HTMLElement>(`[data-ledger] [data-index="${next}"]`)?.focus());
  }

  function link(row: Row, index: number) {
    const next = new URLSearchParams(search);
    next.set("row", String(index));
    return `/moves/${move.id}/pages/${row.rank}?${next.toString()}`;
  }

  useKeys({
    j: () => go(1),
    k: () => go(-1),
    Enter: () => {
      const row = rowAt.current(selected);
      if (row) void navigate(link(row, selected));
    },
    t: () => setRetiring(changes ? null : (rowAt.current(selected) ?? null)),
    "/": () => find.current?.focus(),
    "?": () => setHelp(true),
  });

  if (!comparison)
    return (
      <Notice title="No rows yet.">
        <p>Capture both sides first. The ledger stands here as soon as they are compared.</p>
      </Notice>
    );

  const all = FATES.reduce((sum, one) => sum + (shown?.counts[one] ?? 0), 0);
  const total = shown?.total ?? 0;
  return (
    <>
      <FacingHead comparison={comparison} />
      {changes ? (
        <p className="border-edge border-b px-6 py-2.5 font-serif text-[17px]">
          {changes.sentence} <span className="text-soft font-sans text-[14px]">{changes.summary}</span>
        </p>
      ) : null}
      <div className="flex shrink-0 flex-wrap items-center gap-2 px-6 py-2.5" role="search">
        <Chip name="All" number={all} on={!fate} onClick={() => change({ fate: "" })} />
        {FATES.map((one) => (
          <Chip
            key={one}
            name={FATE_WORDS[one]}
            number={shown?.counts[one] ?? 0}
            on={fate === one}
            onClick={() => change({ fate: one })}
          />
        ))}
        <select
          aria-label="Section"
          className="ml-auto border-line bg-leaf h-[34px] w-[124px] rounded-[3px] border px-2 font-semibold"
          value={section}
          onChange={(event) => change({ section: event.target.value })}
        >
          <option value="">Section: all</option>
          {comparison.sections.map((one) => (
            <option key={one.section} value={one.section}>
              {one.section} ({one.rows.toLocaleString("en")})
            </option>
          ))}
        </select>
        <select
          aria-label="Order"
          className="border-line bg-leaf h-[34px] rounded-[3px] border px-2 font-semibold"
          value={order}
          onChange={(event) => change({ order: event.target.value === "address" ? "address" : "" })}
        >
          <option value="worst">Worst first</option>
          <option value="address">By address</option>
        </select>
        <input
          ref={find}
          type="search"
          aria-label="Find a path or title"
          placeholder="Find a path or title"
          className="border-line bg-leaf h-[34px] max-w-[200px] min-w-[130px] flex-1 rounded-[3px] border px-3 placeholder:text-soft"
          value={typed}
          onChange={(event) => setTyped(event.target.value)}
          onKeyDown={(event) => {
            if (event.key === "Escape" || event.key === "Enter") {
              event.currentTarget.blur();
              event.preventDefault();
            }
          }}
        />
      </div>
      <Ledger<Row>
        name={[comparison.id, fate, section, words, order]}
        ask={(first, rows) =>
          data(
            api.GET("/api/comparisons/{id}/pages/", {
              params: {
                path: { id: comparison.id },
                query: {
                  fate: (fate || undefined) as Fate | undefined,
                  section: section || undefined,
                  find: words || undefined,
                  order,
                  first,
                  rows,
                },
              },
            }),
          ) as Promise<Page<Row>>
        }
        selected={selected}
        onSelect={select}
        link={link}
        left={(row) => <LeftPage row={row} base={comparison.left.base} />}
        mid={(row) => <Thread fate={row.fate} altered={row.fate === "moved" && row.content_change !== 0} />}
        right={(row) => <RightPage row={row} base={comparison.right.base} />}
        onPage={(page, at) => {
          rowAt.current = at;
          if (page.total !== shown?.total || page.counts !== shown.counts) setShown(page);
        }}
        onVisible={onVisible}
        empty={
          <>
            <p className="mb-2 font-serif text-[17px]">No row fits.</p>
            <button type="button" className="underline" onClick={() => change({ fate: "", section: "", find: "" })}>
              Show all rows
            </button>
          </>
        }
      />
      <KeyFoot
        lines={KEYS}
        said={
          total
            ? `rows ${((visible[0] ?? 0) + 1).toLocaleString("en")} to ${Math.min((visible[1] ?? 0) + 1, total).toLocaleString("en")} of ${shown?.at_least ? "more than " : ""}${total.toLocaleString("en")}, ${order === "address" ? "by address" : "worst first"}`
            : ""
        }
      >
        all rows as{" "}
        <a className="text-ink underline" href={`/api/comparisons/${comparison.id}/export/?as=csv`} download>
          CSV
        </a>
        ,{" "}
        <a className="text-ink underline" href={`/api/comparisons/${comparison.id}/export/?as=json`} download>
          JSON
        </a>
      </KeyFoot>
      <KeyList lines={KEYS} open={help} onClose={() => setHelp(false)} />
      <Retire move={move.id} row={retiring} onClose={() => setRetiring(null)} />
    </>
  );
}

function Chip({ name, number, on, onClick }: { name: string; number: number; on: boolean; onClick: () => void }) {
  return (
    <button
      type="button"
      aria-pressed={on}
      onClick={onClick}
      className={`bg-leaf h-[34px] rounded-[3px] px-2 whitespace-nowrap ${on ? "border-ink border-2" : "border-line border"} ${number ? "" : "text-soft"}`}
    >
      {name} <b className="ml-1">{number.toLocaleString("en")}</b>
    </button>
  );
}

function LeftPage({ row, base }: { row: Row; base: string }) {
  if (!row.left_address) return null;
  return (
    <span title={`${row.left_address}${row.left_title ? `\n${row.left_title}` : ""}`}>
      <span className="font-mono text-[14px]">{within(row.left_address, base)}</span>
      <span className="text-soft ml-2 text-[14px]">{row.left_title}</span>
    </span>
  );
}

function RightPage({ row, base }: { row: Row; base: string }) {
  const there = row.fate !== "lost" && row.fate !== "unknown" && row.fate !== "retired";
  return (
    <span title={`${row.right_address ?? ""}${row.detail ? `\n${row.detail}` : ""}`}>
      <span className={`font-mono text-[14px] ${there ? "" : "text-soft"}`}>{within(row.right_address ?? "", base)}</span>
      <span className={`ml-2 text-[14px] ${FATE_INK[row.fate]}`}>
        {row.detail || (row.fate === "new" ? row.left_title : "")}
      </span>
    </span>
  );
}

/** The facing ledger of pages. Its whole state is in the URL, so that a view can be sent to a colleague. */
import { useCallback, useRef, useState } from "react";
import { useNavigate } from "react-router";

import { api, data, type Fate, type Row } from "../api/client";
import { Accept, type Accepting } from "../parts/Accept";
import { Button } from "../parts/Button";
import { Chip, Find, Pick } from "../parts/RowFilters";
import { FacingHead } from "../parts/FacingHead";
import { GROUPINGS, Groups, type Grouping } from "../parts/Groups";
import { KeyFoot, KeyList, type KeyLine } from "../parts/Keys";
import { Ledger, type Page } from "../parts/Ledger";
import type { Framed } from "../parts/MoveFrame";
import { Notice } from "../parts/Notice";
import { Retire } from "../parts/Retire";
import { FATE_INK, FATE_WORDS, Thread } from "../parts/Thread";
import { useRowQuery } from "../lib/rowQuery";
import { within } from "../lib/format";
import { useKeys } from "../lib/keys";
import { useSelection } from "../lib/selection";

const FATES = Object.keys(FATE_WORDS) as Fate[];

const KEYS: KeyLine[] = [
  { keys: ["J", "K"], does: "move" },
  { keys: ["Enter"], does: "read the pair" },
  { keys: ["X"], does: "mark" },
  { keys: ["A"], does: "accept with a reason" },
  { keys: ["T"], does: "retire with a reason" },
  { keys: ["/"], does: "find" },
  { keys: ["?"], does: "all keys" },
];

const GROUP_KEYS = ["move", "all keys"];

export function Pages({ framed }: { framed: Framed }) {
  const { move, comparison } = framed;
  const changes = comparison && comparison.left.side === comparison.right.side ? comparison.standing : null;
  const navigate = useNavigate();
  const [shown, setShown] = useState<{ total: number; at_least: boolean; counts: Record<string, number> } | null>(null);
  const [visible, setVisible] = useState([0, 0]);
  const [help, setHelp] = useState(false);
  const [retiring, setRetiring] = useState<Row | null>(null);
  const { marked, mark, clear } = useSelection();
  const [accepting, setAccepting] = useState<Accepting | null>(null);
  const [groups, setGroups] = useState<{ total: number; open: (index: number) => void }>({ total: 0, open: () => undefined });
  const rowAt = useRef<(index: number) => Row | undefined>(() => undefined);
  const { search, change, words, selected, standing, select, go, find, typed, setTyped } = useRowQuery(shown?.total ?? 0, groups.total);
  const onVisible = useCallback((first: number, last: number) => setVisible([first, last]), []);

  const fate = search.get("fate") ?? "";
  const section = search.get("section") ?? "";
  const order = search.get("order") === "address" ? "address" : "worst";
  const cause = search.get("cause") ?? "";
  const template = search.get("template") ?? "";
  const group = (search.get("group") ?? "") as Grouping | "";
  const of = cause ? comparison?.standing?.causes[Number(cause)]?.title : template ? (template === "0" ? "Templates of few pages" : `Template ${template}`) : "";

  function link(row: Row, index: number) {
    const next = new URLSearchParams(search);
    next.set("row", String(index));
    return `/moves/${move.id}/pages/${row.rank}?${next.toString()}`;
  }

  /** Another order, or the same rows in groups. */
  function arrange(value: string) {
    if (value in GROUPINGS) change({ group: value, order: "", cause: "", template: "" });
    else change({ group: "", order: value === "address" ? value : "" });
  }

  /** Accept what is open on the marked pages; without marks, on the row where the keyboard stands. */
  function accept() {
    const row = rowAt.current(standing.current);
    const pages = marked.size ? [...marked] : row ? [row.rank] : [];
    if (changes || group || !pages.length) return;
    const what = marked.size || !row ? "What is open on the marked pages." : (row.left_address ?? row.right_address ?? "");
    setAccepting({ number: pages.length, noun: "page", what, body: { pages } });
  }

  useKeys({
    j: () => go(1),
    k: () => go(-1),
    Enter: () => {
      if (group) return groups.open(standing.current);
      const row = rowAt.current(standing.current);
      if (row) void navigate(link(row, standing.current));
    },
    x: () => {
      const row = rowAt.current(standing.current);
      if (row && !changes && !group) mark(row.rank);
      go(1);
    },
    a: accept,
    t: () => setRetiring(changes || group ? null : (rowAt.current(standing.current) ?? null)),
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
        {group ? (
          <p className="text-soft">Each row opens the pages that belong together.</p>
        ) : marked.size ? (
          <>
            <Button onClick={accept}>Accept {marked.size === 1 ? "the marked one" : `the ${marked.size.toLocaleString("en")} marked ones`}</Button>
            <button type="button" className="px-2 underline underline-offset-2" onClick={clear}>
              Unmark
            </button>
          </>
        ) : (
          <>
            <Chip name="All" number={all} on={!fate} onClick={() => change({ fate: "" })} />
            {FATES.map((one) => (
              <Chip key={one} name={FATE_WORDS[one]} number={shown?.counts[one] ?? 0} on={fate === one} onClick={() => change({ fate: one })} />
            ))}
          </>
        )}
        {of ? (
          <button
            type="button"
            className="border-ink bg-leaf h-[34px] max-w-[250px] truncate rounded-[3px] border-2 px-2"
            title="Show rows of all causes and templates"
            onClick={() => change({ cause: "", template: "" })}
          >
            {of} <span aria-label="take away">×</span>
          </button>
        ) : null}
        <span className="ml-auto" />
        {group || of ? null : (
          <Pick label="Section" value={section} onPick={(value) => change({ section: value })} className="w-[124px]">
            <option value="">Section: all</option>
            {comparison.sections.map((one) => (
              <option key={one.section} value={one.section}>
                {one.section} ({one.rows.toLocaleString("en")})
              </option>
            ))}
          </Pick>
        )}
        <Pick label="Order" value={group || order} onPick={arrange}>
          <option value="worst">Worst first</option>
          <option value="address">By address</option>
          {Object.entries(GROUPINGS).map(([name, said]) => (
            <option key={name} value={name}>
              {said}
            </option>
          ))}
        </Pick>
        {group ? null : <Find label="Find a path or title" at={find} value={typed} onType={setTyped} />}
      </div>
      {group ? (
        <Groups
          comparison={comparison}
          move={move.id}
          by={group}
          selected={selected}
          onSelect={select}
          onTotal={(number, open) => {
            if (number !== groups.total) setGroups({ total: number, open });
          }}
        />
      ) : (
        <Ledger<Row>
          name={[comparison.id, fate, section, cause, template, words, order]}
          mark={(row) =>
            changes || row.fate === "kept" || row.fate === "retired"
              ? undefined
              : { on: marked.has(row.rank), label: `Mark ${row.left_address ?? row.right_address ?? ""}`, onMark: () => mark(row.rank) }
          }
          ask={(first, rows) =>
            data(
              api.GET("/api/comparisons/{id}/pages/", {
                params: {
                  path: { id: comparison.id },
                  query: {
                    fate: (fate || undefined) as Fate | undefined,
                    section: section || undefined,
                    cause: cause ? Number(cause) : undefined,
                    template: template ? Number(template) : undefined,
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
              <button type="button" className="underline" onClick={() => change({ fate: "", section: "", cause: "", template: "", find: "" })}>
                Show all rows
              </button>
            </>
          }
        />
      )}
      <KeyFoot
        lines={group ? KEYS.filter((line) => GROUP_KEYS.includes(line.does)) : KEYS}
        said={
          total && !group
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
      <Accept
        move={move.id}
        comparison={comparison.id}
        chosen={accepting}
        onDone={() => {
          clear();
          setAccepting(null);
        }}
        onClose={() => setAccepting(null)}
      />
      <Retire move={move.id} row={retiring} onClose={() => setRetiring(null)} />
    </>
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

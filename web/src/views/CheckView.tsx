/**
 * The facing ledger of a view: the rows of its checks, each under its heading where there are several. Its whole state is
 * in the URL, so that a view can be sent to a colleague.
 */
import { useCallback, useRef, useState } from "react";
import { useNavigate } from "react-router";

import { api, data, type Check, type Row } from "../api/client";
import { shownOf } from "../checks";
import { Accept, type Accepting } from "../parts/Accept";
import { Button } from "../parts/Button";
import { AskAnew } from "../parts/AskAnew";
import { ExportRows } from "../parts/ExportRows";
import { Chip, Find, Pick } from "../parts/RowFilters";
import { FacingHead } from "../parts/FacingHead";
import { Groups, groupings } from "../parts/Groups";
import { KeyFoot, KeyList, type KeyLine } from "../parts/Keys";
import { Ledger, type Page, type Part } from "../parts/Ledger";
import type { Framed } from "../parts/MoveFrame";
import { Notice } from "../parts/Notice";
import { Options } from "../parts/Options";
import { Retire } from "../parts/Retire";
import { SourceAlone } from "../parts/SourceAlone";
import { useRowQuery } from "../lib/rowQuery";
import { VIEWS } from "../lib/views";
import { useKeys } from "../lib/keys";
import { sourceAlone } from "../lib/sourceAlone";
import { useSelection } from "../lib/selection";

const KEYS: KeyLine[] = [
  { keys: ["J", "K"], does: "move" },
  { keys: ["Enter"], does: "open the row" },
  { keys: ["X"], does: "mark" },
  { keys: ["A"], does: "accept with a reason" },
  { keys: ["T"], does: "retire with a reason" },
  { keys: ["/"], does: "find" },
  { keys: ["?"], does: "all keys" },
];
const GROUP_KEYS = ["move", "all keys"];

/** Numbers of rows by verdict, of several choices together. */
function added(counts: Record<string, number>[]): Record<string, number> {
  const sum: Record<string, number> = {};
  for (const one of counts) for (const [word, rows] of Object.entries(one)) sum[word] = (sum[word] ?? 0) + rows;
  return sum;
}

function same(one: Record<string, number>, other: Record<string, number>): boolean {
  return Object.keys({ ...one, ...other }).every((word) => one[word] === other[word]);
}

/** A row with the check that it belongs to. */
type Placed = Row & { check: Check };

export function CheckView({ framed, view }: { framed: Framed; view: string }) {
  const { move, comparison } = framed;
  const changes = comparison && comparison.left.side === comparison.right.side ? comparison.standing : null;
  const navigate = useNavigate();
  const checks = (comparison?.checks ?? []).filter((one) => one.view === view);
  const alone = checks.length === 1 ? checks[0] : undefined;
  const pages = view === "pages";
  const [shown, setShown] = useState<{ total: number; at_least: boolean; counts: Record<string, number> } | null>(null);
  const [visible, setVisible] = useState([0, 0]);
  const [help, setHelp] = useState(false);
  const [retiring, setRetiring] = useState<Row | null>(null);
  const { marked, mark, clear } = useSelection<string>();
  const [accepting, setAccepting] = useState<Accepting | null>(null);
  const [groups, setGroups] = useState<{ total: number; open: (index: number) => void }>({ total: 0, open: () => undefined });
  const rowAt = useRef<(index: number) => Placed | undefined>(() => undefined);
  const { search, change, words, selected, standing, select, go, find, typed, setTyped } = useRowQuery(shown?.total ?? 0, groups.total);
  const onVisible = useCallback((first: number, last: number) => setVisible([first, last]), []);

  const verdict = search.get("verdict") ?? "";
  const group = search.get("group") ?? "";
  const order = search.get("order") === "address" ? "address" : "worst";
  const cause = search.get("cause") ?? "";
  const filter = search.get("filter") ?? "";
  const by = search.get("by") ?? "";
  const [filtered, number] = filter.split(":");
  const of = cause ? comparison?.standing?.causes.find((one) => one.number === Number(cause))?.title : filter ? `${number === "0" ? "Other" : "One"} ${filtered ?? ""}${number === "0" ? "s" : ` (${number ?? ""})`}` : "";

  function link(row: Placed, index: number) {
    const next = new URLSearchParams(search);
    next.set("row", String(index));
    return `${shownOf(row.check).path(move.id, row)}?${next.toString()}`;
  }

  /** Another order, or the same rows in groups. */
  function arrange(value: string) {
    if (alone && value in groupings(alone)) change({ by: value, order: "", cause: "", filter: "" });
    else change({ by: "", order: value === "address" ? value : "" });
  }

  const key = (row: Placed) => `${row.check.name}:${row.rank}`;

  /** Accept what is open on the marked rows; without marks, on the row where the keyboard stands. */
  function accept() {
    const row = rowAt.current(standing.current);
    const chosen = marked.size ? [...marked] : row ? [key(row)] : [];
    const check = chosen[0]?.split(":")[0];
    if (changes || by || !check) return;
    // One decision is about the rows of one check.
    const rows = chosen.filter((one) => one.startsWith(`${check}:`)).map((one) => Number(one.split(":")[1]));
    const what = marked.size || !row ? "What is open on the marked rows." : (row.left ?? row.right ?? "");
    setAccepting({ number: rows.length, noun: pages ? "page" : "row", what, body: { check: check , rows } });
  }

  useKeys({
    j: () => go(1),
    k: () => go(-1),
    Enter: () => {
      if (by) return groups.open(standing.current);
      const row = rowAt.current(standing.current);
      if (row) void navigate(link(row, standing.current));
    },
    x: () => {
      const row = rowAt.current(standing.current);
      if (row && !changes && !by) mark(key(row));
      go(1);
    },
    a: accept,
    t: () => setRetiring(changes || by || !pages ? null : (rowAt.current(standing.current) ?? null)),
    "/": () => find.current?.focus(),
    "?": () => setHelp(true),
  });

  const source = sourceAlone(framed);
  if (!comparison && pages && source) return <SourceAlone move={move} capture={source} running={framed.captures.some((one) => one.state === "running")} />;
  if (!comparison && framed.latest?.state === "failed")
    return (
      <Notice title="No rows yet.">
        <p role="alert">The comparison could not be made. {framed.latest.why}</p>
      </Notice>
    );
  if (!comparison || !checks.length)
    return (
      <Notice title="No rows yet.">
        <p>Capture both sides first. The ledger stands here as soon as they are compared.</p>
      </Notice>
    );

  // Each check under its heading, or each group of one.
  const parts = alone?.group_headings
    ? alone.groups.filter((one) => one.rows).map((one) => ({ check: alone, title: one.group, group: one.group }))
    : checks.map((check) => ({ check, title: pages ? undefined : check.title, group }));
  const total = shown?.total ?? 0;
  const all = alone ? alone.verdicts.reduce((sum, one) => sum + (shown?.counts[one.word] ?? 0), 0) : checks.reduce((sum, one) => sum + one.rows, 0);
  const wants = checks.flatMap((one) => one.verdicts).reduce((sum, one) => sum + (one.wants ? one.rows : 0), 0);
  const keys = KEYS.filter((line) => (by ? GROUP_KEYS.includes(line.does) : pages || line.does !== "retire with a reason"));
  return (
    <>
      <h1 className="sr-only">{VIEWS.find(([name]) => name === view)?.[1] ?? view}</h1>
      <FacingHead comparison={comparison} />
      {changes ? (
        <p className="border-edge border-b px-6 py-2.5 font-serif text-[17px]">
          {changes.sentence} <span className="text-soft font-sans text-[14px]">{changes.summary}</span>
        </p>
      ) : null}
      {checks
        .flatMap((one) => one.unseen)
        .map((said) => (
          <p key={said} className="border-edge text-soft border-b px-6 py-1.5 text-[14px]">
            Not looked at: {said}.
          </p>
        ))}
      <div className="flex shrink-0 flex-wrap items-center gap-2 px-6 py-2.5" role="search">
        {by ? (
          <p className="text-soft">Each row opens the rows that belong together.</p>
        ) : marked.size ? (
          <>
            <Button onClick={accept}>Accept {marked.size === 1 ? "the marked one" : `the ${marked.size.toLocaleString("en")} marked ones`}</Button>
            <button type="button" className="px-2 underline underline-offset-2" onClick={clear}>
              Unmark
            </button>
          </>
        ) : (
          <>
            <Chip name="All" number={all} on={!verdict} onClick={() => change({ verdict: "" })} />
            {alone ? (
              alone.verdicts.filter((one) => pages || one.rows > 0).map((one) => (
                <Chip key={one.word} name={one.label} number={shown?.counts[one.word] ?? 0} on={verdict === one.word} onClick={() => change({ verdict: one.word })} />
              ))
            ) : (
              <Chip name="Want a person" number={wants} on={verdict === "wanting"} onClick={() => change({ verdict: "wanting" })} />
            )}
          </>
        )}
        {of ? (
          <button
            type="button"
            className="border-ink bg-leaf h-[34px] max-w-[250px] truncate rounded-[3px] border-2 px-2"
            title="Show all rows again"
            onClick={() => change({ cause: "", filter: "" })}
          >
            {of} <span aria-label="remove">×</span>
          </button>
        ) : null}
        <span className="ml-auto" />
        {!changes && (framed.latest?.state === "waiting" || comparison.id === framed.latest?.id) && checks.some((one) => one.asks) ? <AskAnew framed={framed} /> : null}
        {changes ? null : checks.filter((one) => one.options).map((one, _, all) => <Options key={one.name} move={move.id} comparison={comparison.id} check={one} named={all.length > 1} />)}
        {by || of || !alone?.groups_label ? null : (
          <Pick label={alone.groups_label} value={group} onPick={(value) => change({ group: value })} className="w-[124px]">
            <option value="">{alone.groups_label}: all</option>
            {alone.groups.map((one) => (
              <option key={one.group} value={one.group}>
                {one.group} ({one.rows.toLocaleString("en")})
              </option>
            ))}
          </Pick>
        )}
        <Pick label="Order" value={by || order} onPick={arrange}>
          <option value="worst">Worst first</option>
          <option value="address">By address</option>
          {Object.entries(alone ? groupings(alone) : {}).map(([name, said]) => (
            <option key={name} value={name}>
              {said}
            </option>
          ))}
        </Pick>
        {by ? null : <Find label={alone || pages ? shownOf(alone).find : "Find in these rows"} at={find} value={typed} onType={setTyped} />}
      </div>
      {by && alone ? (
        <Groups
          comparison={comparison}
          check={alone}
          move={move.id}
          by={by}
          selected={selected}
          onSelect={select}
          onTotal={(found, open) => {
            if (found !== groups.total) setGroups({ total: found, open });
          }}
        />
      ) : (
        <Ledger<Placed>
          parts={parts.map(
            ({ check, title, group }): Part<Placed> => ({
              name: [comparison.id, cause ? comparison.judgement : 0, check.name, verdict, group, cause, filter, words, order],
              title,
              ask: async (first, rows) => {
                const page = await data(
                  api.GET("/api/comparisons/{id}/checks/{check}/rows/", {
                    params: {
                      path: { id: comparison.id, check: check.name },
                      query: {
                        verdict: verdict || undefined,
                        group: group || undefined,
                        cause: cause ? Number(cause) : undefined,
                        filter: filter || undefined,
                        find: words || undefined,
                        order,
                        first,
                        rows,
                      },
                    },
                  }),
                );
                return { ...page, rows: page.rows.map((row) => ({ ...row, check })) } as Page<Placed>;
              },
            }),
          )}
          mark={(row) =>
            changes || !shownOf(row.check).marks(row) ? undefined : { on: marked.has(key(row)), label: `Mark ${row.left ?? row.right ?? ""}`, onMark: () => mark(key(row)) }
          }
          selected={selected}
          onSelect={select}
          link={link}
          left={(row) => shownOf(row.check).left(row, comparison, row.check)}
          mid={(row) => shownOf(row.check).mid(row, row.check)}
          right={(row) => shownOf(row.check).right(row, comparison, row.check)}
          onPages={(found, at) => {
            rowAt.current = at;
            const sum = found.reduce((one, page) => one + page.total, 0);
            const counts = alone?.group_headings ? added(found.map((page) => page.counts)) : (found[0]?.counts ?? {});
            if (sum !== shown?.total || !same(counts, shown.counts)) setShown({ total: sum, at_least: found.some((page) => page.at_least), counts });
          }}
          onWaiting={() => {
            rowAt.current = () => undefined;
          }}
          onVisible={onVisible}
          empty={
            <>
              <p className="mb-2 font-serif text-[17px]">No row fits.</p>
              <button type="button" className="underline" onClick={() => change({ verdict: "", group: "", cause: "", filter: "", find: "" })}>
                Show all rows
              </button>
            </>
          }
        />
      )}
      <KeyFoot
        lines={keys}
        said={
          total && !by
            ? `rows ${((visible[0] ?? 0) + 1).toLocaleString("en")} to ${Math.min((visible[1] ?? 0) + 1, total).toLocaleString("en")} of ${shown?.at_least ? "more than " : ""}${total.toLocaleString("en")}, ${order === "address" ? "by address" : "worst first"}`
            : ""
        }
      >
        <ExportRows comparison={comparison.id} checks={checks} />
      </KeyFoot>
      <KeyList lines={keys} open={help} onClose={() => setHelp(false)} />
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

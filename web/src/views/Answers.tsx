/** What a capture asked and what it gave, while it runs and afterwards. */
import { useCallback, useEffect, useRef, useState } from "react";
import { Link, useNavigate, useParams } from "react-router";

import { api, data, type Row, type Schemas } from "../api/client";
import { ExportLinks } from "../parts/ExportLinks";
import { Chip, Find } from "../parts/RowFilters";
import { KeyFoot, KeyList, type KeyLine } from "../parts/Keys";
import { Ledger, type Page } from "../parts/Ledger";
import type { Framed } from "../parts/MoveFrame";
import { Failed } from "../parts/Notice";
import { Thread, THREAD_INK } from "../parts/Thread";
import { bytes, host, moment, within } from "../lib/format";
import { useKeys } from "../lib/keys";
import { holdsPages } from "../lib/queries";
import { useRowQuery } from "../lib/rowQuery";

type Verdict = Schemas["Verdict"];
type Found = Page<Row> & { verdicts: Verdict[] };

const LIVE = 3_000;
const KEYS: KeyLine[] = [
  { keys: ["J", "K"], does: "move" },
  { keys: ["/"], does: "find" },
  { keys: ["Esc"], does: "back to the captures" },
  { keys: ["?"], does: "all keys" },
];
/** What a filter of the address chooses, in words. */
const FILTERS: Record<string, string> = {
  known: "Known addresses",
  answered: "What answered",
  pages: "All pages",
  unlinked: "Linked from nowhere",
  status: "Status",
  recognised: "Recognised",
  by: "Known in one way",
  reason: "Not fetched:",
  type: "Of the type",
};

export function Answers({ framed }: { framed: Framed }) {
  const { move, captures, asked } = framed;
  const id = Number(useParams().capture);
  const capture = [...captures, ...asked].find((one) => one.id === id);
  const live = capture !== undefined && capture.state !== "closed";
  const navigate = useNavigate();
  const [shown, setShown] = useState<Found | null>(null);
  const [visible, setVisible] = useState([0, 0]);
  const [help, setHelp] = useState(false);
  // A capture that runs is read again every few seconds.
  const [tick, setTick] = useState(0);
  useEffect(() => {
    if (!live) return;
    const timer = setInterval(() => setTick((before) => before + 1), LIVE);
    return () => clearInterval(timer);
  }, [live]);
  const { search, change, words, selected, select, go, find, typed, setTyped } = useRowQuery(shown?.total ?? 0);
  const rowAt = useRef<(index: number) => Row | undefined>(() => undefined);
  const onVisible = useCallback((first: number, last: number) => setVisible([first, last]), []);
  const verdict = search.get("verdict") ?? "";
  const filter = search.get("filter") ?? "";
  const [name = "", value = ""] = filter.split(/:(.*)/s);
  const back = `/moves/${move.id}/captures`;

  useKeys({
    j: () => go(1),
    k: () => go(-1),
    "/": () => find.current?.focus(),
    Escape: () => void navigate(back),
    "?": () => setHelp(true),
  });

  if (!capture) return <Failed error={new Error("There is no such capture.")} />;
  const base = capture.side === "source" ? move.source.base : move.destination.base;
  const of = (word: string) => shown?.verdicts.find((one) => one.word === word);
  const all = shown?.verdicts.reduce((sum, one) => sum + one.rows, 0) ?? 0;
  const total = shown?.total ?? 0;
  return (
    <>
      <div className="bg-leaf border-edge flex shrink-0 items-baseline gap-3 border-b px-6 py-2.5">
        <h1 className="text-[20px]">
          What {host(base)} answered{live ? " so far" : ""}
        </h1>
        <p className="text-soft text-[14px]">
          {capture.baseline ? "Baseline" : capture.round ? `Round ${capture.round}` : !holdsPages(capture) ? "Asked for the checks," : `Capture of the ${capture.side}`} {holdsPages(capture) ? "of " : ""}{moment(capture.started_at)}
        </p>
      </div>
      <div className="flex shrink-0 flex-wrap items-center gap-2 px-6 py-2.5" role="search">
        <Chip name="All" number={all} on={!verdict} onClick={() => change({ verdict: "" })} />
        {shown?.verdicts
          .filter((one) => one.rows > 0 || one.word === verdict)
          .map((one) => <Chip key={one.word} name={one.label} number={one.rows} on={verdict === one.word} onClick={() => change({ verdict: one.word })} />)}
        {filter ? (
          <button type="button" className="border-ink bg-leaf h-[34px] max-w-[300px] truncate rounded-[3px] border-2 px-2" title="Show all again" onClick={() => change({ filter: "" })}>
            {FILTERS[name] ?? name} {name === "status" || name === "reason" || name === "type" ? value : ""} <span aria-label="remove">×</span>
          </button>
        ) : null}
        <span className="ml-auto" />
        <Find label="Find an address or title" at={find} value={typed} onType={setTyped} />
      </div>
      <Ledger<Row>
        parts={[
          {
            name: ["answers", id, verdict, filter, words, live ? tick : "closed"],
            ask: (first, rows) =>
              data(
                api.GET("/api/captures/{id}/answers/", {
                  params: { path: { id }, query: { verdict: verdict || undefined, filter: filter || undefined, find: words || undefined, first, rows } },
                }),
              ) as Promise<Page<Row>>,
          },
        ]}
        selected={selected}
        onSelect={select}
        link={(_, index) => `?${new URLSearchParams({ ...Object.fromEntries(search), row: String(index) }).toString()}`}
        left={(row) => (
          <span title={`${row.left ?? ""}${row.left_note ? `\n${row.left_note}` : ""}`}>
            <span className="font-mono text-[14px]">{within(row.left ?? "", base)}</span>
            <span className="text-soft ml-2 text-[14px]">{row.left_note}</span>
          </span>
        )}
        mid={(row) => <Thread shape={of(row.verdict)?.thread ?? "straight"} label={of(row.verdict)?.label ?? row.verdict} />}
        right={(row) => (
          <span className="text-[14px]" title={row.right_note}>
            <b className={THREAD_INK[of(row.verdict)?.thread ?? "straight"]}>{row.right || (of(row.verdict)?.label ?? "")}</b>
            {(row.numbers.bytes ?? -1) >= 0 ? (
              <span className="text-soft ml-2">
                {bytes(row.numbers.bytes ?? 0)}, {(row.numbers.milliseconds ?? 0).toLocaleString("en")} ms
              </span>
            ) : null}
            <span className="ml-2">{row.right_note}</span>
          </span>
        )}
        onPages={(pages, at) => {
          rowAt.current = at;
          const found = pages[0] as Found;
          if (found !== shown) setShown(found);
        }}
        onVisible={onVisible}
        empty={
          <>
            <p className="mb-2 font-serif text-[17px]">{live ? "Nothing of this kind so far." : "No answer fits."}</p>
            <button type="button" className="underline" onClick={() => change({ verdict: "", filter: "", find: "" })}>
              Show all answers
            </button>
          </>
        }
      />
      <KeyFoot
        lines={KEYS}
        said={total ? `${((visible[0] ?? 0) + 1).toLocaleString("en")} to ${Math.min((visible[1] ?? 0) + 1, total).toLocaleString("en")} of ${total.toLocaleString("en")}, by address` : ""}
      >
        all as
        <ExportLinks path={`/api/captures/${id}/answers/export/`} formats={["csv", "json"]} />{" "}
        <Link className="text-ink ml-4 underline" to={back}>
          Back to the captures
        </Link>
      </KeyFoot>
      <KeyList lines={KEYS} open={help} onClose={() => setHelp(false)} />
    </>
  );
}

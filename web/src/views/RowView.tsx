/** A row of a check, opened: what stands on both sides, what is open on it, and what it stands for. */
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate, useParams, useSearchParams } from "react-router";

import { api, data } from "../api/client";
import { PAGES } from "../checks/pages";
import { AddLine } from "../parts/AddLine";
import { Accept, type Accepting } from "../parts/Accept";
import { Button } from "../parts/Button";
import { FacingHead } from "../parts/FacingHead";
import { FoundList } from "../parts/FoundList";
import { KeyFoot, KeyList, type KeyLine } from "../parts/Keys";
import type { Framed } from "../parts/MoveFrame";
import { Failed, Loading } from "../parts/Notice";
import { Thread, THREAD_INK, verdictOf } from "../parts/Thread";
import { count } from "../lib/format";
import { lineIn } from "../lib/rule";
import { useKeys } from "../lib/keys";

const PAGE = 200;
const KEYS: KeyLine[] = [
  { keys: ["N", "P"], does: "next, previous" },
  { keys: ["A"], does: "accept with a reason" },
  { keys: ["Esc"], does: "back to the rows" },
  { keys: ["?"], does: "all keys" },
];

export function RowView({ framed }: { framed: Framed }) {
  const { move, comparison } = framed;
  const { check: name = "", rank: text = "0" } = useParams();
  const rank = Number(text);
  const [search] = useSearchParams();
  const navigate = useNavigate();
  const [help, setHelp] = useState(false);
  const [first, setFirst] = useState(0);
  const [accepting, setAccepting] = useState<Accepting | null>(null);
  const check = comparison?.checks.find((one) => one.name === name);
  const id = comparison?.id ?? 0;
  const path = { id, check: name  };
  const row = useQuery({
    queryKey: ["row", id, name, rank],
    queryFn: async () => (await data(api.GET("/api/comparisons/{id}/checks/{check}/rows/", { params: { path, query: { first: rank, rows: 1 } } }))).rows[0] ?? null,
    enabled: check !== undefined,
  });
  const findings = useQuery({
    queryKey: ["row-findings", id, comparison?.judgement, name, rank],
    queryFn: () => data(api.GET("/api/comparisons/{id}/findings/", { params: { path: { id }, query: { check: path.check, row: rank, rows: 50 } } })),
    enabled: check !== undefined,
  });
  const items = useQuery({
    queryKey: ["items", id, name, rank, first],
    queryFn: () => data(api.GET("/api/comparisons/{id}/checks/{check}/rows/{rank}/items/", { params: { path: { ...path, rank }, query: { first, rows: PAGE } } })),
    enabled: check !== undefined,
  });
  const pages = comparison?.checks.find((one) => one.name === "pages");
  const view = check?.view ?? "pages";
  const back = `/moves/${move.id}/${view}?${search.toString()}`;
  const open = (findings.data?.rows ?? []).filter((one) => one.state === "open");

  function accept() {
    if (open.length) setAccepting({ number: open.length, what: row.data?.left_note ?? row.data?.left ?? "", body: { check: path.check, rows: [rank] } });
  }

  function step(by: number) {
    const next = rank + by;
    if (!check || next < 0 || next >= check.rows) return;
    setFirst(0);
    void navigate(`/moves/${move.id}/rows/${name}/${next}?${search.toString()}`, { replace: true });
  }

  useKeys({
    n: () => step(1),
    p: () => step(-1),
    a: accept,
    Escape: () => void navigate(back),
    "?": () => setHelp(true),
  });

  if (!comparison || !check) return <Failed error={new Error("This was not looked at in the latest comparison.")} />;
  if (row.error) return <Failed error={row.error} again={() => void row.refetch()} />;
  if (row.data === undefined) return <Loading what="the row" />;
  if (row.data === null) return <Failed error={new Error("There is no such row any more.")} />;
  const line = name === "permalinks" ? lineIn(row.data.right_note) : "";
  const { label, shape } = verdictOf(check, row.data.verdict);
  return (
    <>
      <div className="bg-leaf border-edge flex shrink-0 items-center gap-3 border-b px-6 py-2.5">
        <h1 className="truncate text-[17px]">
          {check.title}
          {row.data.left_note ? `: ${row.data.left_note}` : ""}
        </h1>
        <b className={THREAD_INK[shape]}>{label}</b>
        <span className="ml-auto" />
        {open.length ? <Button onClick={accept}>Accept {open.length === 1 ? "the finding" : `the ${open.length} findings`}</Button> : null}
      </div>
      <FacingHead comparison={comparison} mid={`row ${(rank + 1).toLocaleString("en")}`} />
      <div className="min-h-0 flex-1 overflow-y-auto [scrollbar-gutter:stable]" tabIndex={0} role="region" aria-label="The row">
        <div className="facing bg-leaf border-edge border-b">
          <pre className="left py-3 font-mono text-[13px] break-words whitespace-pre-wrap">{row.data.left ?? "nothing"}</pre>
          <div className="mid py-1">
            <Thread shape={shape} label={label} />
          </div>
          <div className="right py-3">
            <pre className="font-mono text-[13px] break-words whitespace-pre-wrap">{row.data.right ?? "nothing"}</pre>
            <p className={`text-[14px] ${THREAD_INK[shape]}`}>{row.data.right_note}</p>
          </div>
        </div>
        {line ? (
          <section className="border-edge space-y-2 border-b px-6 py-3 text-[14px]">
            <AddLine framed={framed} line={line} />
          </section>
        ) : null}
        <FoundList rows={findings.data?.rows ?? []} move={move.id} />
        {items.data?.total ? (
          <section className="px-6 py-3">
            <h2 className="mb-1 text-[15px]">{items.data.pages.length ? count(items.data.total, "page") : itemCount(check.items, items.data.total)}</h2>
            {items.data.pages.length && pages ? (
              <ul className="border-edge -mx-6 border-t">
                {items.data.pages.map((one, at) => (
                  <li key={first + at}>
                    <Link to={one.rank < 0 ? "" : PAGES.path(move.id, one)} className="facing bg-leaf border-edge h-[34px] items-center border-b max-[899px]:h-[64px]">
                      <span className="left truncate">{PAGES.left(one, comparison, pages)}</span>
                      <span className="mid">{PAGES.mid(one, pages)}</span>
                      <span className="right truncate">{PAGES.right(one, comparison, pages)}</span>
                    </Link>
                  </li>
                ))}
              </ul>
            ) : check.items.includes("destination") ? (
              <ul className="border-edge -mx-6 border-t">
                {items.data.rows.map((one, at) => (
                  <FacingItem key={first + at} item={one} move={move.id} />
                ))}
              </ul>
            ) : (
              <ul className="font-mono text-[13px]">
                {items.data.rows.map((one, at) => (
                  <li key={first + at} className="truncate" title={Object.values(one).join("\n")}>
                    {check.items.map((column) => one[column]).join("  ")}
                  </li>
                ))}
              </ul>
            )}
            {items.data.total > PAGE ? (
              <p className="mt-2 flex gap-3 text-[14px]">
                <button type="button" className="underline disabled:no-underline disabled:opacity-60" disabled={first === 0} onClick={() => setFirst(Math.max(0, first - PAGE))}>
                  Those before
                </button>
                <span className="text-soft">
                  {(first + 1).toLocaleString("en")} to {Math.min(first + PAGE, items.data.total).toLocaleString("en")}
                </span>
                <button
                  type="button"
                  className="underline disabled:no-underline disabled:opacity-60"
                  disabled={first + PAGE >= items.data.total}
                  onClick={() => setFirst(first + PAGE)}
                >
                  Those after
                </button>
              </p>
            ) : null}
          </section>
        ) : null}
      </div>
      <KeyFoot lines={KEYS}>
        <Link to={back} className="text-ink underline">
          Back to the rows
        </Link>
      </KeyFoot>
      <KeyList lines={KEYS} open={help} onClose={() => setHelp(false)} />
      <Accept move={move.id} comparison={comparison.id} chosen={accepting} onDone={() => setAccepting(null)} onClose={() => setAccepting(null)} />
    </>
  );
}

function itemCount(columns: string[], total: number): string {
  const noun = columns.includes("destination") ? "item" : (columns[0] ?? "item");
  return count(total, noun, noun === "address" ? "addresses" : `${noun}s`);
}

/** What a row stands for, on both sides, with what is said of it; it leads to its page where it has one. */
function FacingItem({ item, move }: { item: Record<string, string>; move: number }) {
  const said = item.source && item.destination ? item.what : item.source ? item.what || "missing" : item.what || "only here";
  return (
    <li className="facing bg-leaf border-edge min-h-[34px] items-center border-b text-[14px]" title={Object.values(item).filter(Boolean).join("\n")}>
      <span className="left flex items-baseline gap-3 py-1">
        <span className="min-w-0 flex-1 truncate">{item.source}</span>
        {item.page ? (
          <Link className="shrink-0 font-mono text-[13px] underline underline-offset-2" to={`/moves/${move}/pages?find=${encodeURIComponent(item.page)}`}>
            {item.page.length > 40 ? `${item.page.slice(0, 39)}…` : item.page}
          </Link>
        ) : null}
      </span>
      <span className="mid" />
      <span className="right flex items-baseline gap-3 py-1">
        <span className="min-w-0 truncate">{item.destination}</span>
        <span className={`min-w-0 flex-1 truncate ${item.destination ? "text-ochre" : "text-madder"}`}>{said}</span>
      </span>
    </li>
  );
}

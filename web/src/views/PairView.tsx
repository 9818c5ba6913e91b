/** A pair, opened from its row: both answers facing, head fields, text. */
import { useQuery } from "@tanstack/react-query";
import { Tabs } from "radix-ui";
import { useLayoutEffect, useRef, useState } from "react";
import { Link, useNavigate, useParams, useSearchParams } from "react-router";

import { api, data, type Finding, type Pair, type Row } from "../api/client";
import { Accept } from "../parts/Accept";
import { CheckNow } from "../parts/CheckNow";
import { FacingHead } from "../parts/FacingHead";
import { FoundList } from "../parts/FoundList";
import { KeyFoot, KeyList, type KeyLine } from "../parts/Keys";
import type { Framed } from "../parts/MoveFrame";
import { Failed, Loading } from "../parts/Notice";
import { Expect, type Meant } from "../parts/Expect";
import { PairByHand } from "../parts/PairByHand";
import { Answers } from "../parts/pair/Answers";
import { DifferenceMap, useDifferences } from "../parts/pair/Differences";
import { Fields } from "../parts/pair/Fields";
import { Reading } from "../parts/pair/Reading";
import { References } from "../parts/pair/References";
import { Stored } from "../parts/pair/Stored";
import { TABS, tabOf } from "../parts/pair/tabs";
import { TabList } from "../parts/pair/Tabs";
import { Retire } from "../parts/Retire";
import { isWaved } from "../checks/pages";
import { Thread, THREAD_INK, verdictOf } from "../parts/Thread";
import { bytes, path, within } from "../lib/format";
import { useKeys } from "../lib/keys";

const KEYS: KeyLine[] = [
  { keys: ["N", "P"], does: "next, previous" },
  { keys: ["D"], does: "next difference" },
  { keys: ["1–6"], does: "reading to stored" },
  { keys: ["E"], does: "expect" },
  { keys: ["A"], does: "accept" },
  { keys: ["?"], does: "all keys" },
];
const MORE_KEYS: KeyLine[] = [
  { keys: ["Shift", "D"], does: "previous difference" },
  { keys: ["U"], does: "undo your last decision" },
  { keys: ["M"], does: "match by hand" },
  { keys: ["T"], does: "retire with a reason" },
  { keys: ["Esc"], does: "back to where you came from" },
];
/** Fields that have a tab of their own, where they are told one by one, or that the text below tells. */
const OF_OTHER_TABS: Finding["kind"][] = ["headings"];

export function PairView({ framed }: { framed: Framed }) {
  const { move, comparison } = framed;
  const rank = Number(useParams().rank);
  const [search, setSearch] = useSearchParams();
  const navigate = useNavigate();
  const [help, setHelp] = useState(false);
  const [retiring, setRetiring] = useState(false);
  const [matching, setMatching] = useState(false);
  const [meant, setMeant] = useState<Meant | null>(null);
  const [accepting, setAccepting] = useState(false);
  const scroll = useRef<HTMLDivElement>(null);
  const tab = tabOf(search);
  const id = comparison?.id ?? 0;
  const pair = useQuery({
    queryKey: ["pair", id, rank],
    queryFn: () => data(api.GET("/api/comparisons/{id}/pages/{rank}/", { params: { path: { id, rank } } })),
    enabled: comparison !== null,
  });
  const found = useQuery({
    queryKey: ["row-findings", id, comparison?.judgement, "pages", rank],
    queryFn: () => data(api.GET("/api/comparisons/{id}/findings/", { params: { path: { id }, query: { check: "pages", row: rank, rows: 50 } } })),
    enabled: comparison !== null,
  });
  const from = search.get("from") ?? "";
  const findings = `/moves/${move.id}/findings`;
  const back = {
    finding: `${findings}/${search.get("finding") ?? ""}?${new URLSearchParams({ of_findings: search.get("of_findings") ?? "", row: search.get("row") ?? "" }).toString()}`,
    findings: `${findings}${search.get("of_findings") ?? ""}`,
  }[from] ?? `/moves/${move.id}/pages?${search.toString()}`;

  const differences = useDifferences(scroll);
  const { open } = differences;
  const loaded = pair.data?.row.rank === rank && found.data !== undefined;
  useLayoutEffect(() => {
    if (scroll.current) scroll.current.scrollTop = 0;
    if (loaded && tab === "reading") open();
  }, [rank, tab, loaded, open]);

  function show(name: string) {
    const next = new URLSearchParams(search);
    if (name === "reading") next.delete("tab");
    else next.set("tab", name);
    setSearch(next, { replace: true });
  }

  /** Accept what is open on this page, if anything is. */
  function accept() {
    // Of what other pages show as well the page's share is accepted; what so many share that it alters none is not.
    if (found.data?.rows.some((one) => one.state === "open")) setAccepting(true);
  }

  /** Go to the next or the previous row of what was chosen in the ledger, or in the findings. */
  async function step(by: number) {
    if (search.get("from") === "findings") return stepFinding(by);
    if (search.get("from") === "finding") return stepPage(by);
    const at = Number(search.get("row") ?? 0) + by;
    if (at < 0) return;
    const found = await data(
      api.GET("/api/comparisons/{id}/checks/{check}/rows/", {
        params: {
          path: { id, check: "pages" },
          query: {
            verdict: search.get("verdict") ?? undefined,
            group: search.get("group") ?? undefined,
            cause: search.get("cause") ? Number(search.get("cause")) : undefined,
            filter: search.get("filter") ?? undefined,
            find: search.get("find") ?? undefined,
            order: search.get("order") === "address" ? "address" : "worst",
            first: at,
            rows: 1,
          },
        },
      }),
    );
    const row = found.rows[0];
    if (!row) return;
    const next = new URLSearchParams(search);
    next.set("row", String(at));
    await navigate(`/moves/${move.id}/pages/${row.rank}?${next.toString()}`, { replace: true });
  }

  /** Go to the next or the previous of the pages that show a finding. */
  async function stepPage(by: number) {
    const at = Number(search.get("row") ?? 0) + by;
    if (at < 0) return;
    const found = await data(
      api.GET("/api/comparisons/{id}/findings/{number}/pages/", { params: { path: { id, number: Number(search.get("finding")) }, query: { first: at, rows: 1 } } }),
    );
    const one = found.pages[0];
    if (!one) return;
    const next = new URLSearchParams(search);
    next.set("row", String(at));
    await navigate(`/moves/${move.id}/pages/${one.rank}?${next.toString()}`, { replace: true });
  }

  async function stepFinding(by: number) {
    const chosen = new URLSearchParams(search.get("of_findings") ?? "");
    let at = Number(chosen.get("row") ?? 0) + by;
    // Several findings stand on one page, and cleared ones on none that is shown.
    for (; at >= 0; at += by) {
      // The row of the address is where the person stands in the list, and no choice of findings.
      const query = { ...Object.fromEntries(chosen), row: undefined, state: chosen.get("state") ?? "open", first: at, rows: 1 };
      const found = await data(api.GET("/api/comparisons/{id}/findings/", { params: { path: { id }, query: query as never } }));
      const one = found.rows[0];
      if (!one) return;
      if (one.row === null || one.check !== "pages" || one.row === rank) continue;
      chosen.set("row", String(at));
      const next = new URLSearchParams(search);
      next.set("of_findings", `?${chosen.toString()}`);
      await navigate(`/moves/${move.id}/pages/${one.row}?${next.toString()}`, { replace: true });
      return;
    }
  }

  useKeys({
    n: () => void step(1),
    p: () => void step(-1),
    t: () => setRetiring(true),
    e: () => {
      const differs = pair.data?.fields.find((field) => field.verdict === "differs");
      const address = pair.data?.row.left;
      if (!address) return;
      if (differs) setMeant({ kind: differs.kind, label: differs.name, address });
      else if (pair.data?.paragraphs.some((one) => one.said)) setMeant({ kind: "text", label: "text", address });
    },
    a: accept,
    d: () => differences.go(1),
    D: () => differences.go(-1),
    ...Object.fromEntries(TABS.map(([name], index) => [String(index + 1), () => show(name)])),
    m: () => setMatching(pair.data?.row.left != null),
    Escape: () => void navigate(back),
    "?": () => setHelp(true),
  });

  const ours = pair.data?.row.left != null && comparison?.left.side === "source";
  if (!comparison) return <Failed error={new Error("There is no comparison yet.")} />;
  if (pair.error) return <Failed error={pair.error} again={() => void pair.refetch()} />;
  if (!pair.data) return <Loading what="the pair" />;
  const { row, fields } = pair.data;
  const verdict = verdictOf(comparison.checks.find((one) => one.name === "pages"), row.verdict);
  const told = fields.filter((field) => field.verdict !== "not there");
  const unlike = told.filter((field) => field.verdict === "differs" && !OF_OTHER_TABS.includes(field.kind));
  return (
    <Tabs.Root value={tab} onValueChange={show} className="flex min-h-0 flex-1 flex-col">
      <div className="bg-leaf border-edge flex shrink-0 items-center gap-3 border-b px-6 pt-2.5 max-[899px]:flex-wrap max-[899px]:gap-x-3 max-[899px]:gap-y-0 max-[899px]:px-4">
        <h1 className="max-w-[30%] shrink-0 truncate pb-2 max-[899px]:max-w-full font-mono text-[16px] font-semibold" title={row.left ?? row.right ?? ""}>
          <bdi>{path(row.left ?? row.right ?? "")}</bdi>
        </h1>
        <p className="min-w-0 truncate pb-2 max-[899px]:w-full" title={row.right_note}>
          <b className={THREAD_INK[verdict.shape]}>{verdict.label}</b> <span className="text-[14px]">{row.right_note}</span>
        </p>
        <span className="ml-auto max-[899px]:hidden" />
        <TabList />
      </div>
      <FacingHead comparison={comparison} mid={position(search, row)} />
      <div className="relative flex min-h-0 flex-1">
        <div className="bg-leaf min-h-0 flex-1 overflow-y-auto [scrollbar-gutter:stable]" tabIndex={0} role="region" aria-label="The pair" ref={scroll}>
          <Tabs.Content value="reading">
            <div className="facing border-edge border-b">
              <Asked side={pair.data.left} base={comparison.left.base} which="left" />
              <div className="mid">
                <Thread shape={verdict.shape} label={verdict.label} wave={isWaved(row)} />
              </div>
              <Asked side={pair.data.right} base={comparison.right.base} which="right" />
            </div>
            <FoundList rows={found.data?.rows ?? []} move={move.id} />
            <Fields fields={unlike} address={row.left} onMeant={setMeant} />
            <Reading pair={pair.data} comparison={id} onMeant={setMeant} />
          </Tabs.Content>
          <Tabs.Content value="head">
            <Fields fields={told} address={row.left} onMeant={setMeant} />
            {told.length ? null : <p className="text-soft px-6 py-4 text-center">There is no head to compare.</p>}
          </Tabs.Content>
          <Tabs.Content value="links">
            <References key={rank} comparison={comparison} rank={rank} paired={pair.data.found_by !== ""} of="references" />
          </Tabs.Content>
          <Tabs.Content value="forms">
            <References key={rank} comparison={comparison} rank={rank} paired={pair.data.found_by !== ""} of="forms" />
          </Tabs.Content>
          <Tabs.Content value="answer">
            <Answers pair={pair.data} comparison={comparison} />
          </Tabs.Content>
          <Tabs.Content value="stored" className="h-full">
            <Stored key={rank} pair={pair.data} comparison={id} />
          </Tabs.Content>
        </div>
        {tab === "reading" ? <DifferenceMap pane={scroll} shown={pair.data} /> : null}
      </div>
      <KeyFoot lines={KEYS}>
        {ours ? (
          <button type="button" className="text-ink mr-4 underline" onClick={() => setMatching(true)}>
            {pair.data.found_by ? "Change the pair" : "Pair by hand"}
          </button>
        ) : null}
        {ours ? <CheckNow move={move.id} address={row.left ?? ""} label="Check now" /> : null}
        <Link to={back} className="text-ink ml-4 underline">
          {from === "findings" ? "Back to the findings" : from === "finding" ? "Back to the finding" : "Back to the ledger"}
        </Link>
      </KeyFoot>
      <KeyList lines={[...KEYS, ...MORE_KEYS]} open={help} onClose={() => setHelp(false)} />
      <Accept
        move={move.id}
        comparison={id}
        chosen={accepting ? { number: 1, noun: "page", what: path(row.left ?? row.right ?? ""), body: { rows: [rank] } } : null}
        onDone={() => setAccepting(false)}
        onClose={() => setAccepting(false)}
      />
      <Retire move={move.id} row={retiring ? row : null} onClose={() => setRetiring(false)} />
      <Expect key={meant ? meant.kind : ""} move={move.id} comparison={id} meant={meant} onClose={() => setMeant(null)} />
      <PairByHand move={move.id} row={matching ? row : null} paired={pair.data.found_by !== ""} base={comparison.right.base} onClose={() => setMatching(false)} />
    </Tabs.Root>
  );
}

function position(search: URLSearchParams, row: Row): string {
  const at = search.get("row");
  return at === null ? `row ${row.rank + 1}` : `row ${(Number(at) + 1).toLocaleString("en")}`;
}

/** The first line of each page: its address, and what it answered. */
function Asked({ side, base, which }: { side: Pair["left"]; base: string; which: "left" | "right" }) {
  if (!side.address) return <p className={`${which} text-soft py-2 text-[14px]`}>No page on this side.</p>;
  const hops = side.hops.length ? `, after ${side.hops.map((hop) => hop.status).join(", ")}` : "";
  return (
    <div className={`${which} py-2 text-[14px]`}>
      <bdi className="font-mono text-[13px] break-all">{within(side.address, base)}</bdi>
      <p className="text-soft text-[13px]">
        {side.status ? `${side.status}${hops}, ${bytes(side.length)}${side.reason ? `; ${side.reason}` : ""}` : side.reason || "never asked"}
        {side.recognised ? `. ${side.recognised}` : ""}
      </p>
    </div>
  );
}

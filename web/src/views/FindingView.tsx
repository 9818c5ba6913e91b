/** A finding that many pages show: what it is, and those pages facing. */
import { useQuery } from "@tanstack/react-query";
import { useCallback, useRef, useState } from "react";
import { Link, useNavigate, useParams, useSearchParams } from "react-router";

import { api, data, type Row } from "../api/client";
import { PAGES } from "../checks/pages";
import { Accept, type Accepting } from "../parts/Accept";
import { Button } from "../parts/Button";
import { FacingHead } from "../parts/FacingHead";
import { Aside } from "../parts/FoundList";
import { KeyFoot, KeyList, type KeyLine } from "../parts/Keys";
import { Ledger } from "../parts/Ledger";
import type { Framed } from "../parts/MoveFrame";
import { Failed, Loading } from "../parts/Notice";
import { WEIGHT_INK } from "../parts/weights";
import { useRowQuery } from "../lib/rowQuery";
import { count } from "../lib/format";
import { useKeys } from "../lib/keys";

const KEYS: KeyLine[] = [
  { keys: ["J", "K"], does: "move" },
  { keys: ["Enter"], does: "read the pair" },
  { keys: ["A"], does: "accept with a reason" },
  { keys: ["Esc"], does: "back to the findings" },
  { keys: ["?"], does: "all keys" },
];

export function FindingView({ framed }: { framed: Framed }) {
  const { move, comparison } = framed;
  const number = Number(useParams().number);
  const [search] = useSearchParams();
  const navigate = useNavigate();
  const [help, setHelp] = useState(false);
  const [total, setTotal] = useState(0);
  const [visible, setVisible] = useState([0, 0]);
  const [accepting, setAccepting] = useState<Accepting | null>(null);
  const { selected, standing, select, go } = useRowQuery(total);
  const rowAt = useRef<(index: number) => Row | undefined>(() => undefined);
  const onVisible = useCallback((first: number, last: number) => setVisible([first, last]), []);
  const id = comparison?.id ?? 0;
  const finding = useQuery({
    queryKey: ["finding", id, comparison?.judgement, number],
    queryFn: () => data(api.GET("/api/comparisons/{id}/findings/{number}/", { params: { path: { id, number } } })),
    enabled: comparison !== null,
  });
  const back = `/moves/${move.id}/findings${search.get("of_findings") ?? ""}`;
  const check = comparison?.checks.find((one) => one.name === "pages");

  function link(row: Row, index: number) {
    const here = new URLSearchParams({ from: "finding", finding: String(number), row: String(index), of_findings: search.get("of_findings") ?? "" });
    return row.rank < 0 ? `/moves/${move.id}/findings/${number}` : `${PAGES.path(move.id, row)}?${here.toString()}`;
  }

  function accept() {
    const one = finding.data;
    if (one?.state === "open") setAccepting({ number: 1, what: `${one.label}: ${one.detail}`, body: { numbers: [number] } });
  }

  useKeys({
    j: () => go(1),
    k: () => go(-1),
    Enter: () => {
      const row = rowAt.current(standing.current);
      if (row) void navigate(link(row, standing.current));
    },
    a: accept,
    Escape: () => void navigate(back),
    "?": () => setHelp(true),
  });

  if (!comparison || !check) return <Failed error={new Error("There is no comparison yet.")} />;
  if (finding.error) return <Failed error={finding.error} again={() => void finding.refetch()} />;
  if (!finding.data) return <Loading what="the finding" />;
  const one = finding.data;
  return (
    <>
      <div className="bg-leaf border-edge flex shrink-0 items-center gap-3 border-b px-6 py-2.5">
        <h1 className="min-w-0 text-[17px]">
          <b className={`inline-block first-letter:uppercase ${WEIGHT_INK[one.weight]}`}>{one.label}</b> <span className="ml-1">{one.detail}</span>
        </h1>
        <span className="text-soft ml-auto text-[14px] whitespace-nowrap">
          {count(one.pages, "page")} <Aside one={one} />
        </span>
        {one.state === "open" ? <Button onClick={accept}>Accept the finding</Button> : <span className="text-soft text-[14px]">{one.decided_by ? `accepted by ${one.decided_by}: ${one.reason}` : one.state}</span>}
      </div>
      <FacingHead comparison={comparison} />
      <Ledger<Row>
        parts={[
          {
            name: ["pages of finding", id, number],
            ask: async (first, rows) => {
              const page = await data(
                api.GET("/api/comparisons/{id}/findings/{number}/pages/", { params: { path: { id, number }, query: { first, rows } } }),
              );
              return { total: page.total, at_least: false, counts: {}, rows: page.pages as Row[] };
            },
          },
        ]}
        selected={selected}
        onSelect={select}
        link={link}
        left={(row) => PAGES.left(row, comparison, check)}
        mid={(row) => PAGES.mid(row, check)}
        right={(row) => PAGES.right(row, comparison, check)}
        onPages={(pages, at) => {
          rowAt.current = at;
          const found = pages[0]?.total ?? 0;
          if (found !== total) setTotal(found);
        }}
        onVisible={onVisible}
        empty={<p className="font-serif text-[17px]">The pages that show it are not listed.</p>}
      />
      <KeyFoot
        lines={KEYS}
        said={total ? `${((visible[0] ?? 0) + 1).toLocaleString("en")} to ${Math.min((visible[1] ?? 0) + 1, total).toLocaleString("en")} of ${total.toLocaleString("en")}, by address` : ""}
      >
        <Link to={back} className="text-ink underline">
          Back to the findings
        </Link>
      </KeyFoot>
      <KeyList lines={KEYS} open={help} onClose={() => setHelp(false)} />
      <Accept move={move.id} comparison={comparison.id} chosen={accepting} onDone={() => setAccepting(null)} onClose={() => setAccepting(null)} />
    </>
  );
}

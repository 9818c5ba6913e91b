/** Findings by their causes: why they are there, how certain that is, who can mend it. */
import { useCallback, useRef, useState } from "react";
import { useNavigate } from "react-router";

import type { Cause, Comparison, Move } from "../api/client";
import { Accept, type Accepting } from "../parts/Accept";
import { Button } from "../parts/Button";
import { CAUSE_THREAD, CERTAINTY, WHO, people } from "../parts/causes";
import { ExportLinks, TO_DO } from "../parts/ExportLinks";
import { FacingHead } from "../parts/FacingHead";
import { KeyFoot, KeyList, type KeyLine } from "../parts/Keys";
import { Ledger } from "../parts/Ledger";
import { Chip, Pick } from "../parts/RowFilters";
import { Thread } from "../parts/Thread";
import { WEIGHT_INK, WEIGHT_WORDS } from "../parts/weights";
import { useRowQuery } from "../lib/rowQuery";
import { count } from "../lib/format";
import { useKeys } from "../lib/keys";

const KEYS: KeyLine[] = [
  { keys: ["J", "K"], does: "move" },
  { keys: ["Enter"], does: "show its findings" },
  { keys: ["A"], does: "accept all of it with a reason" },
  { keys: ["L"], does: "all findings one by one" },
  { keys: ["U"], does: "undo your last decision" },
  { keys: ["?"], does: "all keys" },
];

export function FindingsByCause({ move, comparison }: { move: Move; comparison: Comparison }) {
  const navigate = useNavigate();
  const [help, setHelp] = useState(false);
  const [accepting, setAccepting] = useState<Accepting | null>(null);
  const every = comparison.standing?.causes ?? [];
  const { search, change, selected, standing, select, go } = useRowQuery(every.length);
  const rowAt = useRef<(index: number) => Cause | undefined>(() => undefined);
  const onVisible = useCallback(() => undefined, []);
  const who = search.get("who") ?? "";
  const causes = who ? every.filter((one) => one.who === who) : every;

  function link(cause: Cause) {
    return `/moves/${move.id}/findings?cause=${cause.number}`;
  }

  useKeys({
    j: () => go(1),
    k: () => go(-1),
    Enter: () => {
      const cause = rowAt.current(standing.current);
      if (cause) void navigate(link(cause));
    },
    a: () => {
      const cause = rowAt.current(standing.current);
      if (cause) setAccepting({ number: cause.findings, what: `${cause.title}.`, body: { cause: cause.number } });
    },
    l: () => change({ list: "all" }),
    "?": () => setHelp(true),
  });

  const number = (state: string) => comparison.findings.filter((one) => one.state === state).reduce((sum, one) => sum + one.number, 0);
  return (
    <>
      <h1 className="sr-only">Findings by cause</h1>
      <FacingHead comparison={comparison} />
      <div className="flex shrink-0 flex-wrap items-center gap-2 px-6 py-2.5" role="search">
        <Chip name="Open" number={number("open")} on onClick={() => change({ list: "all" })} />
        <Chip name="Accepted" number={number("accepted")} on={false} onClick={() => change({ state: "accepted" })} />
        <Chip name="Cleared" number={number("cleared")} on={false} onClick={() => change({ state: "cleared" })} />
        <Pick label="Who can mend it" value={who} onPick={(value) => change({ who: value })} className="ml-3 max-[599px]:ml-0">
          <option value="">Who: all</option>
          {people(every).map(([one, causes]) => (
            <option key={one} value={one}>
              {WHO[one]} ({causes})
            </option>
          ))}
        </Pick>
        <span className="text-soft text-[14px]">
          {count(causes.length, "cause")} of {count(number("open"), "open finding")}
        </span>
        <span className="ml-auto" />
        <Button onClick={() => change({ list: "all" })}>Show findings one by one</Button>
      </div>
      <Ledger<Cause>
        parts={[
          {
            name: ["causes", comparison.id, comparison.judgement, who],
            ask: (first, rows) => Promise.resolve({ total: causes.length, at_least: false, counts: {}, rows: causes.slice(first, first + rows) }),
          },
        ]}
        selected={selected}
        onSelect={select}
        link={link}
        left={(cause) => (
          <span title={`${cause.title}\n${cause.detail}`}>
            <b className={WEIGHT_INK[cause.weight]}>{cause.title}</b> <span className="text-soft ml-1 text-[13px]">{cause.detail}</span>
          </span>
        )}
        mid={(cause) => <Thread shape={CAUSE_THREAD[cause.weight]} label={WEIGHT_WORDS[cause.weight]} />}
        right={(cause) => (
          <span title={cause.remedy}>
            <b>{count(cause.findings, "finding")}</b>
            <span className="text-soft ml-2 text-[13px]">
              {cause.visits ? `${count(cause.visits, "visit")} · ` : ""}
              {CERTAINTY[cause.certainty]} · {WHO[cause.who]}
            </span>
            <span className="ml-2 text-[14px]">{cause.remedy}</span>
          </span>
        )}
        onPages={(_pages, at) => {
          rowAt.current = at;
        }}
        onVisible={onVisible}
        empty={
          <>
            <p className="mb-2 font-serif text-[17px]">Nothing is open: there is no cause to name.</p>
            <button type="button" className="underline" onClick={() => change({ list: "all", who: "" })}>
              Show all findings
            </button>
          </>
        }
      />
      <KeyFoot lines={KEYS} said={count(causes.length, "cause")}>
        to do as
        <ExportLinks path={`/api/comparisons/${comparison.id}/to-do/`} formats={TO_DO} query={{ who }} />; all findings as
        <ExportLinks path={`/api/comparisons/${comparison.id}/findings/export/`} />
      </KeyFoot>
      <KeyList lines={KEYS} open={help} onClose={() => setHelp(false)} />
      <Accept
        move={move.id}
        comparison={comparison.id}
        chosen={accepting}
        onDone={() => setAccepting(null)}
        onClose={() => setAccepting(null)}
      />
    </>
  );
}

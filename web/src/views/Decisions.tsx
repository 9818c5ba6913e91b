/** Decisions: what was decided about a move, by whom and why; each can be revoked. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Link, useSearchParams } from "react-router";

import { api, data, type Schemas } from "../api/client";
import { Button } from "../parts/Button";
import { Chip } from "../parts/RowFilters";
import type { Framed } from "../parts/MoveFrame";
import { Failed, Loading, Notice } from "../parts/Notice";
import { Thread } from "../parts/Thread";
import { count, moment, within } from "../lib/format";

const OVERRIDDEN: Record<string, string> = {
  robots: "robots rules",
  certificate: "certificate",
  baseline: "the baseline",
  weight: "weighed",
};

const DONE: Partial<Record<Schemas["Decision"]["kind"], string>> = { accept: "accepted", expect: "expected", pair: "paired", part: "parted" };

const KINDS: [Schemas["Decision"]["kind"], string][] = [
  ["expect", "Expected"],
  ["accept", "Accepted"],
  ["retire", "Retired"],
  ["pair", "Paired"],
  ["part", "Parted"],
  ["override", "Overridden"],
];

type Decision = Schemas["Decision"];

function about(one: Decision, base: string): string {
  if (one.kind === "accept") return `${count(one.findings, "finding")}${one.says ? ` ${one.says}` : ""}`;
  if (one.kind === "expect") return one.says;
  if (one.kind === "pair" || one.kind === "part") return within(one.left ?? "", base);
  if (one.kind === "override") return one.says || base;
  return one.section || within(one.address ?? "", base);
}

function scope(one: Decision): string {
  if (one.kind === "accept") {
    const until = "As long as they look the same";
    return one.holds && !one.aside ? `${until}; matches nothing any more` : until;
  }
  if (one.kind === "expect") {
    const where = one.section ? `In ${one.section}` : one.address ? `On ${one.address}` : "In the whole move";
    if (!one.holds) return where;
    return one.aside ? where : `${where}; matches nothing any more`;
  }
  if (one.kind === "pair") return `is ${one.right}`;
  if (one.kind === "part") return `is not ${one.right}`;
  if (one.what === "weight") return "Weight of a kind of finding";
  if (one.kind === "override") return `The ${one.side || "source"}`;
  return one.section ? "The whole section" : "One page";
}

export function Decisions({ framed }: { framed: Framed }) {
  const { move } = framed;
  const queries = useQueryClient();
  const [search, setSearch] = useSearchParams();
  const found = useQuery({
    // What each sets aside is told of the latest comparison.
    queryKey: ["decisions", move.id, framed.comparison?.id, framed.comparison?.judgement],
    queryFn: () => data(api.GET("/api/moves/{id}/decisions/", { params: { path: { id: move.id } } })),
  });
  const withdraw = useMutation({
    mutationFn: async (one: Decision) => {
      await api.DELETE("/api/decisions/{id}/", { params: { path: { id: one.id } } });
    },
    onSettled: () =>
      Promise.all([
        queries.invalidateQueries({ queryKey: ["decisions", move.id] }),
        queries.invalidateQueries({ queryKey: ["comparisons", move.id] }),
        queries.invalidateQueries({ queryKey: ["move", move.id] }),
      ]),
  });
  if (found.error) return <Failed error={found.error} again={() => void found.refetch()} />;
  if (!found.data) return <Loading what="the decisions" />;
  if (!found.data.length)
    return (
      <Notice title="Nothing is decided yet.">
        <p>
          A page that is meant to be gone is retired from its row in Pages, with a reason. What was decided is listed here and can be
          revoked.
        </p>
      </Notice>
    );
  const of = KINDS.find(([kind]) => kind === search.get("kind"))?.[0] ?? "";
  const only = Number(search.get("decision") ?? 0);
  const shown = found.data.filter((one) => (only ? one.id === only : !of || one.kind === of));
  return (
    <div className="min-h-0 flex-1 overflow-y-auto [scrollbar-gutter:stable]">
      <h1 className="sr-only">Decisions</h1>
      <div className="flex shrink-0 flex-wrap items-center gap-2 px-6 py-2.5" role="search">
        <Chip name="All" number={found.data.length} on={!of && !only} onClick={() => setSearch({}, { replace: true })} />
        {KINDS.map(([kind, name]) => {
          const number = found.data.filter((one) => one.kind === kind).length;
          return number ? <Chip key={kind} name={name} number={number} on={of === kind} onClick={() => setSearch({ kind }, { replace: true })} /> : null;
        })}
      </div>
      {withdraw.error ? (
        <p role="alert" className="text-madder px-6 py-2 font-semibold">
          {withdraw.error.message}
        </p>
      ) : null}
      <div className="facing bg-leaf border-edge border-b">
        <h2 className="left py-2.5 text-[17px]">What it is about</h2>
        <div className="mid" />
        <h2 className="right py-2.5 text-[17px]">Who decided it, and why</h2>
      </div>
      <ul>
        {shown.toReversed().map((one) => (
          <Line key={one.id} one={one} move={move.id} base={one.side === "destination" ? move.destination.base : move.source.base} busy={withdraw.isPending} onWithdraw={() => withdraw.mutate(one)} />
        ))}
      </ul>
    </div>
  );
}

function Line({ one, move, base, busy, onWithdraw }: { one: Decision; move: number; base: string; busy: boolean; onWithdraw: () => void }) {
  const past = one.holds ? "" : "text-soft";
  return (
    <li className="facing bg-leaf border-edge border-b">
      <div className={`left min-w-0 py-2.5 ${past}`}>
        <p className={`truncate text-[14px] ${one.kind === "expect" || one.kind === "accept" ? "" : "font-mono"}`} title={one.says || one.address || one.section || base}>
          {about(one, base)}
        </p>
        <p className="text-soft truncate text-[13px]" title={scope(one)}>
          {scope(one)}
          {one.aside && one.holds ? (
            <>
              {" · "}
              <Link className="text-ink underline underline-offset-2" to={`/moves/${move}/findings?state=accepted&decision=${one.id}`}>
                {count(one.aside, "finding")} of the last comparison
              </Link>
            </>
          ) : null}
        </p>
      </div>
      <div className="mid flex-col text-[13px] leading-4">
        {one.kind !== "retire" ? (
          <span className={one.holds ? "font-semibold" : "text-soft"}>{DONE[one.kind] ?? OVERRIDDEN[one.what] ?? one.what}</span>
        ) : one.holds ? (
          <Thread shape="dashed" label="Retired" />
        ) : null}
        {one.holds ? null : <span className="text-soft">revoked or past</span>}
      </div>
      <div className={`right flex items-start gap-3 py-2.5 ${past}`}>
        <div className="min-w-0 flex-1">
          <p className="break-words">{one.reason}</p>
          <p className="text-soft text-[13px]">
            {one.author}, {moment(one.made_at)}
            {one.ends_at ? `, until ${moment(one.ends_at)}` : ""}
          </p>
        </div>
        {one.holds && one.what !== "baseline" ? (
          <Button disabled={busy} onClick={onWithdraw}>
            Revoke
          </Button>
        ) : null}
      </div>
    </li>
  );
}

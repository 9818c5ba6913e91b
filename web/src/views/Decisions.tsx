/** Decisions: what was decided about a move, by whom and why; each can be taken back. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";

import { api, data, type Schemas } from "../api/client";
import { Button } from "../parts/Button";
import type { Framed } from "../parts/MoveFrame";
import { Failed, Loading, Notice } from "../parts/Notice";
import { Thread } from "../parts/Thread";
import { moment, within } from "../lib/format";

const OVERRIDDEN: Record<string, string> = { robots: "robots rules", certificate: "certificate", baseline: "the baseline" };

type Decision = Schemas["Decision"];

export function Decisions({ framed }: { framed: Framed }) {
  const { move } = framed;
  const queries = useQueryClient();
  const found = useQuery({
    queryKey: ["decisions", move.id],
    queryFn: () => data(api.GET("/api/moves/{id}/decisions/", { params: { path: { id: move.id } } })),
  });
  const withdraw = useMutation({
    mutationFn: async (one: Decision) => {
      await api.DELETE("/api/decisions/{id}/", { params: { path: { id: one.id } } });
      if (framed.comparison && one.kind === "retire") await api.POST("/api/moves/{id}/comparisons/", { params: { path: { id: move.id } }, body: {} });
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
          taken back.
        </p>
      </Notice>
    );
  return (
    <div className="min-h-0 flex-1 overflow-y-auto">
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
        {found.data.toReversed().map((one) => (
          <Line key={one.id} one={one} base={one.side === "destination" ? move.destination.base : move.source.base} busy={withdraw.isPending} onWithdraw={() => withdraw.mutate(one)} />
        ))}
      </ul>
    </div>
  );
}

function Line({ one, base, busy, onWithdraw }: { one: Decision; base: string; busy: boolean; onWithdraw: () => void }) {
  const past = one.holds ? "" : "text-soft";
  return (
    <li className="facing bg-leaf border-edge border-b">
      <div className={`left min-w-0 py-2.5 ${past}`}>
        <p className="truncate font-mono text-[14px]" title={one.address || one.section || base}>
          {one.kind === "override" ? base : one.section || within(one.address ?? "", base)}
        </p>
        <p className="text-soft text-[13px]">{one.kind === "override" ? `The ${one.side || "source"}` : one.section ? "The whole section" : "One page"}</p>
      </div>
      <div className="mid flex-col text-[13px] leading-4">
        {one.kind === "override" ? (
          <span className={one.holds ? "font-semibold" : "text-soft"}>{OVERRIDDEN[one.what] ?? one.what}</span>
        ) : one.holds ? (
          <Thread fate="retired" />
        ) : null}
        {one.holds ? null : <span className="text-soft">holds no more</span>}
      </div>
      <div className={`right flex items-start gap-3 py-2.5 ${past}`}>
        <div className="min-w-0 flex-1">
          <p className="break-words">{one.reason}</p>
          <p className="text-soft text-[13px]">
            {one.author}, {moment(one.made_at)}
          </p>
        </div>
        {one.holds && one.what !== "baseline" ? (
          <Button disabled={busy} onClick={onWithdraw}>
            Take it back
          </Button>
        ) : null}
      </div>
    </li>
  );
}

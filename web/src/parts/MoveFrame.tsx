/** The frame of a move's views: head, line of contents, and what is being captured. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, type ReactNode } from "react";
import { NavLink, useParams, useSearchParams } from "react-router";

import { api, data, type Capture, type Comparison, type Move } from "../api/client";
import { holdsPages, isOpen, useCaptures, useComparison, useMove, useOneComparison } from "../lib/queries";
import { appears, VIEWS, wanting } from "../lib/views";
import { Button } from "./Button";
import { Head } from "./Head";
import { Failed, isGone, Loading, Stale } from "./Notice";
import { Stages } from "./Stages";
import { Undo } from "./Undo";
import { ViewBoundary } from "./ViewBoundary";

export const KIND_WORDS: Record<string, string> = {
  host: "new host",
  name: "new host, new name",
  restore: "restored under the same name",
  folder: "new folder",
  scheme: "HTTP to HTTPS",
};

export type Framed = {
  move: Move;
  /** Those that hold pages; what belongs to the sets of them stands in their members. */
  captures: Capture[];
  /** What was asked for checks, or is being asked. */
  asked: Capture[];
  /** The latest comparison that is made; null when there is none. */
  comparison: Comparison | null;
  /** The latest comparison, even if it is waited for or failed. */
  latest: Comparison | null;
};

function openFindings(comparison: Comparison | null): number {
  return (comparison?.findings ?? [])
    .filter((one) => one.state === "open")
    .reduce((sum, one) => sum + one.number, 0);
}

export function MoveFrame({ children }: { children: (framed: Framed) => ReactNode }) {
  const id = Number(useParams().id);
  const move = useMove(id);
  const captures = useCaptures(id);
  const comparison = useComparison(id);
  // Another comparison than the latest is named in the URL, say of two captures of one side.
  const of = Number(useSearchParams()[0].get("of") ?? 0);
  const named = useOneComparison(of);
  useEndNotice(captures.data, move.data?.name ?? "");
  useEffect(() => {
    const running = captures.data?.find((one) => one.state === "running");
    const at = running ? `${Math.floor((100 * running.asked) / Math.max(1, running.known))} % · ` : "";
    document.title = move.data ? `${at}${move.data.name} · Palinode` : "Palinode";
  }, [captures.data, move.data]);

  // A first comparison sets the stage.
  const made = comparison.made?.id ?? 0;
  const queries = useQueryClient();
  useEffect(() => {
    if (made) void queries.invalidateQueries({ queryKey: ["move", id] });
  }, [made, id, queries]);

  const failed = move.error ?? captures.error ?? comparison.error ?? named.error;
  const shown = of ? (named.data?.state === "made" ? named.data : undefined) : comparison.made;
  const framed =
    move.data && captures.data && shown !== undefined && comparison.made !== undefined
      ? { move: move.data, captures: captures.data.filter(holdsPages), asked: captures.data.filter((one) => !holdsPages(one)), comparison: shown, latest: comparison.latest }
      : null;
  if (failed && (!framed || isGone(failed)))
    return (
      <>
        <Head />
        <Failed error={failed} again={() => void Promise.all([move.refetch(), captures.refetch(), comparison.refetch(), of ? named.refetch() : null])} />
      </>
    );
  if (!framed)
    return (
      <>
        <Head />
        <Loading what={of && move.data ? "the comparison" : "the move"} />
      </>
    );
  return (
    <div className="flex h-screen flex-col">
      <Head
        end={
          <>
            <Stages move={framed.move} />
            <CaptureButton framed={framed} />
          </>
        }
      >
        <NavLink to={`/moves/${id}`} end className="truncate text-[14px] font-bold">
          {framed.move.name}
        </NavLink>
        <NavLink
          to={`/moves/${id}/describe`}
          className="truncate text-[14px] text-[#b9c6c8] underline-offset-2 hover:underline max-[1250px]:hidden"
          title="Edit the description of this move"
        >
          {KIND_WORDS[framed.move.kind ?? ""] ?? ""}
        </NavLink>
      </Head>
      <Contents id={id} comparison={comparison.made ?? null} />
      <Stale error={failed} />
      <main className="flex min-h-0 flex-1 flex-col"><ViewBoundary>{children(framed)}</ViewBoundary></main>
      <Undo move={id} />
    </div>
  );
}

/** The line of contents in its chapters: the verdict, what was compared, what is behind it. */
function Contents({ id, comparison }: { id: number; comparison: Comparison | null }) {
  const findings = openFindings(comparison);
  const views = VIEWS.filter(([view]) => appears(comparison, view));
  return (
    <nav aria-label="Views of this move" className="bg-leaf border-edge flex h-[40px] shrink-0 items-stretch gap-5 overflow-x-auto border-b px-6">
      <Place to={`/moves/${id}`} end name="Standing" />
      <Place to={`/moves/${id}/findings`} name="Findings" number={findings} said={`${findings} open findings`} />
      <span className="bg-edge my-2.5 w-px shrink-0" aria-hidden />
      {views.map(([view, name]) => {
        const number = wanting(comparison, view);
        return <Place key={view} to={`/moves/${id}/${view}`} name={name} number={number} said={`${number} rows want a person`} />;
      })}
      <span className="bg-edge my-2.5 ml-auto w-px shrink-0" aria-hidden />
      <Place to={`/moves/${id}/captures`} name="Captures" />
      <Place to={`/moves/${id}/evidence`} name="Evidence" />
      <Place to={`/moves/${id}/decisions`} name="Decisions" />
      <Place to={`/moves/${id}/describe`} name="Description" />
    </nav>
  );
}

function Place({ to, name, end = false, number = 0, said = "" }: { to: string; name: string; end?: boolean; number?: number; said?: string }) {
  const look = ({ isActive }: { isActive: boolean }) =>
    `border-b-3 px-0.5 pt-2.5 pb-2 text-[14px] font-semibold whitespace-nowrap ${isActive ? "border-ink" : "border-transparent hover:border-edge"}`;
  return (
    <NavLink to={to} end={end} className={look}>
      {name}
      {number ? (
        <sup className="text-soft ml-1 text-[11px]" title={said}>
          {number.toLocaleString("en")}
        </sup>
      ) : null}
    </NavLink>
  );
}

/** The one thing to do next: capture the source until there is a baseline, then the destination. */
function CaptureButton({ framed }: { framed: Framed }) {
  const { move, captures } = framed;
  const queries = useQueryClient();
  const side = move.baseline === null ? "source" : "destination";
  const begin = useMutation({
    mutationFn: () =>
      data(api.POST("/api/moves/{id}/captures/", { params: { path: { id: move.id } }, body: { side } })),
    onSettled: () => queries.invalidateQueries({ queryKey: ["captures", move.id] }),
  });
  const open = captures.find(isOpen);
  if (open)
    return (
      <NavLink to={`/moves/${move.id}/captures`} className="text-[14px] font-semibold whitespace-nowrap underline">
        {open.state === "paused" ? "Paused" : `Capturing, ${open.asked.toLocaleString("en")} asked`}
      </NavLink>
    );
  return (
    <Button look="head" onClick={() => begin.mutate()} disabled={begin.isPending}>
      Capture {side}
    </Button>
  );
}

/** Tell the person, wherever they are, that a long capture has ended. */
function useEndNotice(captures: Capture[] | undefined, name: string) {
  const before = useRef(new Map<number, string>());
  useEffect(() => {
    for (const one of captures ?? []) {
      const was = before.current.get(one.id);
      if (was === "running" && one.state !== "running" && document.hidden && "Notification" in window) {
        if (Notification.permission === "granted")
          new Notification(`${name}: the capture of the ${one.side} has ended`, { body: `${one.sentence}. ${one.detail}` });
      }
      before.current.set(one.id, one.state);
    }
  }, [captures, name]);
}

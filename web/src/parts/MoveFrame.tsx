/** The frame of a move's views: head, line of contents, and what is being captured. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { DropdownMenu } from "radix-ui";
import { useEffect, useRef, type ReactNode } from "react";
import { NavLink, useLocation, useParams, useSearchParams } from "react-router";

import { api, data, type Capture, type Comparison, type Move } from "../api/client";
import { holdsPages, isOpen, useCaptures, useComparison, useMove, useOneComparison } from "../lib/queries";
import { appears, VIEWS, wanting } from "../lib/views";
import { Button } from "./Button";
import { Head } from "./Head";
import { Failed, isGone, Loading, Stale } from "./Notice";
import { StageChoice, Stages } from "./Stages";
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
        <main>
          <Failed error={failed} again={() => void Promise.all([move.refetch(), captures.refetch(), comparison.refetch(), of ? named.refetch() : null])} />
        </main>
      </>
    );
  if (!framed)
    return (
      <>
        <Head />
        <main>
          <Loading what={of && move.data ? "the comparison" : "the move"} />
        </main>
      </>
    );
  return (
    <div className="flex h-dvh flex-col">
      <Head
        end={
          <>
            <Stages move={framed.move} />
            <span className="min-[1101px]:hidden max-[899px]:hidden">
              <StageChoice move={framed.move} />
            </span>
            <CaptureButton framed={framed} />
          </>
        }
      >
        <NavLink to={`/moves/${id}`} end className="min-w-0 truncate text-[14px] font-bold max-[599px]:hidden">
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
      <Contents move={framed.move} comparison={comparison.made ?? null} />
      <Stale error={failed} />
      <main className="flex min-h-0 flex-1 flex-col"><ViewBoundary>{children(framed)}</ViewBoundary></main>
      <Undo move={id} />
    </div>
  );
}

type PlaceProps = { to: string; name: string; end?: boolean; number?: number; said?: string };

/** The places of a move in their chapters: the verdict, what was compared, what is behind it. */
function places(id: number, comparison: Comparison | null): PlaceProps[][] {
  const findings = openFindings(comparison);
  return [
    [
      { to: `/moves/${id}`, end: true, name: "Standing" },
      { to: `/moves/${id}/findings`, name: "Findings", number: findings, said: `${findings} open findings` },
    ],
    VIEWS.filter(([view]) => appears(comparison, view)).map(([view, name]) => {
      const number = wanting(comparison, view);
      return { to: `/moves/${id}/${view}`, name, number, said: `${number} rows want a person` };
    }),
    [
      { to: `/moves/${id}/captures`, name: "Captures" },
      { to: `/moves/${id}/evidence`, name: "Evidence" },
      { to: `/moves/${id}/decisions`, name: "Decisions" },
      { to: `/moves/${id}/describe`, name: "Description" },
    ],
  ];
}

/** The line of contents; where it does not fit, one button that opens it. */
function Contents({ move, comparison }: { move: Move; comparison: Comparison | null }) {
  const chapters = places(move.id, comparison);
  const [compared, behind] = [chapters[1] ?? [], chapters[2] ?? []];
  const rule = "bg-edge my-2.5 w-px shrink-0";
  return (
    <>
      <nav aria-label="Views of this move" className="bg-leaf border-edge flex h-[40px] shrink-0 items-stretch gap-5 border-b px-6 max-[899px]:hidden">
        {chapters[0]?.map((one) => <Place key={one.to} {...one} />)}
        {compared.length ? <span className={rule} aria-hidden /> : null}
        {compared.map((one) => (
          <Place key={one.to} {...one} />
        ))}
        <span className={`${rule} ml-auto`} aria-hidden />
        {behind.map((one) => (
          <Place key={one.to} {...one} />
        ))}
      </nav>
      <ContentsMenu move={move} chapters={chapters} />
    </>
  );
}

/** The contents behind one button, which names the view that is open. */
function ContentsMenu({ move, chapters }: { move: Move; chapters: PlaceProps[][] }) {
  const { pathname } = useLocation();
  const every = chapters.flat();
  const here = every.findLast((one) => (one.end ? pathname === one.to : pathname.startsWith(one.to)));
  return (
    <nav aria-label="Contents of this move" className="bg-leaf border-edge flex h-[44px] shrink-0 items-center gap-3 border-b px-4 min-[900px]:hidden">
      <DropdownMenu.Root>
        <DropdownMenu.Trigger
          aria-label={here ? `Contents: ${here.name}` : "Contents"}
          className="border-line flex h-[34px] shrink-0 items-center gap-2 rounded-[3px] border px-3 font-semibold whitespace-nowrap"
        >
          <svg viewBox="0 0 16 14" width={16} height={14} aria-hidden>
            <path d="M0 2h16M0 7h16M0 12h10" stroke="currentColor" strokeWidth={1.8} />
          </svg>
          {here?.name ?? "Contents"}
        </DropdownMenu.Trigger>
        <DropdownMenu.Portal>
          <DropdownMenu.Content align="start" sideOffset={4} className="bg-leaf text-ink border-edge z-40 max-h-[80vh] min-w-[240px] overflow-y-auto rounded-[4px] border p-1 shadow-lg">
            {chapters.map((chapter, at) => (
              <DropdownMenu.Group key={chapter[0]?.to ?? at} className={at ? "border-edge mt-1 border-t pt-1" : ""}>
                {chapter.map((one) => (
                  <DropdownMenu.Item key={one.to} asChild>
                    <NavLink to={one.to} end={one.end ?? false} className="data-[highlighted]:bg-gutter flex justify-between rounded-[3px] px-3 py-2 font-semibold outline-none">
                      {one.name}
                      {one.number ? (
                        <span className="text-soft font-normal" title={one.said}>
                          {one.number.toLocaleString("en")}
                        </span>
                      ) : null}
                    </NavLink>
                  </DropdownMenu.Item>
                ))}
              </DropdownMenu.Group>
            ))}
          </DropdownMenu.Content>
        </DropdownMenu.Portal>
      </DropdownMenu.Root>
      <NavLink to={`/moves/${move.id}`} end className="min-w-0 truncate text-[14px] font-bold min-[600px]:hidden">
        {move.name}
      </NavLink>
      <span className="ml-auto" />
      <StageChoice move={move} />
    </nav>
  );
}

function Place({ to, name, end = false, number = 0, said = "" }: PlaceProps) {
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

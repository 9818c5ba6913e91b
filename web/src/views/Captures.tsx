/** Captures: the one that runs, and all of them facing. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { Link, useSearchParams } from "react-router";

import { api, data, type Capture } from "../api/client";
import { ImportAddresses } from "../parts/ImportAddresses";
import { AskApi } from "../parts/AskApi";
import { AskDatabase } from "../parts/AskDatabase";
import { Button } from "../parts/Button";
import { CaptureDialog } from "../parts/CaptureDialog";
import { CourseOf } from "../parts/Course";
import { ImportCapture } from "../parts/ImportCapture";
import type { Framed } from "../parts/MoveFrame";
import { bytes, count, duration, host, moment } from "../lib/format";
import { holdsPages, isOpen } from "../lib/queries";
import { aSiteFile, isSiteFile, siteFileName } from "../lib/siteFiles";
import { NameBaseline } from "../parts/NameBaseline";
import { SourceGone } from "../parts/SourceGone";
import { TypeNumbers } from "../parts/TypeNumbers";
import { CaptureDetails } from "../parts/CaptureDetails";
import { ContentsDetails } from "../parts/ContentsDetails";

export function Captures({ framed }: { framed: Framed }) {
  const { move, captures, asked } = framed;
  const [asking, setAsking] = useState<"source" | "destination" | null>(null);
  const [search, setSearch] = useSearchParams();
  const opened = Number(search.get("capture") ?? 0);
  const listed = [...captures, ...asked.filter(isSiteFile)].sort((one, other) => other.started_at.localeCompare(one.started_at));
  const shown = listed.find((one) => one.id === opened && !isOpen(one));
  const top = useRef<HTMLDivElement>(null);
  const running = captures.filter(isOpen);
  const open = (id: number) => {
    setSearch(id ? { capture: String(id) } : {}, { replace: true });
    top.current?.scrollTo({ top: 0 });
  };
  const proposed =
    move.baseline === null ? captures.findLast((one) => one.side === "source" && one.state === "closed" && one.judgement?.stands && one.pages > 0) : undefined;
  return (
    <div ref={top} className="min-h-0 flex-1 overflow-y-auto [scrollbar-gutter:stable]">
      <h1 className="sr-only">Captures</h1>
      {[...running, ...asked.filter(isOpen)].map((one) => (
        <Running key={one.id} capture={one} move={move.id} />
      ))}
      {shown && isSiteFile(shown) ? <ContentsDetails key={shown.id} move={move.id} capture={shown} onClose={() => open(0)} /> : null}
      {shown && !isSiteFile(shown) ? (
        <CaptureDetails
          key={shown.id}
          capture={shown}
          move={move}
          earlier={captures.find((one) => one.side === shown.side && one.state === "closed" && one.id < shown.id && one.pages > 0)}
          onClose={() => open(0)}
        />
      ) : null}
      {proposed ? (
        <section className="border-edge flex items-center gap-4 border-b px-6 py-4">
          <p className="font-serif text-[17px]">
            The capture of {moment(proposed.started_at)} is complete. Is it the baseline that the move is held against?
          </p>
          <NameBaseline move={move.id} capture={proposed} />
        </section>
      ) : null}
      {!listed.length ? (
        <p className="px-6 pt-6 font-serif text-[20px] leading-7">
          Nothing is recorded yet. Capture the source first, before anything is touched.
        </p>
      ) : null}
      <div className="facing bg-leaf border-edge mt-0 border-b">
        {(["source", "destination"] as const).map((side) => (
          <div key={side} className={`${side === "source" ? "left" : "right order-3"} flex items-center gap-3 py-2.5`}>
            <div className="min-w-0">
              <h2 className="truncate text-[17px] leading-6">{host(move[side].base)}</h2>
              <p className="text-soft text-[13px]">
                {side === "source" ? "Source" : "Destination"} · <ImportAddresses move={move.id} side={side} /> · <ImportCapture move={move.id} side={side} /> · <AskApi move={move.id} side={side} /> · <AskDatabase move={move.id} side={side} /> · <TypeNumbers move={move.id} side={side} />
                {side === "source" && move.baseline === null ? (
                  <>
                    {" "}
                    · <SourceGone move={move.id} />
                  </>
                ) : null}
              </p>
            </div>
            <Button className="ml-auto" onClick={() => setAsking(side)} disabled={running.some((one) => one.side === side)}>
              Capture {side} …
            </Button>
          </div>
        ))}
        <div className="mid order-2" />
      </div>
      <ul>
        {listed.map((one) => (
          <li key={one.id} className="facing bg-leaf border-edge border-b">
            <div className="left py-2.5">{one.side === "source" ? <Line capture={one} move={move} opened={opened === one.id} onOpen={() => open(one.id)} /> : null}</div>
            <div className="mid text-soft text-[13px]">{moment(one.started_at)}</div>
            <div className="right py-2.5">{one.side === "destination" ? <Line capture={one} move={move} opened={opened === one.id} onOpen={() => open(one.id)} /> : null}</div>
          </li>
        ))}
      </ul>
      <CaptureDialog key={asking} move={move.id} side={asking} captures={captures} onClose={() => setAsking(null)} />
    </div>
  );
}

function useChange(move: number, id: number) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (what: "pause" | "resume" | "stop" | "read-again") =>
      data(api.POST(`/api/captures/{id}/${what}/`, { params: { path: { id } } })),
    onSettled: () => queries.invalidateQueries({ queryKey: ["captures", move] }),
  });
}

function Running({ capture, move }: { capture: Capture; move: number }) {
  const change = useChange(move, capture.id);
  const left = capture.known - capture.asked;
  const paused = capture.state === "paused";
  const ending = capture.state === "ending";
  const share = Math.min(1, capture.asked / Math.max(1, capture.known));
  return (
    <section aria-label={`Capture of the ${capture.side}`} className="border-edge border-b">
      <div className="flex flex-wrap items-center gap-3 px-6 pt-5">
        <div className="min-w-0 flex-1">
          <h1 className="text-[26px] leading-8">
            <span role="status">
            {paused ? "Paused" : ending ? "Ending" : `${holdsPages(capture) ? "Capturing" : "Asking for checks:"} the ${capture.side}`}: {capture.asked.toLocaleString("en")} of about{" "}
            {count(capture.known, "address", "addresses")}
            {!paused && !ending && capture.rate > 0 ? `, ${Math.round(capture.rate)} a second, ${duration(left / capture.rate)} to go` : ""}.
          </span>
          </h1>
          <p className="text-soft truncate font-mono text-[13px]">
            {paused
              ? capture.why
              : [
                  capture.now ? `now: ${capture.now}` : "waiting for a worker",
                  `${bytes(capture.bytes)} kept`,
                  capture.disk_free === null ? "" : `disk holds ${bytes(capture.disk_free)} more`,
                  capture.workers > 1 ? `${capture.workers} workers` : "",
                ]
                  .filter(Boolean)
                  .join(" · ")}
          </p>
        </div>
        {paused ? (
          <Button look="strong" onClick={() => change.mutate("resume")}>
            Resume
          </Button>
        ) : ending ? null : (
          <Button onClick={() => change.mutate("pause")}>Pause</Button>
        )}
        {ending ? (
          <p className="text-soft text-[14px]">{capture.detail}</p>
        ) : (
          <Button onClick={() => change.mutate("stop")}>Stop and keep what is there</Button>
        )}
        {!paused && !ending && "Notification" in window && Notification.permission === "default" ? (
          <Button look="bare" onClick={() => void Notification.requestPermission()}>
            Notify me when it ends
          </Button>
        ) : null}
      </div>
      {change.error ? (
        <p role="alert" className="text-madder px-6 pt-1">
          {change.error.message}
        </p>
      ) : null}
      <div className="px-6 pt-3 pb-4">
        <div className="bg-gutter h-1.5" role="progressbar" aria-valuenow={Math.round(share * 100)} aria-valuemin={0} aria-valuemax={100} aria-label="Asked of what is known">
          <div className="bg-ink h-full" style={{ width: `${share * 100}%` }} />
        </div>
      </div>
      <CourseOf capture={capture} move={move} />
    </section>
  );
}

/** What belongs to the set of a capture, in a few words. */
function memberSaid(member: Capture["members"][number]): string {
  const what = member.kind === "asked" ? `Checked again with ${count(member.asked, "request")}` : `With ${member.name || aSiteFile(member.kind)}`;
  return `${what}, ${moment(member.started_at)}`;
}

function Line({ capture, move, opened, onOpen }: { capture: Capture; move: Framed["move"]; opened: boolean; onOpen: () => void }) {
  const name = capture.baseline ? "Baseline. " : capture.round ? `Round ${capture.round}. ` : "";
  const kind = capture.kind === "copy" ? "From a file" : siteFileName(capture.kind);
  const offered = capture.side === "source" && !capture.baseline && capture.state === "closed" && capture.pages > 0;
  return (
    <>
      <p>
        <b>
          {name}
          {kind ? `${kind}. ` : ""}
          {capture.sentence}
        </b>
      </p>
      {capture.judgement ? (
        <p className={`text-[14px] ${capture.judgement.stands ? "" : "text-madder font-semibold"}`}>{capture.judgement.sentence}</p>
      ) : null}
      <p className="text-soft text-[14px] [overflow-wrap:anywhere]">
        {capture.detail}.{" "}
        {capture.members.map((one) => (
          <span key={one.id}>
            <Link to={isSiteFile(one) ? `?capture=${one.id}` : `/moves/${move.id}/captures/${one.id}/answers`} className="underline underline-offset-2">
              {memberSaid(one)}
            </Link>
            .{" "}
          </span>
        ))}
        {capture.state === "closed" ? (
          <button type="button" className="text-ink underline underline-offset-2" onClick={onOpen}>
            {opened ? "Shown above" : isSiteFile(capture) ? "What it holds" : "How it went"}
          </button>
        ) : null}
        {offered ? (
          <>
            {" · "}
            <NameBaseline move={move.id} capture={capture} look="bare" />
          </>
        ) : null}
      </p>
    </>
  );
}

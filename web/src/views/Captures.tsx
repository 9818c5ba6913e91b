/** Captures: the one that runs, and all of them facing. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";

import { api, data, type Capture } from "../api/client";
import { Bring } from "../parts/Bring";
import { Button } from "../parts/Button";
import { CaptureDialog } from "../parts/CaptureDialog";
import { Dialog } from "../parts/Dialog";
import type { Framed } from "../parts/MoveFrame";
import { bytes, count, duration, host, moment } from "../lib/format";
import { isOpen } from "../lib/queries";
import { NameBaseline } from "../parts/NameBaseline";

export function Captures({ framed }: { framed: Framed }) {
  const { move, captures } = framed;
  const [asking, setAsking] = useState<"source" | "destination" | null>(null);
  const [opened, setOpened] = useState<number | null>(null);
  const open = captures.filter(isOpen);
  const proposed =
    move.baseline === null ? captures.findLast((one) => one.side === "source" && one.state === "closed" && one.judgement?.stands && one.pages > 0) : undefined;
  return (
    <div className="min-h-0 flex-1 overflow-y-auto">
      {open.map((one) => (
        <Running key={one.id} capture={one} move={move.id} />
      ))}
      {proposed ? (
        <section className="border-edge flex items-center gap-4 border-b px-6 py-4">
          <p className="font-serif text-[17px]">
            The capture of {moment(proposed.started_at)} is complete. Is it the baseline that the move is held against?
          </p>
          <NameBaseline move={move.id} capture={proposed} />
        </section>
      ) : null}
      {!captures.length ? (
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
                {side === "source" ? "Source" : "Destination"} · <Bring move={move.id} side={side} />
              </p>
            </div>
            <Button className="ml-auto" onClick={() => setAsking(side)} disabled={open.some((one) => one.side === side)}>
              Capture {side} …
            </Button>
          </div>
        ))}
        <div className="mid order-2" />
      </div>
      <ul>
        {captures.map((one) => (
          <li key={one.id} className="facing bg-leaf border-edge border-b">
            <div className="left py-2.5">{one.side === "source" ? <Line capture={one} move={move} onOpen={() => setOpened(one.id)} /> : null}</div>
            <div className="mid text-soft text-[13px]">{moment(one.started_at)}</div>
            <div className="right py-2.5">{one.side === "destination" ? <Line capture={one} move={move} onOpen={() => setOpened(one.id)} /> : null}</div>
          </li>
        ))}
      </ul>
      <CaptureDialog key={asking} move={move.id} side={asking} captures={captures} onClose={() => setAsking(null)} />
      <Whole id={opened} onClose={() => setOpened(null)} />
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
  const bars: [string, number, string][] = [
    ["known addresses", capture.known, "bg-thread"],
    ["answered", capture.asked, "bg-thread"],
    ["pages", capture.pages, "bg-ink"],
    ["files and images", capture.files, "bg-thread"],
    ["not fetched", capture.not_fetched, "bg-madder"],
  ];
  return (
    <section aria-label={`Capture of the ${capture.side}`} className="border-edge border-b">
      <div className="flex flex-wrap items-center gap-3 px-6 pt-5">
        <div className="min-w-0 flex-1">
          <h1 className="text-[26px] leading-8" role="status">
            {paused ? "Paused" : ending ? "Ending" : "Capturing the " + capture.side}: {capture.asked.toLocaleString("en")} of about{" "}
            {count(capture.known, "address", "addresses")}
            {!paused && !ending && capture.rate > 0 ? `, ${Math.round(capture.rate)} a second, ${duration(left / capture.rate)} to go` : ""}.
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
            Tell me when it ends
          </Button>
        ) : null}
      </div>
      {change.error ? (
        <p role="alert" className="text-madder px-6 pt-1">
          {change.error.message}
        </p>
      ) : null}
      <div className="px-6 pt-3 pb-5">
        <div className="bg-gutter mb-4 h-1.5" role="progressbar" aria-valuenow={Math.round(share * 100)} aria-valuemin={0} aria-valuemax={100} aria-label="Asked of what is known">
          <div className="bg-ink h-full" style={{ width: `${share * 100}%` }} />
        </div>
        <h2 className="mb-1 text-[15px]">From known to page</h2>
        <dl className="grid grid-cols-[150px_minmax(0,1fr)] gap-y-0.5 text-[14px]">
          {bars.map(([name, number, ink]) => (
            <div key={name} className="contents">
              <dt>{name}</dt>
              <dd className="flex items-center gap-2">
                <span className={`h-3 ${ink}`} style={{ width: `${(number / Math.max(1, capture.known)) * 220}px` }} />
                {number.toLocaleString("en")}
              </dd>
            </div>
          ))}
        </dl>
      </div>
    </section>
  );
}

function Line({ capture, move, onOpen }: { capture: Capture; move: Framed["move"]; onOpen: () => void }) {
  const name = capture.baseline ? "Baseline. " : capture.round ? `Round ${capture.round}. ` : "";
  const offered = capture.side === "source" && !capture.baseline && capture.state === "closed" && capture.pages > 0;
  return (
    <>
      <p>
        <b>
          {name}
          {capture.sentence}
        </b>
      </p>
      {capture.judgement ? (
        <p className={`text-[14px] ${capture.judgement.stands ? "" : "text-madder font-semibold"}`}>{capture.judgement.sentence}</p>
      ) : null}
      <p className="text-soft text-[14px]">
        {capture.detail}.{" "}
        {capture.state === "closed" ? (
          <button type="button" className="text-ink underline underline-offset-2" onClick={onOpen}>
            Files and reasons
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

function Whole({ id, onClose }: { id: number | null; onClose: () => void }) {
  const found = useQuery({
    queryKey: ["capture", id],
    queryFn: () => data(api.GET("/api/captures/{id}/", { params: { path: { id: id ?? 0 } } })),
    enabled: id !== null,
  });
  const again = useMutation({
    mutationFn: () => data(api.POST("/api/captures/{id}/read-again/", { params: { path: { id: id ?? 0 } } })),
  });
  const one = found.data;
  return (
    <Dialog open={id !== null} onClose={onClose} title={one ? one.sentence : "Reading …"}>
      {one ? (
        <div className="space-y-4 text-[14px]">
          <p>
            {one.detail}. It took {duration(one.seconds)} of work; {bytes(one.bytes)} are kept.
          </p>
          {one.judgement?.grounds.length ? (
            <section>
              <h3 className="mb-1 text-[15px]">{one.judgement.stands ? "It stands. To know" : "It does not stand"}</h3>
              <ul>
                {one.judgement.grounds.map((ground) => (
                  <li key={ground.text} className={ground.against ? "text-madder font-semibold" : ""}>
                    {ground.text}.
                  </li>
                ))}
              </ul>
            </section>
          ) : null}
          {Object.keys(one.not_fetched_reasons).length ? (
            <section>
              <h3 className="mb-1 text-[15px]">Not fetched</h3>
              <ul>
                {Object.entries(one.not_fetched_reasons).map(([reason, number]) => (
                  <li key={reason}>
                    {number.toLocaleString("en")}: {reason}
                  </li>
                ))}
              </ul>
            </section>
          ) : null}
          <section>
            <h3 className="mb-1 text-[15px]">WARC files</h3>
            <ul className="space-y-1">
              {one.segments.map((segment) => (
                <li key={segment.number}>
                  <a className="underline" href={`/api/captures/${one.id}/segments/${segment.number}/`} download>
                    {segment.number}.warc.gz
                  </a>
                  , {bytes(segment.bytes)}, {count(segment.records, "record")}
                  <span className="text-soft block truncate font-mono text-[12px]" title={segment.sha256}>
                    sha256 {segment.sha256}
                  </span>
                </li>
              ))}
              {one.segments.length ? null : <li className="text-soft">None: nothing answered.</li>}
            </ul>
          </section>
          <p className="text-soft">
            Read again makes the facts anew from these files; the site need not answer.{" "}
            {again.isSuccess ? <span role="status">It is under way.</span> : null}
          </p>
          <div className="flex gap-2">
            <Button onClick={() => again.mutate()} disabled={again.isPending || again.isSuccess}>
              Read again
            </Button>
            <Button onClick={onClose}>Close</Button>
          </div>
        </div>
      ) : found.error ? (
        <p role="alert">{found.error.message}</p>
      ) : null}
    </Dialog>
  );
}

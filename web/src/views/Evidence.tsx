/** Evidence: what is kept, that it is what it was, for how long, and all of it to export. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState, type ReactNode } from "react";

import { api, data, type Schemas } from "../api/client";
import { bytes, count, moment } from "../lib/format";
import { Button } from "../parts/Button";
import type { Framed } from "../parts/MoveFrame";
import { Failed, Loading } from "../parts/Notice";

type Kept = Schemas["KeptCapture"];
type Segment = Schemas["KeptSegment"];

const SHOWN = 8;

export function Evidence({ framed }: { framed: Framed }) {
  const { move } = framed;
  const queries = useQueryClient();
  const found = useQuery({
    queryKey: ["evidence", move.id],
    queryFn: () => data(api.GET("/api/moves/{id}/evidence/", { params: { path: { id: move.id } } })),
    refetchInterval: (query) => (query.state.data?.verifying ? 1_000 : 10_000),
  });
  const verify = useMutation({
    mutationFn: () => data(api.POST("/api/moves/{id}/evidence/verify/", { params: { path: { id: move.id } } })),
    onSettled: () => queries.invalidateQueries({ queryKey: ["evidence", move.id] }),
  });
  if (found.error) return <Failed error={found.error} again={() => void found.refetch()} />;
  if (!found.data) return <Loading what="the evidence" />;
  const { captures, imports, verifying, keep_days } = found.data;
  const segments = captures.flatMap((one) => one.segments).filter((one) => !one.let_go_at);
  const faulty = segments.filter((one) => one.fault);
  const verified = segments.filter((one) => one.verified_at && !one.fault);
  return (
    <div className="min-h-0 flex-1 overflow-y-auto [scrollbar-gutter:stable]">
      <div className="border-edge flex flex-wrap items-start gap-3 border-b px-6 pt-5 pb-4">
        <div className="min-w-[min(260px,100%)] flex-1">
          <h1 className="text-[26px] leading-8">
            <span role="status">
            {!segments.length
              ? "Nothing is kept yet."
              : verifying
                ? `Verifying ${count(segments.length, "WARC file")} …`
                : faulty.length
                  ? `${count(faulty.length, "WARC file is", "WARC files are")} not as sealed.`
                  : verified.length === segments.length
                    ? `All ${count(segments.length, "WARC file")} are as they were sealed.`
                    : verified.length
                      ? `${count(verified.length, "WARC file")} of ${segments.length} verified so far.`
                      : `${count(segments.length, "WARC file")}, not verified yet.`}
            </span>
          </h1>
          <p className="text-soft text-[14px]">
            {bytes(found.data.bytes)} in {count(captures.filter((one) => one.segments.length).length, "capture")}. Verified means: each file read again, its SHA-256, each
            record's digest and what the answers point to compared.
          </p>
          {verify.error ? (
            <p role="alert" className="text-madder">
              {verify.error.message}
            </p>
          ) : null}
        </div>
        <Button look="strong" onClick={() => verify.mutate()} disabled={verifying || verify.isPending || !segments.length}>
          {verifying ? "Verifying …" : "Verify all"}
        </Button>
        <a className="border-line bg-leaf rounded-[3px] border px-3 py-1.5 font-bold" href={`/api/moves/${move.id}/archive/`} download>
          Export the move
        </a>
      </div>
      {faulty.length ? (
        <ul className="border-edge border-b px-6 py-3 text-[14px]">
          {faulty.map((one) => (
            <li key={one.number} className="text-madder">
              <b>{one.number}.warc.gz</b>: {one.fault}
            </li>
          ))}
        </ul>
      ) : null}
      <div className="facing bg-leaf border-edge border-b">
        <h2 className="left py-2.5 text-[17px]">Source</h2>
        <div className="mid" />
        <h2 className="right py-2.5 text-[17px]">Destination</h2>
      </div>
      <ul>
        {captures.map((one) => (
          <li key={one.id} className="facing bg-leaf border-edge border-b">
            <div className="left min-w-0 py-2.5">{one.side === "source" ? <Files kept={one} captures={captures} /> : null}</div>
            <div className="mid text-soft text-[13px]">{moment(one.started_at)}</div>
            <div className="right min-w-0 py-2.5">{one.side === "destination" ? <Files kept={one} captures={captures} /> : null}</div>
          </li>
        ))}
      </ul>
      <div className="grid grid-cols-[minmax(0,1fr)_minmax(0,1fr)] gap-x-10 px-6 py-4 max-[900px]:grid-cols-1">
        <Imported imports={imports} />
        <Retention move={move.id} days={keep_days} owner={move.role === "owner"} />
      </div>
    </div>
  );
}

function nameOf(kept: Kept): string {
  return kept.baseline ? "Baseline" : kept.round ? `Round ${kept.round}` : kept.kind === "asked" ? "Asked for checks" : "Capture";
}

function Files({ kept, captures }: { kept: Kept; captures: Kept[] }) {
  const [all, setAll] = useState(false);
  const shown = all ? kept.segments : kept.segments.slice(0, SHOWN);
  const rests = kept.rests_on.map((id) => captures.find((one) => one.id === id)).filter((one) => one !== undefined);
  return (
    <>
      <p>
        <b>{nameOf(kept)}.</b> {kept.segments.length ? `${count(kept.segments.length, "WARC file")}, ${bytes(kept.bytes)}` : "No WARC file: nothing answered anew"}
      </p>
      {rests.length ? (
        <p className="text-soft text-[13px]">
          Bodies that did not change lie in the files of {rests.map((one) => `${nameOf(one).toLowerCase()} of ${moment(one.started_at)}`).join(", ")}.
        </p>
      ) : null}
      <ul className="text-[13px]">
        {shown.map((one) => (
          <File key={one.number} capture={kept.id} segment={one} />
        ))}
      </ul>
      {kept.segments.length > SHOWN && !all ? (
        <button type="button" className="text-[13px] underline" onClick={() => setAll(true)}>
          and {kept.segments.length - SHOWN} more
        </button>
      ) : null}
    </>
  );
}

function File({ capture, segment }: { capture: number; segment: Segment }) {
  const said: ReactNode = segment.let_go_at ? (
    <span className="text-soft">deleted {moment(segment.let_go_at)}</span>
  ) : segment.fault ? (
    <b className="text-madder">not as sealed</b>
  ) : segment.verified_at ? (
    <span className="text-verdigris">verified {moment(segment.verified_at)}</span>
  ) : (
    <span className="text-soft">not verified</span>
  );
  return (
    <li className="grid grid-cols-[150px_minmax(0,1fr)_auto] items-baseline gap-x-3">
      {segment.let_go_at ? (
        <span className="text-soft">{segment.number}.warc.gz</span>
      ) : (
        <a className="truncate underline" href={`/api/captures/${capture}/segments/${segment.number}/`} download title={`${segment.records.toLocaleString("en")} records, ${bytes(segment.bytes)}`}>
          {segment.number}.warc.gz
        </a>
      )}
      <span className="text-soft truncate font-mono text-[12px]" title={`SHA-256 ${segment.sha256}`}>
        {segment.sha256}
      </span>
      {said}
    </li>
  );
}

function Imported({ imports }: { imports: Schemas["Import"][] }) {
  const what = { list: "List of addresses", warc: "WARC file", pages: "Archive of pages", dump: "Dump", export: "Export", listing: "List of files" };
  return (
    <section className="text-[14px]">
      <h2 className="mb-1 text-[17px]">What people imported</h2>
      {imports.length ? null : <p className="text-soft">Nothing yet. Lists and files are imported in Captures.</p>}
      <ul className="space-y-2">
        {imports.map((one) => (
          <li key={one.id}>
            <b className="break-all">{one.name}</b>, {what[one.kind]} for the {one.side}, {bytes(one.bytes)}
            <span className={`block ${one.state === "failed" ? "text-madder" : ""}`}>{one.state === "waiting" ? "Is being read." : one.said}</span>
            <span className="text-soft block truncate text-[13px]" title={one.sha256}>
              {one.author}, {moment(one.created_at)}, SHA-256 <span className="font-mono text-[12px]">{one.sha256}</span>
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}

function Retention({ move, days, owner }: { move: number; days: number | null; owner: boolean }) {
  const [typed, setTyped] = useState(days === null ? "" : String(days));
  const queries = useQueryClient();
  const keep = useMutation({
    mutationFn: () =>
      data(api.PATCH("/api/moves/{id}/evidence/", { params: { path: { id: move } }, body: { keep_days: typed.trim() ? Number(typed) : null } })),
    onSuccess: () => queries.invalidateQueries({ queryKey: ["evidence", move] }),
  });
  const same = typed.trim() === (days === null ? "" : String(days));
  return (
    <section className="text-[14px]">
      <h2 className="mb-1 text-[17px]">How long it is kept</h2>
      <p className="mb-2">
        {days === null ? "All files are kept for as long as the move." : `Files of captures older than ${count(days, "day")} are deleted each night.`} The baseline, the latest
        capture of each side and whatever these rest on always stay, and so do the facts and verdicts of all.
      </p>
      {owner ? (
        <form
          className="flex items-end gap-2"
          onSubmit={(event) => {
            event.preventDefault();
            keep.mutate();
          }}
        >
          <label className="text-soft w-[240px] text-[13px]">
            <span className="mb-1 block">Days (empty: for as long as the move)</span>
            <input inputMode="numeric" pattern="[0-9]*" className="bg-leaf border-line text-ink w-full rounded-[3px] border px-3 py-1.5" value={typed} onChange={(event) => setTyped(event.target.value)} />
          </label>
          <Button type="submit" disabled={same || keep.isPending}>
            Save
          </Button>
        </form>
      ) : null}
      {keep.error ? (
        <p role="alert" className="text-madder mt-1">
          {keep.error.message}
        </p>
      ) : null}
    </section>
  );
}

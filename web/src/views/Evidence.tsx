/** Evidence: what is kept, that it is what it was, for how long, and all of it to export. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState, type ReactNode } from "react";

import { api, data, type Schemas } from "../api/client";
import { bytes, count, moment } from "../lib/format";
import { siteFileName } from "../lib/siteFiles";
import { Button } from "../parts/Button";
import type { Framed } from "../parts/MoveFrame";
import { Failed, Loading } from "../parts/Notice";

type Kept = Schemas["KeptCapture"];

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
  const siteFiles = captures.flatMap((one) => (one.file ? [one.file] : []));
  const files = [...segments.map((one) => ({ ...one, name: `${one.number}.warc.gz` })), ...siteFiles];
  const faulty = files.filter((one) => one.fault);
  const verified = files.filter((one) => one.verified_at && !one.fault);
  return (
    <div className="min-h-0 flex-1 overflow-y-auto [scrollbar-gutter:stable]">
      <div className="border-edge flex flex-wrap items-start gap-3 border-b px-6 pt-5 pb-4">
        <div className="min-w-[min(260px,100%)] flex-1">
          <h1 className="text-[26px] leading-8">
            <span role="status">
            {!files.length
              ? "Nothing is kept yet."
              : verifying
                ? `Verifying ${count(files.length, "file")} …`
                : faulty.length
                  ? `${count(faulty.length, "file is", "files are")} not as kept.`
                  : verified.length === files.length
                    ? `${files.length === 1 ? "The one file is as it was" : `All ${count(files.length, "file")} are as they were`} kept.`
                    : verified.length
                      ? `${count(verified.length, "file")} of ${files.length} verified so far.`
                      : `${count(files.length, "file")}, not verified yet.`}
            </span>
          </h1>
          <p className="text-soft text-[14px]">
            {bytes(found.data.bytes)} in {count(captures.filter((one) => one.segments.length || one.file).length, "capture")}. Verified means: each file read again and its
            SHA-256 compared; of WARC files also each record's digest, and what the answers point to.
          </p>
          {verify.error ? (
            <p role="alert" className="text-madder">
              {verify.error.message}
            </p>
          ) : null}
        </div>
        <Button look="strong" onClick={() => verify.mutate()} disabled={verifying || verify.isPending || !files.length}>
          {verifying ? "Verifying …" : "Verify all"}
        </Button>
        <a className="border-line bg-leaf rounded-[3px] border px-3 py-1.5 font-bold" href={`/api/moves/${move.id}/archive/`} download>
          Export the move
        </a>
      </div>
      {faulty.length ? (
        <ul className="border-edge border-b px-6 py-3 text-[14px]">
          {faulty.map((one) => (
            <li key={`${one.name} ${one.sha256}`} className="text-madder break-all">
              <b>{one.name}</b>: {one.fault}
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
  return kept.baseline ? "Baseline" : kept.round ? `Round ${kept.round}` : kept.kind === "asked" ? "Asked for checks" : siteFileName(kept.kind) || "Capture";
}

function Files({ kept, captures }: { kept: Kept; captures: Kept[] }) {
  const [all, setAll] = useState(false);
  const shown = all ? kept.segments : kept.segments.slice(0, SHOWN);
  const rests = kept.rests_on.map((id) => captures.find((one) => one.id === id)).filter((one) => one !== undefined);
  return (
    <>
      <p>
        <b>{nameOf(kept)}.</b> {kept.file ? bytes(kept.bytes) : kept.segments.length ? `${count(kept.segments.length, "WARC file")}, ${bytes(kept.bytes)}` : "No WARC file: nothing answered anew"}
      </p>
      {rests.length ? (
        <p className="text-soft text-[13px]">
          Bodies that did not change lie in the files of {rests.map((one) => `${nameOf(one).toLowerCase()} of ${moment(one.started_at)}`).join(", ")}.
        </p>
      ) : null}
      <ul className="text-[13px]">
        {kept.file ? <File file={kept.file} link={`/api/captures/${kept.id}/file/`} /> : null}
        {shown.map((one) => (
          <File
            key={one.number}
            file={{ ...one, name: `${one.number}.warc.gz` }}
            link={one.let_go_at ? "" : `/api/captures/${kept.id}/segments/${one.number}/`}
            title={`${count(one.records, "record")}, ${bytes(one.bytes)}`}
          />
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

type KeptFile = { name: string; sha256: string; verified_at?: string | null; fault?: string; let_go_at?: string | null };

/** A kept file, to download unless it was let go of: ``link`` is empty then. */
function File({ file, link, title = file.name }: { file: KeptFile; link: string; title?: string }) {
  const said: ReactNode = file.let_go_at ? (
    <span className="text-soft">deleted {moment(file.let_go_at)}</span>
  ) : file.fault ? (
    <b className="text-madder">not as kept</b>
  ) : file.verified_at ? (
    <span className="text-verdigris">verified {moment(file.verified_at)}</span>
  ) : (
    <span className="text-soft">not verified</span>
  );
  return (
    <li className="grid grid-cols-[150px_minmax(0,1fr)_auto] items-baseline gap-x-3">
      {link ? (
        <a className="truncate underline" href={link} download title={title}>
          {file.name}
        </a>
      ) : (
        <span className="text-soft truncate">{file.name}</span>
      )}
      <span className="text-soft truncate font-mono text-[12px]" title={`SHA-256 ${file.sha256}`}>
        {file.sha256}
      </span>
      {said}
    </li>
  );
}

const OTHERS: Record<string, string> = { list: "List of addresses", warc: "WARC file", pages: "Archive of pages" };

function Imported({ imports }: { imports: Schemas["Import"][] }) {
  return (
    <section className="text-[14px]">
      <h2 className="mb-1 text-[17px]">What people imported</h2>
      {imports.length ? null : <p className="text-soft">Nothing yet. Lists and files are imported in Captures.</p>}
      <ul className="space-y-2">
        {imports.map((one) => (
          <li key={one.id}>
            <b className="break-all">{one.name}</b>, {siteFileName(one.kind) || OTHERS[one.kind]} for the {one.side}, {bytes(one.bytes)}
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

/** Make a capture of a file: a WARC file made elsewhere, a ZIP of static pages, a dump, an export, a list of files. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";

import { api, data, Refused } from "../api/client";
import { bytes } from "../lib/format";
import { readSoFar } from "../lib/siteFiles";
import { Button } from "./Button";
import { Dialog } from "./Dialog";
import { FileField, formOf } from "./FileField";

type Side = "source" | "destination";

export function useImports(move: number) {
  return useQuery({
    queryKey: ["imports", move],
    queryFn: () => data(api.GET("/api/moves/{id}/imports/", { params: { path: { id: move } } })),
    refetchInterval: (query) => (query.state.data?.some((one) => one.state === "waiting") ? 1_000 : false),
  });
}

export function ImportCapture({ move, side }: { move: number; side: Side }) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <button type="button" className="text-ink underline underline-offset-2" onClick={() => setOpen(true)}>
        From a file …
      </button>
      <ImportDialog move={move} side={side} open={open} onClose={() => setOpen(false)} />
    </>
  );
}

function ImportDialog({ move, side, open, onClose }: { move: number; side: Side; open: boolean; onClose: () => void }) {
  const [file, setFile] = useState<File | null>(null);
  const [listing, setListing] = useState(false);
  const queries = useQueryClient();
  const imports = useImports(move);
  const upload = useMutation({
    mutationFn: (given: File) =>
      data(
        api.POST("/api/moves/{id}/imports/", {
          params: { path: { id: move } },
          body: { side, file: "", listing },
          bodySerializer: () => formOf(given, { side, listing: String(listing) }),
        }),
      ),
    onSuccess: () => queries.invalidateQueries({ queryKey: ["imports", move] }),
  });
  const stop = useMutation({
    mutationFn: (id: number) => data(api.POST("/api/moves/{id}/imports/{imported}/stop/", { params: { path: { id: move, imported: id } } })),
    onSettled: () => queries.invalidateQueries({ queryKey: ["imports", move] }),
  });
  const mine = imports.data?.find((one) => one.id === upload.data?.id);
  useEffect(() => {
    if (mine?.state === "done") void queries.invalidateQueries({ queryKey: ["captures", move] });
  }, [mine?.state, move, queries]);
  const said = upload.error instanceof Refused ? (upload.error.fields.file ?? upload.error.message) : upload.error?.message;
  return (
    <Dialog open={open} onClose={onClose} title={`A capture of the ${side} from a file`}>
      <form
        className="space-y-4"
        onSubmit={(event) => {
          event.preventDefault();
          if (file) upload.mutate(file);
        }}
      >
        <p className="text-soft">
          A WARC file that was made elsewhere, or a ZIP of static pages: what it holds of this side becomes a capture, judged like any other; the site
          is not asked.
        </p>
        <p className="text-soft">
          Or what shows the site from behind: a dump of its database, WordPress’s export, a list of its files by sha256sum, find or ls. All of them also
          packed; the parts of one export together in a ZIP. The file is kept as evidence, with what it holds.
        </p>
        <FileField onChange={setFile} />
        {file && /\.(zip|tar|tgz|tar\.\w+)$/i.test(file.name) ? (
          <label className="flex items-baseline gap-2">
            <input type="checkbox" checked={listing} onChange={(event) => setListing(event.target.checked)} />
            Only list its files: it is the folder of the site
          </label>
        ) : null}
        <ListCommands />
        {said ? (
          <p role="alert" className="text-madder font-semibold break-words">
            {said}
          </p>
        ) : null}
        {mine ? (
          <p role="status" className={`bg-gutter rounded-[3px] p-3 text-[14px] break-words ${mine.state === "failed" ? "text-madder font-semibold" : ""}`}>
            {mine.state === "waiting" ? `Reading ${mine.name}, ${bytes(mine.bytes)}: ${readSoFar(mine)} so far …` : mine.said}
          </p>
        ) : null}
        <div className="flex gap-2">
          <Button type="submit" look="strong" disabled={upload.isPending || mine?.state === "waiting"}>
            {upload.isPending ? "Sending …" : "Make a capture of it"}
          </Button>
          {mine?.state === "waiting" ? <Button onClick={() => stop.mutate(mine.id)}>Stop reading it</Button> : null}
          <Button onClick={onClose}>Close</Button>
        </div>
      </form>
    </Dialog>
  );
}

const COMMANDS = [
  "find . -type f -print0 | xargs -0 sha256sum > files.txt",
  "find . -type f -printf '%s %T@ %p\\n' > files.txt",
  "ls -lRA > files.txt",
];

/** How a list of files is made on a host, to be copied. */
function ListCommands() {
  const [copied, setCopied] = useState("");
  return (
    <details className="text-[14px]">
      <summary className="cursor-pointer">How a list of files, or a dump, is made on each host</summary>
      <p className="text-soft mt-2">In the folder of the site; the first also tells files of one size apart:</p>
      <ul className="mt-1 space-y-1">
        {[...COMMANDS, "mariadb-dump --single-transaction --routines DATABASE | gzip > dump.sql.gz"].map((command) => (
          <li key={command} className="flex items-center gap-2">
            <code className="bg-gutter min-w-0 flex-1 overflow-x-auto rounded-[3px] px-2 py-1 font-mono text-[13px] whitespace-nowrap">{command}</code>
            <button
              type="button"
              className="underline underline-offset-2"
              aria-label={`Copy ${command}`}
              onClick={() => void navigator.clipboard.writeText(command).then(() => setCopied(command))}
            >
              {copied === command ? "Copied" : "Copy"}
            </button>
          </li>
        ))}
      </ul>
    </details>
  );
}

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
  const queries = useQueryClient();
  const imports = useImports(move);
  const upload = useMutation({
    mutationFn: (given: File) =>
      data(
        api.POST("/api/moves/{id}/imports/", {
          params: { path: { id: move } },
          body: { side, file: "" },
          bodySerializer: () => formOf(given, { side }),
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
          packed. The file is kept as evidence, with what it holds.
        </p>
        <FileField onChange={setFile} />
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

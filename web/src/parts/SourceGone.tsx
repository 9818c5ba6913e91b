/** A source that is gone: the baseline is what its database, an export, or lists of its addresses name. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";

import { api, data } from "../api/client";
import { Button } from "./Button";
import { Dialog } from "./Dialog";
import { Field } from "./Field";

export function SourceGone({ move }: { move: number }) {
  const [open, setOpen] = useState(false);
  const [reason, setReason] = useState("");
  const queries = useQueryClient();
  const make = useMutation({
    mutationFn: () => data(api.POST("/api/moves/{id}/address-baseline/", { params: { path: { id: move } }, body: { reason } })),
    onSuccess: () => {
      setOpen(false);
      for (const key of ["move", "captures", "decisions"]) void queries.invalidateQueries({ queryKey: [key, move] });
    },
  });
  return (
    <>
      <button type="button" className="text-ink underline underline-offset-2" onClick={() => setOpen(true)}>
        The source is gone …
      </button>
      <Dialog open={open} onClose={() => setOpen(false)} title="A baseline without the source">
        <form
          className="space-y-4"
          onSubmit={(event) => {
            event.preventDefault();
            make.mutate();
          }}
        >
          <p>
            Where the old site answers no more, the copy is held against what is left of it: the addresses that its dump, export, API or lists name, and what these hold.
          </p>
          <p className="text-soft">Import them first, then make the baseline. What pages said cannot be compared then; a WARC file of the old site can do more.</p>
          <Field label="Why there is no source to capture" value={reason} onChange={setReason} required autoFocus hint="Kept with your name and the date." />
          {make.error ? (
            <p role="alert" className="text-madder font-semibold">
              {make.error.message}
            </p>
          ) : null}
          <div className="flex gap-2">
            <Button type="submit" look="strong" disabled={make.isPending}>
              Make it the baseline
            </Button>
            <Button onClick={() => setOpen(false)}>Cancel</Button>
          </div>
        </form>
      </Dialog>
    </>
  );
}

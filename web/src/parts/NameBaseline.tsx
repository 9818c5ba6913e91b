/** Name a capture as the baseline; one that does not stand only with a reason, which is recorded. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";

import { api, data, Refused, type Capture } from "../api/client";
import { Button } from "./Button";
import { Dialog } from "./Dialog";
import { Field } from "./Field";

export function NameBaseline({ move, capture, look = "strong" }: { move: number; capture: Capture; look?: "strong" | "bare" }) {
  const [open, setOpen] = useState(false);
  const [reason, setReason] = useState("");
  const queries = useQueryClient();
  const name = useMutation({
    mutationFn: () =>
      data(
        api.PATCH("/api/moves/{id}/", {
          params: { path: { id: move } },
          body: { baseline: capture.id, baseline_reason: reason },
        }),
      ),
    onSuccess: (changed) => {
      setOpen(false);
      queries.setQueryData(["move", move], changed);
      void queries.invalidateQueries({ queryKey: ["captures", move] });
      void queries.invalidateQueries({ queryKey: ["decisions", move] });
    },
  });
  const { judgement } = capture;
  const stands = judgement?.stands ?? true;
  const said = name.error instanceof Refused ? (name.error.fields.baseline ?? name.error.message) : name.error?.message;
  return (
    <>
      <Button look={look} onClick={() => (stands ? name.mutate() : setOpen(true))} disabled={name.isPending}>
        {look === "bare" ? "Make it the baseline" : "Name it as the baseline"}
      </Button>
      {said && !open ? (
        <p role="alert" className="text-madder">
          {said}
        </p>
      ) : null}
      <Dialog open={open} onClose={() => setOpen(false)} title="Name it all the same?">
        <form
          className="space-y-4"
          onSubmit={(event) => {
            event.preventDefault();
            name.mutate();
          }}
        >
          <p>{judgement?.sentence}</p>
          <p className="text-soft">
            The move is held against its baseline: what this capture does not have cannot be missed later. Capture again, or say why it is
            good enough.
          </p>
          <Field label="Why" value={reason} onChange={setReason} required autoFocus hint="Kept with your name and the date." fault={said} />
          <div className="flex gap-2">
            <Button type="submit" look="strong" disabled={name.isPending}>
              Name it all the same
            </Button>
            <Button onClick={() => setOpen(false)}>Cancel</Button>
          </div>
        </form>
      </Dialog>
    </>
  );
}

/** Numbers that no file shows, typed or pasted for a side: what is counted, and how many there are. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";

import { api, data, Refused } from "../api/client";
import { Button } from "./Button";
import { Dialog } from "./Dialog";

type Side = "source" | "destination";

export function TypeNumbers({ move, side }: { move: number; side: Side }) {
  const [open, setOpen] = useState(false);
  const [text, setText] = useState("");
  const queries = useQueryClient();
  const keep = useMutation({
    mutationFn: () => data(api.POST("/api/moves/{id}/imports/numbers/", { params: { path: { id: move } }, body: { side, text } })),
    onSuccess: () => {
      void queries.invalidateQueries({ queryKey: ["imports", move] });
      setText("");
      setOpen(false);
    },
  });
  const said = keep.error instanceof Refused ? (keep.error.fields.text ?? keep.error.message) : keep.error?.message;
  return (
    <>
      <button type="button" className="text-ink underline underline-offset-2" onClick={() => setOpen(true)}>
        Numbers …
      </button>
      <Dialog open={open} onClose={() => setOpen(false)} title={`Numbers of the ${side}, typed by hand`}>
        <form
          className="space-y-4"
          onSubmit={(event) => {
            event.preventDefault();
            keep.mutate();
          }}
        >
          <p className="text-soft">For what no file shows: what is counted and how many there are, one a line. Type the same for the other side, and Counts holds them against each other.</p>
          <label className="block">
            <span className="text-soft mb-1 block text-[13px]">Numbers</span>
            <textarea
              required
              rows={6}
              value={text}
              onChange={(event) => setText(event.target.value)}
              placeholder={"Orders 1,284\nNewsletter subscribers 731"}
              className="bg-leaf border-line text-ink w-full rounded-[3px] border px-3 py-2 font-mono text-[14px]"
            />
          </label>
          {said ? (
            <p role="alert" className="text-madder font-semibold break-words">
              {said}
            </p>
          ) : null}
          <div className="flex gap-2">
            <Button type="submit" look="strong" disabled={keep.isPending}>
              Keep them
            </Button>
            <Button onClick={() => setOpen(false)}>Close</Button>
          </div>
        </form>
      </Dialog>
    </>
  );
}

/** Delete a move with all its evidence, after its name is typed. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";

import { api, Refused, type Move } from "../api/client";
import { Button } from "./Button";
import { Dialog } from "./Dialog";
import { Field } from "./Field";

export function DeleteMove({ move }: { move: Move }) {
  const [open, setOpen] = useState(false);
  const [name, setName] = useState("");
  const navigate = useNavigate();
  const queries = useQueryClient();
  const remove = useMutation({
    mutationFn: () => api.DELETE("/api/moves/{id}/", { params: { path: { id: move.id } }, body: { name } as never }),
    onSuccess: async () => {
      queries.removeQueries({ queryKey: ["move", move.id] });
      await queries.invalidateQueries({ queryKey: ["moves"] });
      await navigate("/");
    },
  });
  const refused = remove.error instanceof Refused ? remove.error : null;
  if (move.role !== "owner") return null;
  return (
    <section className="px-6 py-6">
      <Button look="danger" onClick={() => setOpen(true)}>
        Delete this move …
      </Button>
      <Dialog open={open} onClose={() => setOpen(false)} title={`Delete ${move.name}?`}>
        <form
          className="space-y-4"
          onSubmit={(event) => {
            event.preventDefault();
            remove.mutate();
          }}
        >
          <p>All its captures, WARC files, comparisons and decisions are deleted. This cannot be undone.</p>
          <Field label={`Type its name: ${move.name}`} value={name} onChange={setName} autoFocus fault={refused?.fields.name ?? refused?.message} />
          <div className="flex gap-2">
            <Button type="submit" look="danger" disabled={remove.isPending || name !== move.name}>
              Delete it all
            </Button>
            <Button onClick={() => setOpen(false)}>Keep it</Button>
          </div>
        </form>
      </Dialog>
    </section>
  );
}

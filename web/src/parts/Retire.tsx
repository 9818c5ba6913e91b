/** Retire a page or its section: a decision, with a reason. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";

import { api, type Row } from "../api/client";
import { Button } from "./Button";
import { Dialog } from "./Dialog";
import { Field } from "./Field";

export function Retire({ move, row, onClose }: { move: number; row: Row | null; onClose: () => void }) {
  const [reason, setReason] = useState("");
  const [whole, setWhole] = useState(false);
  const queries = useQueryClient();
  const retire = useMutation({
    mutationFn: async () => {
      await api.POST("/api/moves/{id}/decisions/", {
        params: { path: { id: move } },
        body: whole
          ? { kind: "retire", section: row?.group, reason }
          : { kind: "retire", address: row?.left ?? "", reason },
      });
    },
    onSuccess: () => {
      setReason("");
      void queries.invalidateQueries({ queryKey: ["comparisons", move] });
      onClose();
    },
  });
  if (row && !row.left)
    return (
      <Dialog open onClose={onClose} title="This page is new">
        <p>Only a page of the source can be retired; this one exists at the destination alone.</p>
      </Dialog>
    );
  return (
    <Dialog open={row !== null} onClose={onClose} title="Retire this page">
      <form
        className="space-y-4"
        onSubmit={(event) => {
          event.preventDefault();
          retire.mutate();
        }}
      >
        <p className="font-mono text-[14px] break-all">{row?.left}</p>
        <p className="text-soft">It is meant to be gone at the destination. The comparison is made again at once.</p>
        <Field label="Why" value={reason} onChange={setReason} required autoFocus hint="Kept with your name and the date." />
        <label className="flex items-center gap-2">
          <input type="checkbox" className="accent-ink" checked={whole} onChange={(event) => setWhole(event.target.checked)} />
          <span>
            The whole section <span className="font-mono text-[14px]">{row?.group}</span>
          </span>
        </label>
        {retire.error ? (
          <p role="alert" className="text-madder font-semibold">
            {retire.error.message}
          </p>
        ) : null}
        <div className="flex gap-2">
          <Button type="submit" look="strong" disabled={retire.isPending}>
            Retire it
          </Button>
          <Button onClick={onClose}>Cancel</Button>
        </div>
      </form>
    </Dialog>
  );
}

/** How much a kind of finding weighs in this move: a decision like any other, revoked in Decisions. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";

import { api, type Finding } from "../api/client";
import { Button } from "./Button";
import { Pick } from "./RowFilters";
import { Dialog } from "./Dialog";
import { Field } from "./Field";
import { WEIGHT_WORDS } from "./weights";

type Props = { move: number; kind: Finding["kind"]; label: string; open: boolean; onClose: () => void };

export function WeightDialog({ move, kind, label, open, onClose }: Props) {
  const [weight, setWeight] = useState<Finding["weight"]>("mend");
  const [reason, setReason] = useState("");
  const queries = useQueryClient();
  const weigh = useMutation({
    mutationFn: async () => {
      await api.POST("/api/moves/{id}/weights/", { params: { path: { id: move } }, body: { kind, weight, reason } });
    },
    onSuccess: () => {
      setReason("");
      void queries.invalidateQueries({ queryKey: ["comparisons", move] });
      void queries.invalidateQueries({ queryKey: ["decisions", move] });
      onClose();
    },
  });
  return (
    <Dialog open={open} onClose={onClose} title={`How much “${label}” weighs`}>
      <form
        className="space-y-4"
        onSubmit={(event) => {
          event.preventDefault();
          weigh.mutate();
        }}
      >
        <p className="text-soft">In this move alone, at once.</p>
        <Pick label="Weight in this move" value={weight} onPick={(value) => setWeight(value as Finding["weight"])}>
          {Object.entries(WEIGHT_WORDS).map(([one, name]) => (
            <option key={one} value={one}>
              {name}
            </option>
          ))}
        </Pick>
        <Field label="Why" value={reason} onChange={setReason} required autoFocus hint="Kept with your name and the date." />
        {weigh.error ? (
          <p role="alert" className="text-madder font-semibold">
            {weigh.error.message}
          </p>
        ) : null}
        <div className="flex gap-2">
          <Button type="submit" look="strong" disabled={weigh.isPending}>
            Save
          </Button>
          <Button onClick={onClose}>Cancel</Button>
        </div>
      </form>
    </Dialog>
  );
}

/** Pair two pages by hand, or part them: a decision that holds in every later comparison. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";

import { api, type Row } from "../api/client";
import { Button } from "./Button";
import { Dialog } from "./Dialog";
import { Field } from "./Field";

type Props = { move: number; row: Row | null; paired: boolean; base: string; onClose: () => void };

export function PairByHand({ move, row, paired, base, onClose }: Props) {
  const [reason, setReason] = useState("");
  const [address, setAddress] = useState("");
  const queries = useQueryClient();
  const decide = useMutation({
    mutationFn: async (said: "pair" | "part" | "confirm") => {
      const right = said === "pair" ? new URL(address.trim(), base).href : (row?.right ?? "");
      await api.POST("/api/moves/{id}/decisions/", {
        params: { path: { id: move } },
        body: { kind: said === "part" ? "part" : "pair", left: row?.left ?? "", right, reason },
      });
    },
    onSuccess: () => {
      setReason("");
      setAddress("");
      void queries.invalidateQueries({ queryKey: ["comparisons", move] });
      void queries.invalidateQueries({ queryKey: ["decisions", move] });
      onClose();
    },
  });
  return (
    <Dialog open={row !== null} onClose={onClose} title={paired ? "Change the pair" : "Pair by hand"}>
      <form
        className="space-y-4"
        onSubmit={(event) => {
          event.preventDefault();
          decide.mutate(address.trim() ? "pair" : "part");
        }}
      >
        <p className="font-mono text-[14px] break-all">{row?.left}</p>
        {paired ? (
          <p className="text-soft">
            It is held against <span className="text-ink font-mono text-[14px] break-all">{row?.right}</span>. Confirm that, part
            the two, or name its true partner. It holds in every later comparison.
          </p>
        ) : (
          <p className="text-soft">Name the page of the destination that it became. It holds in every later comparison.</p>
        )}
        <Field label="Page of the destination" value={address} onChange={setAddress} mono required={!paired} autoFocus hint={`A path, or an address of ${base}`} />
        <Field label="Why" value={reason} onChange={setReason} required hint="Kept with your name and the date." />
        {decide.error ? (
          <p role="alert" className="text-madder font-semibold">
            {decide.error.message}
          </p>
        ) : null}
        <div className="flex gap-2">
          <Button type="submit" look="strong" disabled={decide.isPending}>
            {address.trim() || !paired ? "Pair them" : "Part them"}
          </Button>
          {paired && !address.trim() ? (
            <Button disabled={decide.isPending || !reason.trim()} onClick={() => decide.mutate("confirm")}>
              Confirm them
            </Button>
          ) : null}
          <Button onClick={onClose}>Cancel</Button>
        </div>
      </form>
    </Dialog>
  );
}

/** Undo: one key takes back what this person decided last about the move. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";

import { api, data, type Schemas } from "../api/client";
import { count } from "../lib/format";
import { useKeys } from "../lib/keys";

const SHOWN = 8_000;

/** What was decided, as it stands after "Undone:". */
function said(one: Schemas["Decision"]): string {
  if (one.kind === "accept") return `${count(one.findings, "finding")} accepted, “${one.reason}”`;
  if (one.kind === "retire") return `${one.section || one.address || ""} retired`;
  if (one.kind === "pair" || one.kind === "part") return `${one.left ?? ""} ${one.kind === "pair" ? "paired" : "parted"}`;
  return one.says;
}

export function Undo({ move }: { move: number }) {
  const queries = useQueryClient();
  const undo = useMutation({
    mutationFn: () => data(api.POST("/api/moves/{id}/undo/", { params: { path: { id: move } } })),
    onSettled: () =>
      Promise.all([
        queries.invalidateQueries({ queryKey: ["comparisons", move] }),
        queries.invalidateQueries({ queryKey: ["decisions", move] }),
      ]),
  });
  const { reset } = undo;
  useKeys({
    u: () => {
      if (!undo.isPending) undo.mutate();
    },
  });
  const over = undo.isSuccess || undo.isError;
  useEffect(() => {
    if (!over) return;
    const timer = setTimeout(reset, SHOWN);
    return () => clearTimeout(timer);
  }, [over, reset]);
  return (
    <div role="status" aria-live="polite" className={over ? "bg-ink text-leaf fixed bottom-12 left-6 z-10 max-w-[90vw] rounded-[3px] px-4 py-2 text-[14px]" : ""}>
      {undo.data ? `Undone: ${said(undo.data)}.` : undo.error ? undo.error.message : ""}
    </div>
  );
}

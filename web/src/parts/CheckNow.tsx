/** Ask one address on both sides now, without a capture: who answers, with what. */
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";

import { api, data, Refused } from "../api/client";
import { Button } from "./Button";
import { Dialog } from "./Dialog";
import { Field } from "./Field";
import { Who } from "./Who";

export function CheckNow({ move, address, label }: { move: number; address: string; label: string }) {
  const [open, setOpen] = useState(false);
  const [typed, setTyped] = useState(address);
  const ask = useMutation({
    mutationFn: (asked: string) =>
      data(api.POST("/api/moves/{id}/who/", { params: { path: { id: move } }, body: { address: asked } })),
  });
  const fault = ask.error instanceof Refused ? ask.error.fields.address : undefined;
  return (
    <>
      <button
        type="button"
        className="text-[14px] whitespace-nowrap underline underline-offset-2"
        onClick={() => {
          setTyped(address);
          setOpen(true);
          ask.mutate(address);
        }}
      >
        {label}
      </button>
      <Dialog open={open} onClose={() => setOpen(false)} title="Who answers now" wide>
        <form
          className="mb-4 flex items-end gap-2"
          onSubmit={(event) => {
            event.preventDefault();
            ask.mutate(typed);
          }}
        >
          <Field className="flex-1" label="Path, or address of the source" mono value={typed} onChange={setTyped} spellCheck={false} fault={fault} />
          <Button type="submit" look="strong" disabled={ask.isPending}>
            Check now
          </Button>
        </form>
        {ask.error && !fault ? (
          <p role="alert" className="text-madder font-semibold">
            {ask.error.message}
          </p>
        ) : null}
        <div className="grid grid-cols-2 gap-6">
          {(["source", "destination"] as const).map((side) => (
            <section key={side} aria-label={side} className="min-w-0">
              <h3 className="text-[15px] capitalize">{side}</h3>
              <p className="text-soft mb-1 font-mono text-[13px] break-all">{ask.data?.[side].address ?? ""}</p>
              <Who answers={ask.data?.[side] ?? null} asking={ask.isPending} />
            </section>
          ))}
        </div>
        {ask.data?.remark ? <p className={`mt-3 ${ask.data.same_site ? "text-madder font-semibold" : "text-soft"}`}>{ask.data.remark}</p> : null}
      </Dialog>
    </>
  );
}

/** Ask the public API of a side's content platform, and keep what it says as a capture. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";

import { api, data, Refused } from "../api/client";
import { readSoFar } from "../lib/siteFiles";
import { Button } from "./Button";
import { Dialog } from "./Dialog";
import { Field } from "./Field";
import { useImports } from "./ImportCapture";
import { JsonListings } from "./JsonListings";

type Side = "source" | "destination";

export function AskApi({ move, side }: { move: number; side: Side }) {
  const [open, setOpen] = useState(false);
  const [account, setAccount] = useState({ userName: "", password: "" });
  const queries = useQueryClient();
  const imports = useImports(move);
  const ask = useMutation({
    mutationFn: () =>
      data(api.POST("/api/moves/{id}/imports/api/", { params: { path: { id: move } }, body: { side, user_name: account.userName.trim(), password: account.password } })),
    onSuccess: () => setAccount({ ...account, password: "" }),
    onSettled: () => queries.invalidateQueries({ queryKey: ["imports", move] }),
  });
  const faults = ask.error instanceof Refused ? ask.error.fields : {};
  const mine = imports.data?.find((one) => one.id === ask.data?.id);
  useEffect(() => {
    if (mine?.state === "done") void queries.invalidateQueries({ queryKey: ["captures", move] });
  }, [mine?.state, move, queries]);
  return (
    <>
      <button type="button" className="text-ink underline underline-offset-2" onClick={() => setOpen(true)}>
        From its API …
      </button>
      <Dialog open={open} onClose={() => setOpen(false)} title={`What the API of the ${side} shows`} wide>
        <div className="space-y-4">
          <p className="text-soft">
            WordPress shows its posts, pages, terms, comments and media at /wp-json/. They are asked for, counted, and kept as a capture, so that Counts can name
            the item that is missing.
          </p>
          <p className="text-soft">
            Without an account that is what visitors may see. With one, and an application password of it (WordPress makes it under Users, Profile), drafts and what is
            waiting are counted too. The password is sent to the {side} alone, and forgotten afterwards.
          </p>
          <div className="flex flex-wrap gap-4">
            <Field label="User name" value={account.userName} onChange={(userName) => setAccount({ ...account, userName })} fault={faults.user_name} autoComplete="off" className="flex-1" />
            <Field
              label="Application password"
              type="password"
              value={account.password}
              onChange={(password) => setAccount({ ...account, password })}
              fault={faults.password}
              autoComplete="off"
              className="flex-1"
            />
          </div>
          {ask.error && !Object.keys(faults).length ? (
            <p role="alert" className="text-madder font-semibold">
              {ask.error.message}
            </p>
          ) : null}
          {mine ? (
            <p role="status" className={`bg-gutter rounded-[3px] p-3 text-[14px] break-words ${mine.state === "failed" ? "text-madder font-semibold" : ""}`}>
              {mine.state === "waiting" ? `Asking: ${readSoFar(mine)} so far …` : mine.said}
            </p>
          ) : null}
          <JsonListings move={move} side={side} />
          <div className="flex gap-2">
            <Button look="strong" onClick={() => ask.mutate()} disabled={ask.isPending || mine?.state === "waiting"}>
              Ask it
            </Button>
            <Button onClick={() => setOpen(false)}>Close</Button>
          </div>
        </div>
      </Dialog>
    </>
  );
}

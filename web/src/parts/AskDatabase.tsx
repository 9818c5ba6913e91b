/** Read the live database of a side, and keep what it holds as a capture of its dump. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";

import { api, data, Refused } from "../api/client";
import { readSoFar } from "../lib/siteFiles";
import { Button } from "./Button";
import { Dialog } from "./Dialog";
import { Field } from "./Field";
import { useImports } from "./ImportCapture";

type Side = "source" | "destination";
type Server = "mariadb" | "postgresql";

const PORTS = { mariadb: "3306", postgresql: "5432" };
const EMPTY = { server: "mariadb" as Server, host: "", port: "", database: "", user_name: "", password: "", certified: false };

export function AskDatabase({ move, side }: { move: number; side: Side }) {
  const [open, setOpen] = useState(false);
  const [typed, setTyped] = useState(EMPTY);
  const queries = useQueryClient();
  const imports = useImports(move);
  const read = useMutation({
    mutationFn: () =>
      data(
        api.POST("/api/moves/{id}/imports/database/", {
          params: { path: { id: move } },
          body: { ...typed, side, port: typed.port.trim() ? Number(typed.port) : null },
        }),
      ),
    onSuccess: () => setTyped({ ...typed, password: "" }),
    onSettled: () => queries.invalidateQueries({ queryKey: ["imports", move] }),
  });
  const faults = read.error instanceof Refused ? read.error.fields : {};
  const mine = imports.data?.find((one) => one.id === read.data?.id);
  useEffect(() => {
    if (mine?.state === "done") void queries.invalidateQueries({ queryKey: ["captures", move] });
  }, [mine?.state, move, queries]);
  const field = (name: "host" | "port" | "database" | "user_name" | "password", label: string, more: object = {}) => (
    <Field label={label} value={typed[name]} onChange={(value) => setTyped({ ...typed, [name]: value })} fault={faults[name]} autoComplete="off" {...more} />
  );
  return (
    <>
      <button type="button" className="text-ink underline underline-offset-2" onClick={() => setOpen(true)}>
        From its database …
      </button>
      <Dialog open={open} onClose={() => setOpen(false)} title={`What the live database of the ${side} holds`} wide>
        <form
          className="space-y-4"
          onSubmit={(event) => {
            event.preventDefault();
            read.mutate();
          }}
        >
          <p className="text-soft">
            Its tables are read as a dump would show them, within one transaction that cannot write, and kept as a capture. An account that may read them is enough. The password is
            forgotten afterwards. Where the server is not reached from here, import a dump.
          </p>
          <div className="grid grid-cols-[minmax(0,1.2fr)_minmax(0,2fr)_minmax(0,0.8fr)] gap-4">
            <label className="text-soft text-[13px]">
              <span className="mb-1 block">Server</span>
              <select
                className="bg-leaf border-line text-ink h-[34px] w-full rounded-[3px] border px-1 text-[14px]"
                value={typed.server}
                onChange={(event) => setTyped({ ...typed, server: event.target.value as Server })}
              >
                <option value="mariadb">MariaDB or MySQL</option>
                <option value="postgresql">PostgreSQL</option>
              </select>
            </label>
            {field("host", "Host", { mono: true, spellCheck: false })}
            {field("port", "Port", { mono: true, inputMode: "numeric", placeholder: PORTS[typed.server] })}
          </div>
          <div className="grid grid-cols-3 gap-4">
            {field("database", "Database", { mono: true, spellCheck: false })}
            {field("user_name", "User name", { spellCheck: false })}
            {field("password", "Password", { type: "password", autoComplete: "new-password" })}
          </div>
          <label className="flex items-baseline gap-2">
            <input type="checkbox" checked={typed.certified} onChange={(event) => setTyped({ ...typed, certified: event.target.checked })} />
            <span>
              Only over TLS, with a certificate that is valid for the host. <span className="text-soft">Otherwise over TLS where the server offers it.</span>
            </span>
          </label>
          {read.error && !Object.keys(faults).length ? (
            <p role="alert" className="text-madder font-semibold">
              {read.error.message}
            </p>
          ) : null}
          {mine ? (
            <p role="status" className={`bg-gutter rounded-[3px] p-3 text-[14px] break-words ${mine.state === "failed" ? "text-madder font-semibold" : ""}`}>
              {mine.state === "waiting" ? `Reading: ${readSoFar(mine)} so far …` : mine.said}
            </p>
          ) : null}
          <div className="flex gap-2">
            <Button type="submit" look="strong" disabled={read.isPending || mine?.state === "waiting"}>
              Read it
            </Button>
            <Button onClick={() => setOpen(false)}>Close</Button>
          </div>
        </form>
      </Dialog>
    </>
  );
}

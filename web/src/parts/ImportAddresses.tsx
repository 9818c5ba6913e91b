/** Import addresses that are known from elsewhere: a list, a CSV export, an access log. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";

import { api, data, Refused, type Schemas } from "../api/client";
import { Button } from "./Button";
import { Dialog } from "./Dialog";
import { Field } from "./Field";
import { FileField, formOf } from "./FileField";
import { count, host as hostOf } from "../lib/format";

type Side = "source" | "destination";

export function ImportAddresses({ move, side }: { move: number; side: Side }) {
  const [open, setOpen] = useState(false);
  const imported = useImported(move);
  const number = imported.data?.[side] ?? 0;
  return (
    <>
      <button type="button" className="text-ink underline underline-offset-2" onClick={() => setOpen(true)}>
        {number ? `${count(number, "address", "addresses")} imported …` : "Import addresses …"}
      </button>
      <AddressesDialog move={move} side={side} number={number} open={open} onClose={() => setOpen(false)} />
    </>
  );
}

function useImported(move: number) {
  return useQuery({
    queryKey: ["imported", move],
    queryFn: () => data(api.GET("/api/moves/{id}/address-lists/", { params: { path: { id: move } } })),
  });
}

function AddressesDialog({ move, side, number, open, onClose }: { move: number; side: Side; number: number; open: boolean; onClose: () => void }) {
  const [file, setFile] = useState<File | null>(null);
  const [column, setColumn] = useState("");
  const [host, setHost] = useState("");
  const described = useQuery({
    queryKey: ["move", move],
    queryFn: () => data(api.GET("/api/moves/{id}/", { params: { path: { id: move } } })),
    enabled: open,
  });
  const further = described.data?.[side].further ?? [];
  const queries = useQueryClient();
  const refresh = () => queries.invalidateQueries({ queryKey: ["imported", move] });
  const upload = useMutation({
    mutationFn: (given: File) =>
      data(
        api.POST("/api/moves/{id}/address-lists/", {
          params: { path: { id: move } },
          body: { side, file: "", column, host },
          bodySerializer: () => formOf(given, { side, column, host }),
        }),
      ),
    onSuccess: refresh,
  });
  const forget = useMutation({
    mutationFn: () => api.DELETE("/api/moves/{id}/address-lists/{side}/", { params: { path: { id: move, side } } }),
    onSuccess: () => {
      upload.reset();
      return refresh();
    },
  });
  const said = upload.error instanceof Refused ? (upload.error.fields.file ?? (upload.error.fields.column ? "" : upload.error.message)) : upload.error?.message;
  return (
    <Dialog open={open} onClose={onClose} title={`Addresses of the ${side} known from elsewhere`}>
      <form
        className="space-y-4"
        onSubmit={(event) => {
          event.preventDefault();
          if (file) upload.mutate(file);
        }}
      >
        <p className="text-soft">
          One address a line, a CSV export of a search engine or of statistics, or an access log; gzip is unpacked. The next capture of the{" "}
          {side} asks for them, also if nothing links there{side === "source" ? "; visits that a log tells of say which lost page matters most" : ""}.
        </p>
        <FileField onChange={setFile} />
        <Field
          label="Column with the addresses (heading or number; found by itself if left out)"
          value={column}
          onChange={setColumn}
          fault={upload.error instanceof Refused ? upload.error.fields.column : undefined}
        />
        {further.length ? (
          <label className="block text-[14px]">
            <span className="text-soft mb-1 block text-[13px]">Host that wrote the log</span>
            <select className="bg-leaf border-line rounded-[3px] border px-2 py-1" value={host} onChange={(event) => setHost(event.target.value)}>
              <option value="">the main one</option>
              {further.map((one) => (
                <option key={one.place} value={hostOf(one.base)}>
                  {hostOf(one.base)}
                </option>
              ))}
            </select>
          </label>
        ) : null}
        {said ? (
          <p role="alert" className="text-madder font-semibold break-words">
            {said}
          </p>
        ) : null}
        {upload.data ? <Outcome outcome={upload.data} /> : null}
        <div className="flex flex-wrap gap-2">
          <Button type="submit" look="strong" disabled={upload.isPending}>
            {upload.isPending ? "Reading …" : "Import them"}
          </Button>
          {number ? (
            <Button onClick={() => forget.mutate()} disabled={forget.isPending}>
              Let go of the {count(number, "address", "addresses")}
            </Button>
          ) : null}
          <Button onClick={onClose}>Close</Button>
        </div>
      </form>
    </Dialog>
  );
}

function Outcome({ outcome }: { outcome: Schemas["Outcome"] }) {
  const left: [number, string, string][] = [
    [outcome.elsewhere, "address of another site", "addresses of other sites"],
    [outcome.failed, "request that got no page", "requests that got no page"],
    [outcome.unread, "line without an address", "lines without an address"],
  ];
  const out = left.filter(([number]) => number).map(([number, one, many]) => count(number, one, many));
  return (
    <div role="status" className="bg-gutter rounded-[3px] p-3 text-[14px]">
      <p>
        <b>{count(outcome.new, "address is", "addresses are")} new</b>, of {count(outcome.listed + outcome.logged, "line", "lines")} that name
        this side.
      </p>
      {outcome.visits ? <p>{count(outcome.visits, "visit")} counted: what is visited most comes first among what is lost.</p> : null}
      {out.length ? <p>Left out: {out.join(", ")}.</p> : null}
      {outcome.examples.map((example) => (
        <p key={example} className="truncate font-mono text-[13px]">
          {example}
        </p>
      ))}
    </div>
  );
}

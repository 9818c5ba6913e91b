/** A table of a dump to be counted in Counts, as a whole or by the values of one of its columns. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";

import { api, data, type Schemas } from "../api/client";
import { Button } from "./Button";

type Table = Schemas["Table"];

const WHOLE = "";
const look = "border-line bg-leaf max-w-full rounded-[3px] border px-2 py-1.5";

export function CountTable({ move, tables }: { move: number; tables: Table[] }) {
  const [open, setOpen] = useState(false);
  const [name, setName] = useState(tables[0]?.name ?? "");
  const [column, setColumn] = useState(WHOLE);
  const queries = useQueryClient();
  const held = useQuery({
    queryKey: ["options", move],
    queryFn: () => data(api.GET("/api/moves/{id}/options/", { params: { path: { id: move } } })),
    enabled: open,
  });
  const options = held.data?.find((one) => one.check === "content")?.options ?? [];
  const lines = (options.find((one) => one.name === "tables")?.value as string[] | undefined) ?? [];
  const line = column === WHOLE ? name : `${name}: ${column}`;
  const counted = lines.some((one) => one.toLowerCase() === line.toLowerCase());
  const save = useMutation({
    mutationFn: (tablesNow: string[]) =>
      data(
        api.PUT("/api/moves/{id}/options/{check}/", {
          params: { path: { id: move, check: "content" } },
          body: { values: { ...Object.fromEntries(options.map((one) => [one.name, one.value])), tables: tablesNow } },
        }),
      ),
    onSuccess: () => {
      void queries.invalidateQueries({ queryKey: ["options", move] });
      void queries.invalidateQueries({ queryKey: ["comparisons", move] });
    },
  });
  return (
    <details className="pt-4 text-[14px]" onToggle={(event) => setOpen(event.currentTarget.open)}>
      <summary className="cursor-pointer font-semibold">Count a table in Counts</summary>
      <p className="text-soft max-w-[70ch] pt-2">For what is not counted by itself: orders, bookings, form entries. Both sides need a dump.</p>
      <div className="flex flex-wrap items-end gap-3 pt-2">
        <label className="min-w-0">
          <span className="text-soft mb-1 block text-[13px]">Table</span>
          <select
            className={look}
            value={name}
            onChange={(event) => {
              setName(event.target.value);
              setColumn(WHOLE);
            }}
          >
            {[...new Set(tables.map((one) => one.name))].map((one) => (
              <option key={one}>{one}</option>
            ))}
          </select>
        </label>
        <label className="min-w-0">
          <span className="text-soft mb-1 block text-[13px]">By the values of</span>
          <select className={look} value={column} onChange={(event) => setColumn(event.target.value)}>
            <option value={WHOLE}>no column: all rows together</option>
            {tables
              .find((one) => one.name === name)
              ?.columns.map((one) => <option key={one}>{one}</option>)}
          </select>
        </label>
        <Button onClick={() => save.mutate([...lines, line])} disabled={!held.data || counted || save.isPending}>
          Count it
        </Button>
      </div>
      <div role="status" className="pt-2">
        {lines.length ? (
          <p>
            In <Link to={`/moves/${move}/counts`} className="underline underline-offset-2">Counts</Link> from the next comparison on, which follows by itself:
          </p>
        ) : null}
        <ul>
          {lines.map((one) => (
            <li key={one} className="flex items-baseline gap-3">
              <span className="font-mono [overflow-wrap:anywhere]">{one}</span>
              <button type="button" className="text-soft underline underline-offset-2" onClick={() => save.mutate(lines.filter((other) => other !== one))}>
                Leave out
              </button>
            </li>
          ))}
        </ul>
      </div>
      {[held.error, save.error].map((error) =>
        error ? (
          <p key={error.message} role="alert" className="text-madder">
            {error.message}
          </p>
        ) : null,
      )}
    </details>
  );
}

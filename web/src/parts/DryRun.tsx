/** What replacing the old addresses would change in a dump, and the dump written anew to download. */
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";

import { api, data } from "../api/client";
import { count } from "../lib/format";

export function DryRun({ capture }: { capture: number }) {
  const [open, setOpen] = useState(false);
  const [identifiers, setIdentifiers] = useState(false);
  const query = identifiers ? { identifiers: true } : {};
  const found = useQuery({
    queryKey: ["dry-run", capture, identifiers],
    queryFn: () => data(api.GET("/api/captures/{id}/dry-run/", { params: { path: { id: capture }, query } })),
    enabled: open,
    retry: false,
  });
  const rows = found.data ?? [];
  const cells = rows.reduce((sum, one) => sum + one.cells, 0);
  return (
    <details className="pt-4 text-[14px]" onToggle={(event) => setOpen(event.currentTarget.open)}>
      <summary className="cursor-pointer font-semibold">Replace old addresses: dry run</summary>
      <p className="text-soft max-w-[80ch] pt-2">
        What would change, by the address rule, if the old addresses in this dump were replaced. Lengths of serialized values are counted again; identifiers stay. The dump itself stays as it is.
      </p>
      <label className="flex items-start gap-2 pt-2">
        <input type="checkbox" className="accent-ink mt-1" checked={identifiers} onChange={(event) => setIdentifiers(event.target.checked)} />
        <span>Identifiers (guid) too: feed readers show old items as new then</span>
      </label>
      <div role="status" className="pt-2">
        {open && found.isPending ? <p className="text-soft">Reading the dump …</p> : null}
        {found.error ? (
          <p role="alert" className="text-madder font-semibold">
            {found.error.message}
          </p>
        ) : null}
        {found.data && !rows.length ? <p>No cell of it holds an old address.</p> : null}
        {rows.length ? (
          <>
            <p className="pb-2 font-semibold">
              {count(cells, "cell")} would change.{" "}
              {cells ? (
                <>
                <a className="underline underline-offset-2" href={`/api/captures/${capture}/replaced/${identifiers ? "?identifiers=true" : ""}`}>
                  Download the dump with them replaced
                </a>
                , or{" "}
                <a className="underline underline-offset-2" href={`/api/captures/${capture}/replacement-statements/${identifiers ? "?identifiers=true" : ""}`}>
                  a statement for each cell
                </a>
                , for a database that is live already.
                </>
              ) : null}
            </p>
            <table className="w-full table-fixed">
              <thead className="text-soft text-left text-[13px]">
                <tr>
                  <th className="w-[22%] font-normal">Table, column</th>
                  <th className="w-[16%] font-normal">Cells</th>
                  <th className="font-normal">Before</th>
                  <th className="font-normal">After</th>
                </tr>
              </thead>
              <tbody>
                {rows.map((one) => (
                  <tr key={`${one.table}.${one.column}`} className="border-edge border-t align-top">
                    <td className="py-1 pr-3 [overflow-wrap:anywhere]">
                      {one.table}, {one.column}
                    </td>
                    <td className="py-1 pr-3">
                      {[
                        one.cells ? `${one.cells.toLocaleString("en")} change, ${count(one.occurrences, "address", "addresses")}` : "",
                        one.kept ? `${one.kept.toLocaleString("en")} stay` : "",
                        one.damaged ? `${one.damaged.toLocaleString("en")} damaged, left alone` : "",
                        one.unwritten ? `${one.unwritten.toLocaleString("en")} not understood, left alone` : "",
                      ]
                        .filter(Boolean)
                        .map((said) => (
                          <div key={said}>{said}</div>
                        ))}
                    </td>
                    <td className="py-1 pr-3 font-mono text-[13px] [overflow-wrap:anywhere]">{one.samples[0]?.[0]}</td>
                    <td className="py-1 font-mono text-[13px] [overflow-wrap:anywhere]">{one.samples[0]?.[1]}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          </>
        ) : null}
      </div>
    </details>
  );
}

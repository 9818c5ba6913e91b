/** A dump, an export or a list of files opened: what it holds, and the file itself. */
import { useQuery } from "@tanstack/react-query";

import { api, data, type Capture } from "../api/client";
import { bytes, count, moment } from "../lib/format";
import { siteFileName } from "../lib/siteFiles";
import { Button } from "./Button";
import { CountTable } from "./CountTable";
import { DryRun } from "./DryRun";
import { FitCheck } from "./FitCheck";

export function ContentsDetails({ move, capture, onClose }: { move: number; capture: Capture; onClose: () => void }) {
  const contents = useQuery({
    queryKey: ["contents", capture.id],
    queryFn: () => data(api.GET("/api/captures/{id}/contents/", { params: { path: { id: capture.id } } })),
    staleTime: Infinity,
  });
  const name = `${siteFileName(capture.kind)} of the ${capture.side}`;
  const held = contents.data;
  return (
    <section aria-label={`${name}, opened`} className="border-edge border-b px-6 pt-5 pb-4">
      <div className="flex flex-wrap items-start gap-3">
        <div className="min-w-0 flex-1">
          <h1 className="text-[26px] leading-8">
            {name} of {moment(capture.started_at)}. {capture.sentence}
          </h1>
          <p className={`[overflow-wrap:anywhere] ${capture.complete ? "text-soft text-[14px]" : "text-madder text-[14px] font-semibold"}`}>{capture.detail}.</p>
        </div>
        {held ? (
          <a href={`/api/captures/${capture.id}/file/`} className="max-w-[50%] self-center underline underline-offset-2 [overflow-wrap:anywhere]">
            {held.file}, {bytes(held.bytes)}
          </a>
        ) : null}
        <Button onClick={onClose}>Close</Button>
      </div>
      {contents.error ? (
        <p role="alert" className="text-madder pt-2">
          {contents.error.message}
        </p>
      ) : null}
      {held ? (
        <div className="flex flex-wrap items-start gap-x-12 gap-y-4 pt-4 text-[14px]">
          {held.platforms?.map((platform) => (
            <Table
              key={`${platform.database}/${platform.prefix}`}
              title={`${platform.name}${platform.prefix ? `, its tables beginning with ${platform.prefix}` : ""}`}
              heads={["", "Items"]}
              rows={platform.counts.map((one) => [
                `${one.noun}${one.status ? `, ${one.status}` : ""}${one.folded ? " (set aside)" : ""}`,
                one.number.toLocaleString("en"),
              ])}
            />
          ))}
          {held.tables?.length ? (
            <Table
              title={count(held.tables.length, "table")}
              heads={["", "Rows", "Size", "Largest row"]}
              rows={held.tables.map((one) => [
                one.database ? `${one.database}.${one.name}` : one.name,
                one.rows.toLocaleString("en"),
                bytes(one.size),
                bytes(one.largest),
              ])}
            />
          ) : null}
          {held.numbers && Object.keys(held.numbers).length ? (
            <Table title="Numbers" heads={["", "Counted"]} rows={Object.entries(held.numbers).map(([what, number]) => [what, number.toLocaleString("en")])} />
          ) : null}
          {held.folders?.length ? (
            <Table title="Folders" heads={["", "Files"]} rows={held.folders.map((one) => [one.name || "in no folder", one.files.toLocaleString("en")])} />
          ) : null}
        </div>
      ) : null}
      {held?.tables?.length ? <FitCheck capture={capture.id} /> : null}
      {held?.tables?.length ? <DryRun capture={capture.id} /> : null}
      {held?.tables?.length ? <CountTable move={move} tables={held.tables} /> : null}
    </section>
  );
}

function Table({ title, heads, rows }: { title: string; heads: string[]; rows: string[][] }) {
  return (
    <div className="max-h-[50vh] overflow-y-auto pr-3">
      <table className="tabular-nums">
        <caption className="pb-1 text-left font-semibold whitespace-nowrap">{title}</caption>
        <thead className="text-soft text-[13px]">
          <tr>
            {heads.map((head, place) => (
              <th key={head} className={`font-normal ${place ? "pl-6 text-right" : "text-left"}`}>
                {head || <span className="sr-only">Name</span>}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map((row) => (
            <tr key={row.join()}>
              {row.map((cell, place) => (
                <td key={heads[place]} className={place ? "pl-6 text-right" : "max-w-[28rem] break-all"}>
                  {cell}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

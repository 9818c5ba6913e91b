/** What both addresses answered: hops, status, size, time, header. */
import type { Comparison, Pair } from "../../api/client";
import { bytes, moment, within } from "../../lib/format";

type Side = Pair["left"];
type Line = { name: string; left: string; right: string; mono?: boolean };

export function Answers({ pair, comparison }: { pair: Pair; comparison: Comparison }) {
  const { left, right } = pair;
  const of = (side: Side, base: string): Record<string, string> => (side.address ? lines(side, base) : {});
  const one = of(left, comparison.left.base);
  const other = of(right, comparison.right.base);
  const names = [...new Set([...Object.keys(one), ...Object.keys(other)])];
  const rows: Line[] = names.map((name) => ({ name, left: one[name] ?? "", right: other[name] ?? "", mono: name === "Address" || name.startsWith("Hop") }));
  return (
    <>
      {!left.address || !right.address ? (
        <div className="facing border-edge border-b">
          <p className="left text-soft py-2 text-[14px]">{left.address ? "" : "No page on this side."}</p>
          <div className="mid" />
          <p className="right text-soft py-2 text-[14px]">{right.address ? "" : "No page on this side."}</p>
        </div>
      ) : null}
      {rows.map((row) => (
        <div key={row.name} className="facing border-edge border-b">
          <Value side="left" row={row} value={row.left} />
          <div className="mid text-soft text-[13px]">{telling(row) ? (row.left === row.right ? "same" : "differs") : ""}</div>
          <Value side="right" row={row} value={row.right} />
        </div>
      ))}
    </>
  );
}

/** Sizes and times always differ; only what a server is set up to say is compared. */
function telling(row: Line) {
  return Boolean(row.left && row.right) && (row.name === "Status" || row.name === row.name.toLowerCase()) && !["age", "location"].includes(row.name);
}

function lines(side: Side, base: string): Record<string, string> {
  const found: Record<string, string> = { Address: within(side.address ?? "", base) };
  side.hops.forEach((hop, index) => {
    found[`Hop ${index + 1}`] = `${hop.status ?? ""} from ${within(hop.address, base)}`;
  });
  found["Status"] = side.status ? String(side.status) : side.reason || "never asked";
  if (side.status && side.reason) found["Its body"] = side.reason;
  if (side.status) found["Size and time"] = `${bytes(side.length)} in ${side.took_ms < 1000 ? `${side.took_ms} ms` : `${(side.took_ms / 1000).toFixed(1)} s`}`;
  if (side.asked_at) found["Asked"] = moment(side.asked_at);
  if (side.certificate) found["Certificate"] = side.certificate;
  if (side.recognised) found["Recognised"] = side.recognised;
  for (const [name, value] of Object.entries(side.headers)) found[name] = value;
  if (side.known.length) found["Known by"] = side.known.join(", ");
  return found;
}

function Value({ side, row, value }: { side: "left" | "right"; row: Line; value: string }) {
  return (
    <div className={`${side} grid grid-cols-[110px_minmax(0,1fr)] py-1.5 text-[14px]`}>
      <span className="text-soft truncate">{row.name}</span>
      <bdi className={`break-words ${row.mono ? "font-mono text-[13px]" : ""}`}>{value || <span className="text-soft">none</span>}</bdi>
    </div>
  );
}

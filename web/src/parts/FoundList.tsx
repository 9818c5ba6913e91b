/** The findings on one row: what each is, and who accepted it, why and until when. */
import { Link } from "react-router";

import type { Finding } from "../api/client";
import { count, moment } from "../lib/format";
import { WEIGHT_INK } from "./weights";

export function FoundList({ rows, move }: { rows: Finding[]; move: number }) {
  if (!rows.length) return null;
  return (
    <section aria-label="Findings" className="border-edge relative border-b px-6 py-2 max-[899px]:px-4">
      {/* The gutter goes on, so that the map of the page lies beside the words and not on them. */}
      <span className="bg-gutter absolute inset-y-0 left-1/2 w-[108px] -translate-x-1/2 max-[899px]:hidden" aria-hidden />
      <h2 className="mb-1 text-[15px]">{count(rows.length, "finding")}</h2>
      <ul className="text-[14px] min-[900px]:columns-2 min-[900px]:gap-[156px]">
        {rows.map((one) => (
          <li key={one.number} className="min-w-0 break-inside-avoid break-words">
            <b className={one.state === "open" ? WEIGHT_INK[one.weight] : "text-soft"}>{one.label}</b> {one.detail}
            {one.listed && one.pages > 1 ? (
              <Link className="text-ink ml-1 underline underline-offset-2" to={`/moves/${move}/findings/${one.number}`}>
                on {count(one.pages, "page")}
              </Link>
            ) : null}
            <Aside one={one} />
            {one.follows !== null ? <span className="text-soft"> follows from {rows.find((other) => other.number === one.follows)?.label ?? "another finding"}, does not count by itself</span> : null}
            {one.state === "open" ? "" : <span className="text-soft"> ({one.state})</span>} <Decided one={one} move={move} />
          </li>
        ))}
      </ul>
    </section>
  );
}

/** On how many of its pages an open finding is accepted, and on how many not. */
export function Aside({ one }: { one: Finding }) {
  if (!one.aside) return null;
  return (
    <span className="text-soft ml-1 text-[13px]">
      accepted on {one.aside.toLocaleString("en")}, open on {(one.pages - one.aside).toLocaleString("en")}
    </span>
  );
}

/** Who set a finding aside, when, until when and why; it leads to the decision. */
export function Decided({ one, move }: { one: Finding; move: number }) {
  if (!one.decided_by) return null;
  return (
    <Link className="text-soft text-[13px] underline underline-offset-2" to={`/moves/${move}/decisions?decision=${one.decision ?? ""}`} title={one.reason}>
      {one.decided_by}, {moment(one.decided_at ?? "")}
      {one.ends_at ? ` until ${moment(one.ends_at)}` : ""}: {one.reason}
    </Link>
  );
}

/** The heads of two facing pages: which site, recorded when, how many pages. */
import type { Comparison } from "../api/client";
import { count, host, moment } from "../lib/format";

function Hosts({ base, further }: { base: string; further: string[] }) {
  return (
    <h2 className="truncate text-[17px] leading-6" title={[host(base), ...further].join(", ")}>
      {host(base)}
      {further.length ? <span className="text-soft font-sans text-[13px] font-normal"> with {further.join(", ")}</span> : null}
    </h2>
  );
}

export function FacingHead({ comparison, mid }: { comparison: Comparison; mid?: string }) {
  const { left, right } = comparison;
  const oneSide = left.side === right.side;
  return (
    <div className="facing bg-leaf border-edge shrink-0 overflow-y-hidden border-b [scrollbar-gutter:stable]">
      <div className="left py-2.5">
        <Hosts base={left.base} further={left.further} />
        <p className="text-soft truncate text-[13px]">
          {oneSide ? "Earlier capture" : "Source. Baseline"} of {moment(left.started_at)}. {count(left.pages, "page")}.{left.complete ? "" : " Cut short."}
        </p>
      </div>
      <div className="mid text-soft text-[12px] leading-4">
        {mid ?? `${left.pages.toLocaleString("en")} : ${right.pages.toLocaleString("en")}`}
      </div>
      <div className="right py-2.5">
        <Hosts base={right.base} further={right.further} />
        <p className="text-soft truncate text-[13px]">
          {oneSide
            ? `Later capture of ${moment(right.started_at)}. `
            : `Destination${right.reached ? `, reached at ${right.reached}` : ""}. Round ${right.round}, ${moment(right.started_at)}. `}
          {count(right.pages, "page")}.{right.complete ? "" : " Cut short."}
        </p>
      </div>
    </div>
  );
}

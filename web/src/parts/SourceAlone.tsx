/** What was recorded of the source, while there is nothing to hold it against: its sections, and what looks odd. */
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";

import { api, data, type Capture, type Move } from "../api/client";
import { count, host, moment } from "../lib/format";
import { NameBaseline } from "./NameBaseline";

export function SourceAlone({ move, capture, running = false }: { move: Move; capture: Capture; running?: boolean }) {
  const sections = useQuery({
    queryKey: ["sections", capture.id],
    queryFn: () => data(api.GET("/api/captures/{id}/sections/", { params: { path: { id: capture.id } } })),
    staleTime: Infinity,
  });
  const answers = (chosen: Record<string, string>) => `/moves/${move.id}/captures/${capture.id}/answers?${new URLSearchParams(chosen).toString()}`;
  const most = Math.max(1, ...(sections.data ?? []).map((one) => one.pages));
  const odd = (sections.data ?? []).reduce((sum, one) => sum + one.recognised, 0);
  const { judgement } = capture;
  return (
    <div className="min-h-0 flex-1 overflow-y-auto">
      <div className="border-edge bg-leaf border-b px-6 py-4">
        <h1 className="text-[26px] leading-8">{move.baseline === null ? "Is this the baseline?" : "The baseline is recorded."}</h1>
        <p className="mt-1">
          {count(capture.pages, "page")} of {host(move.source.base)}, captured {moment(capture.started_at)}. {judgement?.sentence}
        </p>
        {move.baseline === null ? (
          <div className="mt-2">
            <p className="text-soft mb-2 text-[14px]">Look at it here first; then name it as the baseline that the move is held against.</p>
            <NameBaseline move={move.id} capture={capture} />
          </div>
        ) : (
          <p className="text-soft mt-1 text-[14px]">
            {running
              ? "A capture is running; its progress stands on Captures. The verdict follows by itself."
              : "Now capture the destination: the button stands above on the right. The verdict follows by itself."}
          </p>
        )}
      </div>
      <div className="grid grid-cols-[minmax(0,1fr)_minmax(0,1fr)] gap-x-10 gap-y-4 px-6 py-4 max-[900px]:grid-cols-1">
        <section>
          <h2 className="mb-1 text-[15px]">Its sections</h2>
          {sections.error ? <p role="alert" className="text-madder">{sections.error.message}</p> : null}
          {sections.data ? null : <p role="status" className="text-soft">Counting …</p>}
          <ul>
            {sections.data?.map((one) => (
              <li key={one.section} className="grid grid-cols-[minmax(0,200px)_60px_minmax(0,1fr)] items-center gap-3 py-0.5 text-[14px]">
                <Link className="truncate font-mono underline decoration-[var(--thread)] underline-offset-2" to={answers({ filter: `section:${one.section}` })}>
                  {one.section}
                </Link>
                <span className="text-right tabular-nums">{one.pages.toLocaleString("en")}</span>
                <span className="bg-thread h-3" style={{ width: `${(one.pages / most) * 100}%` }} />
              </li>
            ))}
          </ul>
        </section>
        <section className="text-[14px]">
          <h2 className="mb-1 text-[15px]">What looks odd</h2>
          <ul className="space-y-0.5">
            {(judgement?.grounds ?? []).map((ground) => (
              <li key={ground.text} className={ground.against ? "text-madder font-semibold" : ""}>
                {ground.text}.
              </li>
            ))}
            {odd ? (
              <li>
                <Link className="underline underline-offset-2" to={answers({ verdict: "recognised" })}>
                  {count(odd, "page is", "pages are")} something else
                </Link>
                : a notice, a wall, an error.
              </li>
            ) : null}
            {capture.not_fetched ? (
              <li>
                <Link className="underline underline-offset-2" to={answers({ verdict: "not_fetched" })}>
                  {count(capture.not_fetched, "address was", "addresses were")} not fetched
                </Link>
                .
              </li>
            ) : null}
            {!judgement?.grounds.length && !odd && !capture.not_fetched ? <li className="text-soft">Nothing.</li> : null}
          </ul>
          <p className="mt-3">
            <Link className="underline underline-offset-2" to={answers({})}>
              All that was asked, and what it gave
            </Link>
          </p>
        </section>
      </div>
    </div>
  );
}

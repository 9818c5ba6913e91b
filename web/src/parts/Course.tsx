/** The course of a capture, live and afterwards: plot, funnel, what answered, how addresses became known. */
import { useQuery } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { Link } from "react-router";

import { api, data, type Capture, type Schemas } from "../api/client";
import { count } from "../lib/format";
import { Plot } from "./Plot";

type Course = Schemas["Course"];

const PLAIN: Record<string, string> = { page: "page of the site", redirect: "redirect", "file or image": "file or image", sitemap: "sitemap", "robots rules": "robots rules", "not fetched": "not fetched", "made up": "made up by the capture" };

/** Where the answers behind a number are listed. */
function listOf(move: number, capture: Capture, chosen: Record<string, string>): string {
  return `/moves/${move}/captures/${capture.id}/answers?${new URLSearchParams(chosen).toString()}`;
}

export function CourseOf({ capture, move }: { capture: Capture; move: number }) {
  const live = capture.state !== "closed";
  const found = useQuery({
    queryKey: ["course", capture.id, live],
    queryFn: () => data(api.GET("/api/captures/{id}/course/", { params: { path: { id: capture.id } } })),
    refetchInterval: live ? 3_000 : false,
  });
  if (found.error) return <p role="alert" className="text-madder px-6 py-3">{found.error.message}</p>;
  const course = found.data;
  return (
    <>
      {course && course.points.length > 1 ? <Plot course={course} live={capture.state === "running"} /> : null}
      <div className="grid grid-cols-[minmax(0,1fr)_minmax(0,1fr)] gap-x-10 gap-y-4 px-6 py-4 max-[900px]:grid-cols-1">
        <Funnel capture={capture} course={course} move={move} />
        <Answered course={course} capture={capture} move={move} />
        <KnownBy course={course} live={live} capture={capture} move={move} />
        <HeaderFields course={course} capture={capture} move={move} />
        <Apart capture={capture} course={course} move={move} />
      </div>
    </>
  );
}

function Funnel({ capture, course, move }: { capture: Capture; course?: Course; move: number }) {
  const why = course?.not_fetched.slice(0, 3).map((one) => `${one.number.toLocaleString("en")} ${one.what}`).join(", ");
  const bars: [string, number, string, Record<string, string>, string?][] = [
    ["known addresses", capture.known, "bg-thread", { filter: "known" }],
    ["answered", capture.asked - capture.not_fetched, "bg-thread", { filter: "answered" }, again(capture)],
    ["pages", capture.pages, "bg-ink", { filter: "pages" }],
    ["files and images", capture.files, "bg-thread", { verdict: "file" }],
    ["not fetched", capture.not_fetched, "bg-madder", { verdict: "not_fetched" }, why],
  ];
  return (
    <section>
      <h2 className="mb-1 text-[15px]">From known to page</h2>
      <dl className="grid grid-cols-[130px_minmax(0,1fr)] gap-y-0.5 text-[14px]">
        {bars.map(([name, number, ink, chosen, said]) => (
          <div key={name} className="contents">
            <dt>{name}</dt>
            <dd className="flex items-baseline gap-2">
              <span className={`h-3 shrink-0 ${ink}`} style={{ width: `min(${(number / Math.max(1, capture.known)) * 200}px, ${(number / Math.max(1, capture.known)) * 50}%)` }} />
              <Number to={listOf(move, capture, chosen)} number={number} />
              {said ? <span className="text-soft min-w-0 break-words">{said}</span> : null}
            </dd>
          </div>
        ))}
      </dl>
    </section>
  );
}

function again(capture: Capture): string {
  const told = [
    capture.unchanged ? `${capture.unchanged.toLocaleString("en")} unchanged since` : "",
    capture.taken_over ? `${capture.taken_over.toLocaleString("en")} taken over` : "",
  ];
  return told.filter(Boolean).join(", ");
}

const VERDICT_OF: Record<string, string> = { page: "page", redirect: "redirect", "file or image": "file", sitemap: "other", "robots rules": "other", "not fetched": "not_fetched", "made up": "other" };

function Answered({ course, capture, move }: { course?: Course; capture: Capture; move: number }) {
  return (
    <Table title="What answered">
      {course?.answered.map((one) => {
        const kind = !(one.what in PLAIN) && !/^\d/.test(one.what);
        return (
          <Line
            key={one.what}
            to={listOf(move, capture, one.what in VERDICT_OF ? { verdict: VERDICT_OF[one.what] ?? "" } : /^\d/.test(one.what) ? { filter: `status:${one.what}` } : { verdict: "recognised" })}
            name={PLAIN[one.what] ?? (/^\d/.test(one.what) ? `status ${one.what}` : one.what)} number={one.number} ink={kind ? "text-madder" : ""} />
        );
      })}
    </Table>
  );
}

function KnownBy({ course, live, capture, move }: { course?: Course; live: boolean; capture: Capture; move: number }) {
  const unlinked = course?.unlinked;
  return (
    <Table title="How addresses became known">
      {course?.known.map((one) => (
        <Line key={one.by} to={listOf(move, capture, { filter: `by:${one.bit}` })} name={one.by} number={one.known} said={answering(one, live)} />
      ))}
      {unlinked?.known ? <Line to={listOf(move, capture, { filter: "unlinked" })} name="of these, linked from nowhere" number={unlinked.known} said={answering(unlinked, live)} /> : null}
    </Table>
  );
}

/** What a host says with all its answers alike: caching, security, cookies, its software. */
function HeaderFields({ course, capture, move }: { course?: Course; capture: Capture; move: number }) {
  if (!course?.header_fields.length) return null;
  return (
    <Table title="Header fields of its answers">
      {course.header_fields.map((one) => (
        <Line
          key={one.name}
          to={listOf(move, capture, { filter: `header:${one.name}` })}
          name={one.name}
          number={one.answers}
          said={one.values > 1 ? `${count(one.values, "value")}, most often ${short(one.commonest)}` : short(one.commonest)}
        />
      ))}
    </Table>
  );
}

/** The beginning of a text that may be long. */
function short(text: string): string {
  return text.length > 60 ? `${text.slice(0, 60)}…` : text;
}

function answering({ known, answered }: { known: number; answered: number }, live: boolean): string {
  if (live) return answered ? `${answered.toLocaleString("en")} answered so far` : "";
  if (answered === known) return known === 1 ? "answers" : "all answer";
  return answered ? `of which ${count(answered, "answers", "answer")}` : known === 1 ? "does not answer" : "none answers";
}

/** What was found out besides: patterns that were cut, what is volatile, whether a cache answers. */
function Apart({ capture, course, move }: { capture: Capture; course?: Course; move: number }) {
  const { sample } = capture;
  const left = course?.left_out ?? [];
  if (!left.length && !sample) return <div />;
  const { templates = [], paths = [], fields = [], examples = [] } = sample?.volatile ?? {};
  return (
    <section className="text-[14px]">
      <h2 className="mb-1 text-[15px]">Seen besides</h2>
      {left.map((one) => (
        <p key={one.what}>
          <Link className="underline underline-offset-2" to={listOf(move, capture, { verdict: "left_out" })}>
            {count(one.number, "address", "addresses")}
          </Link>{" "}
          like <span className="font-mono text-[13px] break-all">{one.what}</span> left out, too many alike
        </p>
      ))}
      {sample ? (
        <p>
          {count(sample.asked, "page")} asked again at the end:{" "}
          {[
            sample.changed ? `${sample.changed} had changed` : "none had changed",
            sample.gone ? `${sample.gone} gave no page any more` : "",
            sample.older ? `${sample.older} came older from a cache` : "no older copy from a cache",
          ]
            .filter(Boolean)
            .join(", ")}
          .
        </p>
      ) : null}
      {templates.length || paths.length || fields.length ? (
        <details className="mt-1">
          <summary className="cursor-pointer underline underline-offset-2">
            {count(templates.length + paths.length + fields.length, "volatile part")}, not compared
          </summary>
          <ul className="mt-1 space-y-1">
            {templates.map((one) => (
              <li key={one}>“{one}”</li>
            ))}
            {paths.map((one) => (
              <li key={one} className="font-mono text-[13px]">
                {one}
              </li>
            ))}
            {fields.map((one) => (
              <li key={one}>{one.toLowerCase().replace("_", " ")} of pages</li>
            ))}
            {examples.slice(0, 3).map(([address, before, after]) => (
              <li key={`${address}${before}`} className="text-soft">
                <span className="font-mono text-[13px] break-all">{address}</span>: “{before}”, then “{after}”
              </li>
            ))}
          </ul>
        </details>
      ) : null}
    </section>
  );
}

function Table({ title, children }: { title: string; children: ReactNode }) {
  return (
    <section>
      <h2 className="mb-1 text-[15px]">{title}</h2>
      <dl className="grid grid-cols-[minmax(0,190px)_70px_minmax(0,1fr)] gap-x-3 gap-y-0.5 text-[14px] max-[599px]:grid-cols-[minmax(0,1fr)_56px_minmax(0,1fr)]">{children}</dl>
    </section>
  );
}

function Number({ to, number }: { to: string; number: number }) {
  return number ? (
    <Link to={to} className="underline decoration-[var(--thread)] underline-offset-2" title="Show them">
      {number.toLocaleString("en")}
    </Link>
  ) : (
    <>0</>
  );
}

function Line({ to, name, number, said = "", ink = "" }: { to: string; name: string; number: number; said?: string; ink?: string }) {
  return (
    <div className="contents">
      <dt className={`break-words ${ink}`}>{name}</dt>
      <dd className="text-right tabular-nums">
        <Number to={to} number={number} />
      </dd>
      <dd className="text-soft min-w-0 break-words">{said}</dd>
    </div>
  );
}

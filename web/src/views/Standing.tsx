/** Standing: the sentence, what was not looked at, the sections crossing, the causes. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";

import { api, data, type Cause, type Comparison } from "../api/client";
import { AddLine } from "../parts/AddLine";
import { Button } from "../parts/Button";
import { CERTAINTY, WHO, people } from "../parts/causes";
import { Crossing } from "../parts/Crossing";
import { ExportLinks, TO_DO } from "../parts/ExportLinks";
import { FacingHead } from "../parts/FacingHead";
import type { Framed } from "../parts/MoveFrame";
import { SourceAlone } from "../parts/SourceAlone";
import { Notice } from "../parts/Notice";
import { Rounds } from "../parts/Rounds";
import { count } from "../lib/format";
import { sourceAlone } from "../lib/sourceAlone";

const WEIGHTS = [
  ["blocks", "Blocks the switch", "text-madder"],
  ["mend", "Mend soon", "text-ochre"],
  ["note", "Note", "text-soft"],
] as const;

export function Standing({ framed }: { framed: Framed }) {
  const { move, comparison, latest } = framed;
  const standing = comparison?.standing;
  if (!comparison || !standing) return <NotYet framed={framed} />;
  return (
    <>
      <FacingHead comparison={comparison} />
      <div className="min-h-0 flex-1 overflow-y-auto [scrollbar-gutter:stable]">
        <div className="px-6 pt-5 pb-3">
          <h1 className="mb-1 text-[26px] leading-8">{standing.sentence}</h1>
          <p className="text-soft text-[14px]">
            {standing.summary} Not looked at yet: {standing.not_looked_at.join(", ")}.
          </p>
          <Since since={standing.since} move={move.id} />
          <Again framed={framed} waiting={latest?.state === "waiting"} failed={latest?.state === "failed" ? latest.why : ""} />
        </div>
        <div className="grid grid-cols-[minmax(0,3fr)_minmax(0,2fr)] max-[899px]:grid-cols-1">
          <Crossing comparison={comparison} move={move.id} />
          <aside className="bg-leaf border-edge border-t border-l px-6 py-4 max-[899px]:border-l-0" aria-label="Causes">
            <Causes framed={framed} comparison={comparison} causes={standing.causes} />
            <Rounds move={move.id} />
          </aside>
        </div>
      </div>
    </>
  );
}

/** What cleared, what returned and what is new since the comparison before. */
function Since({ since, move }: { since?: { fresh?: number; returned?: number; cleared?: number }; move: number }) {
  if (since?.fresh === undefined) return null;
  const said = [
    [since.fresh, "new"],
    [since.returned ?? 0, "returned"],
    [since.cleared ?? 0, "cleared"],
  ] as const;
  return (
    <p className="text-soft text-[14px]">
      Findings since the comparison before:{" "}
      {said.map(([number, word], at) => (
        <span key={word}>
          {at ? ", " : ""}
          {word === "cleared" && number ? (
            <Link className="text-ink underline underline-offset-2" to={`/moves/${move}/findings?state=cleared`}>
              {number.toLocaleString("en")} {word}
            </Link>
          ) : (
            `${number.toLocaleString("en")} ${word}`
          )}
        </span>
      ))}
      .
    </p>
  );
}

/** Compare again from what is there, where the last comparison failed or there is none; all else orders one by itself. */
function Again({ framed, waiting, failed, none = false }: { framed: Framed; waiting: boolean; failed: string; none?: boolean }) {
  const { move } = framed;
  const queries = useQueryClient();
  const compare = useMutation({
    mutationFn: () => data(api.POST("/api/moves/{id}/comparisons/", { params: { path: { id: move.id } }, body: {} })),
    onSettled: () => queries.invalidateQueries({ queryKey: ["comparisons", move.id] }),
  });
  const busy = waiting || compare.isPending;
  return (
    <p className="text-soft mt-1 text-[14px]" role="status">
      {failed ? <span className="text-madder">The last comparison could not be made: {failed}. </span> : null}
      {compare.error ? <span className="text-madder">{compare.error.message} </span> : null}
      {busy ? (
        "Comparing again …"
      ) : failed || none ? (
        <button type="button" className="text-ink underline underline-offset-2" onClick={() => compare.mutate()}>
          {none ? "Compare them" : "Compare again"}
        </button>
      ) : null}
    </p>
  );
}

function Causes({ framed, comparison, causes: every }: { framed: Framed; comparison: Comparison; causes: Cause[] }) {
  const [who, setWho] = useState("");
  const named = people(every);
  const causes = who ? every.filter((one) => one.who === who) : every;
  if (!every.length)
    return (
      <p className="text-soft">
        No cause to name: all {count(comparison.left.pages, "page")} of the baseline are where they are expected.
      </p>
    );
  return (
    <>
      <div className="mb-3 flex flex-wrap items-center gap-x-2 gap-y-1 text-[14px]">
        <select aria-label="Who can mend it" className="border-line bg-leaf h-[30px] rounded-[3px] border px-2" value={who} onChange={(event) => setWho(event.target.value)}>
          <option value="">For everybody ({every.length})</option>
          {named.map(([one, number]) => (
            <option key={one} value={one}>
              For: {WHO[one]} ({number})
            </option>
          ))}
        </select>
        <span className="text-soft">
          list as
          <ExportLinks path={`/api/comparisons/${comparison.id}/to-do/`} formats={TO_DO} query={{ who }} />
        </span>
      </div>
      {WEIGHTS.map(([weight, title, ink]) => {
        const here = causes.filter((cause) => cause.weight === weight);
        if (!here.length) return null;
        return (
          <section key={weight} className="mb-4">
            <h2 className={`mb-1 text-[15px] ${ink}`}>{title}</h2>
            {here.map((cause) => (
              <CauseLine key={cause.number} cause={cause} place={cause.number} framed={framed} />
            ))}
          </section>
        );
      })}
    </>
  );
}

/** Say that a cause is mended: its pages alone are captured again, and the verdict follows. */
type MendedProps = { comparison: number; move: number; place: number; pages: number; everywhere: boolean; asks: boolean };

function Mended({ comparison, move, place, pages, everywhere, asks }: MendedProps) {
  const queries = useQueryClient();
  const mended = useMutation({
    mutationFn: () => data(api.POST("/api/comparisons/{id}/mended/", { params: { path: { id: comparison } }, body: { cause: place } })),
    onSettled: () => queries.invalidateQueries({ queryKey: ["captures", move] }),
  });
  return (
    <>
      <Button disabled={mended.isPending || mended.isSuccess} onClick={() => mended.mutate()}>
        {asks ? "Mended: check now" : `Mended: capture ${everywhere ? "the destination" : pages === 1 ? "this page" : `these ${count(pages, "page")}`} again`}
      </Button>
      {mended.error ? (
        <p role="alert" className="text-madder font-semibold">
          {mended.error.message}
        </p>
      ) : null}
      {mended.isSuccess ? <p role="status">{asks ? "The hosts are being asked" : "They are being captured"}; the verdict follows by itself.</p> : null}
    </>
  );
}

function CauseLine({ cause, place, framed }: { cause: Cause; place: number; framed: Framed }) {
  const move = framed.move.id;
  const comparison = framed.comparison?.id ?? 0;
  const [open, setOpen] = useState(false);
  const { verdict = "", check = "pages" } = cause.show as Record<string, string>;
  const show = new URLSearchParams({ ...(verdict ? { verdict } : {}), cause: String(place) });
  const found = framed.comparison?.checks.find((one) => one.name === check);
  const view = found?.view ?? "pages";
  const asks = found?.asks ?? false;
  // What many pages share stands on no row.
  const rows = Object.keys(cause.show).length > 0;
  return (
    <article className="border-edge border-b py-2.5">
      <h3 className="font-sans text-[15px] leading-5 font-bold">
        <Link to={`/moves/${move}/${rows ? `${view}?${show.toString()}` : `findings?cause=${place}`}`} className="hover:underline">
          {cause.title}
        </Link>
      </h3>
      <p className="text-soft text-[14px]">
        {cause.detail} {CERTAINTY[cause.certainty].replace(/^./, (letter) => letter.toUpperCase())}. For: {WHO[cause.who]}.{" "}
        {cause.findings ? (
          <>
            <Link to={`/moves/${move}/findings?cause=${place}`} className="text-ink underline underline-offset-2">
              {count(cause.findings, "finding")}
            </Link>{" "}
            ·{" "}
          </>
        ) : null}
        {cause.visits ? `${count(cause.visits, "visit")} to its pages · ` : null}
        <button
          type="button"
          aria-expanded={open}
          className="text-ink underline underline-offset-2"
          onClick={() => setOpen(!open)}
        >
          What to do
        </button>
      </p>
      {open ? (
        <div className="mt-1 space-y-2 text-[14px]">
          <p>{cause.remedy}</p>
          {cause.instead ? (
            <p>
              <b>Or something else:</b> {cause.instead}
            </p>
          ) : null}
          {cause.line ? <AddLine framed={framed} line={cause.line} /> : null}
          {cause.findings ? <Mended comparison={comparison} move={move} place={place} pages={cause.rows} everywhere={cause.everywhere} asks={asks} /> : null}
        </div>
      ) : null}
    </article>
  );
}

/** What to do first, while there is nothing to compare. */
function NotYet({ framed }: { framed: Framed }) {
  const { move, captures, latest } = framed;
  const closed = (side: string) => captures.find((one) => one.side === side && one.state === "closed" && one.pages > 0);
  const running = captures.find((one) => one.state === "running");
  if (latest?.state === "waiting")
    return (
      <Notice title="Comparing …">
        <p role="status">The verdict stands here in a few seconds.</p>
      </Notice>
    );
  if (latest?.state === "failed")
    return (
      <Notice title="The comparison could not be made.">
        <p role="alert">{latest.why}</p>
        <Again framed={framed} waiting={false} failed="" none />
      </Notice>
    );
  if (running)
    return (
      <Notice title={`Capturing the ${running.side}.`}>
        <p role="status">
          {running.asked.toLocaleString("en")} of {running.known.toLocaleString("en")} known addresses asked.{" "}
          <Link className="text-ink underline" to={`/moves/${move.id}/captures`}>
            Watch it
          </Link>
        </p>
      </Notice>
    );
  const source = sourceAlone(framed);
  if (source) return <SourceAlone move={move} capture={source} />;
  if (move.baseline === null)
    return (
      <Notice title="Nothing can be said yet.">
        <p>Capture the source first, before anything is touched: the button stands above on the right.</p>
      </Notice>
    );
  return (
    <Notice title="The baseline is recorded.">
      <p>Now capture the destination: the button stands above on the right. The verdict follows by itself.</p>
      {closed("destination") ? <Again framed={framed} waiting={false} failed="" none /> : null}
    </Notice>
  );
}

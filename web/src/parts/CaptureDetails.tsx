/** A closed capture opened: its judgement with grounds, its course, and what can be done with it. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";

import { api, data, type Capture, type Move } from "../api/client";
import { bytes, count, duration, moment } from "../lib/format";
import { Button } from "./Button";
import { CourseOf } from "./Course";

export function CaptureDetails({ capture, move, earlier, onClose }: { capture: Capture; move: Move; earlier?: Capture; onClose: () => void }) {
  const name = capture.baseline ? "The baseline" : capture.round ? `Round ${capture.round}` : `A capture of the ${capture.side}`;
  const again = useMutation({
    mutationFn: () => data(api.POST("/api/captures/{id}/read-again/", { params: { path: { id: capture.id } } })),
  });
  const { judgement } = capture;
  return (
    <section aria-label={`${name}, opened`} className="border-edge border-b">
      <div className="flex flex-wrap items-start gap-3 px-6 pt-5 pb-4">
        <div className="min-w-0 flex-1">
          <h1 className="text-[26px] leading-8">
            {name} of {moment(capture.started_at)}. {count(capture.pages, "page")}.
          </h1>
          <p className={judgement && !judgement.stands ? "text-madder font-semibold" : ""}>{judgement?.sentence}</p>
          <p className="text-soft text-[14px]">
            {capture.detail}. {duration(capture.seconds)} of work, {bytes(capture.bytes)} kept.
          </p>
        </div>
        {earlier ? <Changes move={move.id} left={earlier} right={capture} /> : null}
        <Button onClick={() => again.mutate()} disabled={again.isPending || again.isSuccess} title="Make the facts anew from the WARC files; the site need not answer">
          {again.isSuccess ? "Reading again, under way" : "Read again"}
        </Button>
        <Button onClick={onClose}>Close</Button>
      </div>
      {judgement?.grounds.length ? (
        <ul className="px-6 pb-4 text-[14px]">
          {judgement.grounds.map((ground) => (
            <li key={ground.text} className={ground.against ? "text-madder font-semibold" : ""}>
              {ground.text}.
            </li>
          ))}
        </ul>
      ) : null}
      <CourseOf capture={capture} move={move.id} />
      {capture.side === "destination" && / at \S/.test(move.rule ?? "") ? <NamedForms capture={capture} /> : null}
    </section>
  );
}

function Changes({ move, left, right }: { move: number; left: Capture; right: Capture }) {
  const navigate = useNavigate();
  const compare = useMutation({
    mutationFn: () =>
      data(api.POST("/api/moves/{id}/comparisons/", { params: { path: { id: move } }, body: { left: left.id, right: right.id } })),
    onSuccess: (made) => navigate(`/moves/${move}/pages?of=${made.id}`),
  });
  return (
    <span className="flex flex-col items-end">
      <Button onClick={() => compare.mutate()} disabled={compare.isPending}>
        What changed since {moment(left.started_at)}
      </Button>
      {compare.error ? (
        <span role="alert" className="text-madder max-w-[260px] text-[13px]">
          {compare.error.message}
        </span>
      ) : null}
    </span>
  );
}

/** Which pages of the copy write out its temporary address, and which its final one. */
function NamedForms({ capture }: { capture: Capture }) {
  const [form, setForm] = useState<"temporary" | "final" | null>(null);
  const queries = useQueryClient();
  const found = useQuery(
    {
      queryKey: ["naming", capture.id, form],
      queryFn: () => data(api.GET("/api/captures/{id}/naming/", { params: { path: { id: capture.id }, query: { form: form ?? "final" } } })),
      enabled: form !== null,
      staleTime: Infinity,
    },
    queries,
  );
  return (
    <div className="px-6 pb-4 text-[14px]">
      <h2 className="mb-1 text-[15px]">Pages that write out</h2>
      <p className="flex gap-4">
        {(["temporary", "final"] as const).map((one) => (
          <button key={one} type="button" aria-pressed={form === one} className={`underline underline-offset-2 ${form === one ? "font-bold" : ""}`} onClick={() => setForm(one)}>
            the {one} address
          </button>
        ))}
      </p>
      {form && found.data ? (
        <>
          <p className="text-soft">
            {found.data.more ? "More than " : ""}
            {count(found.data.pages.length, "page names", "pages name")} {found.data.folders.join(" or ")}
          </p>
          <ul className="max-h-[240px] overflow-y-auto font-mono text-[13px]">
            {found.data.pages.map((one) => (
              <li key={one.address} className="truncate" title={one.written}>
                {one.address} <span className="text-soft">{one.times > 1 ? `${one.times} times, ` : ""}{one.written}</span>
              </li>
            ))}
          </ul>
        </>
      ) : form ? (
        <p className="text-soft">{found.error ? found.error.message : "Looking through the pages …"}</p>
      ) : null}
    </div>
  );
}

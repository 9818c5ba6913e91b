/** Accept findings: a decision, with one reason, that holds as long as they look the same. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";

import { api, data, type Schemas } from "../api/client";
import { Button } from "./Button";
import { Dialog } from "./Dialog";
import { Field } from "./Field";
import { count } from "../lib/format";

export type Accepting = { number: number; noun?: "page" | "row"; what: string; body: Omit<Schemas["AcceptRequest"], "reason" | "ends_at"> };

type Props = { move: number; comparison: number; chosen: Accepting | null; onDone: () => void; onClose: () => void };

export function Accept({ move, comparison, chosen, onDone, onClose }: Props) {
  const [reason, setReason] = useState("");
  const [until, setUntil] = useState("");
  const [section, setSection] = useState("");
  const queries = useQueryClient();
  const [number, ...more] = chosen?.body.numbers ?? [];
  const single = number !== undefined && !more.length ? number : null;
  const sections = useQuery({
    queryKey: ["finding", comparison, "sections", single],
    queryFn: () => data(api.GET("/api/comparisons/{id}/findings/{number}/", { params: { path: { id: comparison, number: single ?? 0 } } })),
    enabled: single !== null,
  });
  const parts = single !== null ? (sections.data?.sections ?? []) : [];
  const accept = useMutation({
    mutationFn: () =>
      data(
        api.POST("/api/comparisons/{id}/accept/", {
          params: { path: { id: comparison } },
          body: { ...chosen?.body, reason, ends_at: until ? `${until}T23:59:59Z` : undefined, ...(section ? { section } : {}) },
        }),
      ),
    onSuccess: () => {
      setReason("");
      setUntil("");
      setSection("");
      void queries.invalidateQueries({ queryKey: ["comparisons", move] });
      void queries.invalidateQueries({ queryKey: ["decisions", move] });
      onDone();
    },
  });
  return (
    <Dialog open={chosen !== null} onClose={onClose} title={chosen?.noun ? `Accept what is open on ${count(chosen.number, chosen.noun)}` : `Accept ${count(chosen?.number ?? 0, "finding")}`}>
      <form
        className="space-y-4"
        onSubmit={(event) => {
          event.preventDefault();
          accept.mutate();
        }}
      >
        <p className="text-[14px] break-words">{chosen?.what}</p>
        <p className="text-soft">
          It is no fault, or may stay as it is. A finding that looks otherwise later is open again. U takes your last decision back.
        </p>
        {parts.length > 1 ? (
          <label className="block">
            <span className="mb-1 block font-semibold">Where</span>
            <select aria-label="Where" className="border-edge bg-leaf text-ink h-[36px] w-full rounded-[3px] border px-2" value={section} onChange={(event) => setSection(event.target.value)}>
              <option value="">On all {count(sections.data?.pages ?? 0, "page")}</option>
              {parts.map((one) => (
                <option key={one.section} value={one.section}>
                  In {one.section} alone ({count(one.pages, "page")})
                </option>
              ))}
            </select>
          </label>
        ) : null}
        <Field label="Why" value={reason} onChange={setReason} required autoFocus hint="Kept with your name and the date." />
        <Field label="Until" type="date" value={until} onChange={setUntil} hint="Open again after this day; empty for good." />
        {accept.error ? (
          <p role="alert" className="text-madder font-semibold">
            {accept.error.message}
          </p>
        ) : null}
        <div className="flex gap-2">
          <Button type="submit" look="strong" disabled={accept.isPending}>
            Accept
          </Button>
          <Button
            onClick={() => {
              setSection("");
              onClose();
            }}
          >
            Cancel
          </Button>
        </div>
      </form>
    </Dialog>
  );
}

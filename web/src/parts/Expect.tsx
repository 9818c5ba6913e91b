/** "Mark as expected": a difference set aside for a page, a section or the whole move, tried before it is decided. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";

import { api, data, type Finding, type Schemas } from "../api/client";
import { Button } from "./Button";
import { Dialog } from "./Dialog";
import { Field } from "./Field";
import { count, path } from "../lib/format";
import { useRestedValue } from "../lib/restedValue";

export type Meant = { kind: Finding["kind"]; label: string; address: string };
type Asked = Schemas["ExpectRequest"];

const OF_WORDS = ["title", "description", "headings", "text"];
const WHATS = [
  ["field", "Any difference here"],
  ["words", "Words in the place of others"],
  ["numbers", "Numbers and dates"],
  ["region", "A part of the page"],
] as const;

type Props = { move: number; comparison: number; meant: Meant | null; onClose: () => void };

export function Expect({ move, comparison, meant, onClose }: Props) {
  const [where, setWhere] = useState<"page" | "section" | "move">("page");
  const [what, setWhat] = useState<Asked["what"]>("field");
  const [words, setWords] = useState("");
  const [becomes, setBecomes] = useState("");
  const [tolerance, setTolerance] = useState("100");
  const [selector, setSelector] = useState("");
  const [reason, setReason] = useState("");
  const queries = useQueryClient();

  const section = `/${path(meant?.address ?? "/").split("/")[1]?.split("?")[0] ?? ""}`;
  const worded = OF_WORDS.includes(meant?.kind ?? "");
  const asked: Asked = {
    what,
    ...(what === "field" || (what === "words" && meant?.kind === "description") ? { kind: meant?.kind } : {}),
    ...(where === "page" ? { address: meant?.address } : where === "section" ? { section } : {}),
    ...(what === "words" ? { words, becomes } : what === "numbers" ? { tolerance: Number(tolerance) } : what === "region" ? { selector } : {}),
  };
  const ready = what === "field" || what === "numbers" || (what === "words" ? words !== "" : selector !== "");
  const tried = useRestedValue(JSON.stringify(asked), 300);
  const preview = useQuery({
    queryKey: ["expect", comparison, tried],
    queryFn: () =>
      data(api.POST("/api/comparisons/{id}/expect/", { params: { path: { id: comparison } }, body: JSON.parse(tried) as Asked })),
    enabled: meant !== null && ready,
    retry: false,
  });
  const decide = useMutation({
    mutationFn: () => data(api.POST("/api/comparisons/{id}/expect/", { params: { path: { id: comparison } }, body: { ...asked, reason } })),
    onSuccess: () => {
      void queries.invalidateQueries({ queryKey: ["comparisons", move] });
      void queries.invalidateQueries({ queryKey: ["decisions", move] });
      onClose();
    },
  });
  const found = preview.data;
  return (
    <Dialog open={meant !== null} onClose={onClose} title="Mark as expected">
      <form
        className="space-y-3"
        onSubmit={(event) => {
          event.preventDefault();
          decide.mutate();
        }}
      >
        <p className="text-[14px] break-all">
          <b>{meant?.label}</b> of <span className="font-mono">{path(meant?.address ?? "/")}</span>
        </p>
        <Choices name="Where" chosen={where} onChoose={setWhere} among={[["page", "This page"], ["section", `All of ${section}`], ["move", "The whole move"]]} />
        {worded ? <Choices name="What" chosen={what} onChoose={setWhat} among={WHATS} /> : null}
        {what === "words" ? (
          <div className="grid grid-cols-2 gap-3">
            <Field label="At the source" value={words} onChange={setWords} hint="* stands for anything short" autoFocus />
            <Field label="At the destination" value={becomes} onChange={setBecomes} hint="* for what it was" />
          </div>
        ) : null}
        {what === "numbers" ? <Field label="By at most, per cent" type="number" min={0} max={100} value={tolerance} onChange={setTolerance} hint="100 for any number" /> : null}
        {what === "region" ? <Field label="Selector" value={selector} onChange={setSelector} mono hint="As in CSS: .date, #weather. What stands there is left out on both sides." autoFocus /> : null}
        <div className="border-edge bg-paper min-h-[84px] rounded-[3px] border px-3 py-2 text-[14px]" role="status">
          {preview.error ? <span className="text-madder font-semibold">{preview.error.message}</span> : null}
          {!ready ? <span className="text-soft">What it would set aside is shown here.</span> : null}
          {ready && preview.isFetching && !found ? <span className="text-soft">Trying it …</span> : null}
          {ready && found && !preview.error ? (
            <>
              <p>
                {found.findings
                  ? `It would set ${count(found.findings, "open finding")} on ${count(found.pages, "page")} aside:`
                  : "It would set nothing aside: something else differs there."}
              </p>
              <ul className="text-soft mt-1 text-[13px]">
                {found.samples.slice(0, 3).map((one) => (
                  <li key={one.number} className="truncate">
                    <span className="font-mono">{path(one.left_address ?? "/")}</span> {one.label}, {one.detail}
                  </li>
                ))}
              </ul>
            </>
          ) : null}
        </div>
        <Field label="Why" value={reason} onChange={setReason} required hint="Kept with your name and the date; it can be revoked." />
        {decide.error ? (
          <p role="alert" className="text-madder font-semibold">
            {decide.error.message}
          </p>
        ) : null}
        <div className="flex gap-2">
          <Button type="submit" look="strong" disabled={decide.isPending || !ready || !found?.findings}>
            Set aside
          </Button>
          <Button onClick={onClose}>Cancel</Button>
        </div>
      </form>
    </Dialog>
  );
}

type ChoicesProps<T extends string> = { name: string; chosen: T; onChoose: (value: T) => void; among: readonly (readonly [T, string])[] };

function Choices<T extends string>({ name, chosen, onChoose, among }: ChoicesProps<T>) {
  return (
    <fieldset className="flex flex-wrap gap-x-4 gap-y-1 text-[14px]">
      <legend className="text-soft mb-1 text-[13px]">{name}</legend>
      {among.map(([value, label]) => (
        <label key={value} className="flex items-center gap-1.5">
          <input type="radio" name={name} className="accent-ink" checked={chosen === value} onChange={() => onChoose(value)} />
          {label}
        </label>
      ))}
    </fieldset>
  );
}

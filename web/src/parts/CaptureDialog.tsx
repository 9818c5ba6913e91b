/** Begin a capture of a side, anew or from an earlier one, with its options. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";

import { api, data, Refused, type Capture } from "../api/client";
import { moment } from "../lib/format";
import { Button } from "./Button";
import { Dialog } from "./Dialog";
import { Field } from "./Field";

const SCOPES = [
  ["", "All of it, anew"],
  ["all", "All of it, only what changed is sent again"],
  ["failed", "Only what failed or was not reached"],
  ["section", "Only a section"],
  ["list", "Only these addresses"],
] as const;

export function CaptureDialog({
  move,
  side,
  captures,
  onClose,
}: {
  move: number;
  side: "source" | "destination" | null;
  captures: Capture[];
  onClose: () => void;
}) {
  const [options, setOptions] = useState<Record<string, string>>({});
  const [scope, setScope] = useState<(typeof SCOPES)[number][0]>("");
  const [section, setSection] = useState("");
  const [addresses, setAddresses] = useState("");
  const [more, setMore] = useState(false);
  const parent = captures.find((one) => one.side === side && one.state === "closed");
  const queries = useQueryClient();
  const known = useQuery({
    queryKey: ["capture-options"],
    queryFn: () => data(api.GET("/api/capture-options/")),
    enabled: side !== null,
    staleTime: Infinity,
  });
  const begin = useMutation({
    mutationFn: () =>
      data(
        api.POST("/api/moves/{id}/captures/", {
          params: { path: { id: move } },
          body: {
            side: side ?? "source",
            ...(scope && parent ? { again: { parent: parent.id, what: scope, section, addresses } } : {}),
            options: Object.fromEntries(
              (known.data ?? [])
                .filter((one) => options[one.name])
                .map((one) => [one.name, one.kind === "number" ? Number(options[one.name]) : options[one.name]]),
            ),
          },
        }),
      ),
    onSuccess: () => {
      void queries.invalidateQueries({ queryKey: ["captures", move] });
      onClose();
    },
  });
  const faults = begin.error instanceof Refused ? begin.error.fields : {};
  return (
    <Dialog open={side !== null} onClose={onClose} title={`Capture the ${side ?? ""}`}>
      <form
        className="space-y-3"
        onSubmit={(event) => {
          event.preventDefault();
          begin.mutate();
        }}
      >
        <p className="text-soft">
          Palinode asks for the home page, robots.txt, sitemaps and every page they lead to
          {side === "destination" ? ", and for what the baseline expects" : ""}. It can be paused and stopped.
        </p>
        {parent ? (
          <fieldset>
            <legend className="text-[14px] font-semibold">What to ask for</legend>
            {SCOPES.map(([value, label]) => (
              <label key={value} className="flex items-baseline gap-2 py-0.5">
                <input type="radio" className="accent-ink" name="scope" checked={scope === value} onChange={() => setScope(value)} />
                {label}
              </label>
            ))}
            {scope ? (
              <p className="text-soft pt-1 text-[14px]">
                {scope === "all"
                  ? `What the host says is unchanged since ${moment(parent.started_at)} is kept by reference.`
                  : `The rest is taken over from the capture of ${moment(parent.started_at)}.`}
              </p>
            ) : null}
          </fieldset>
        ) : null}
        {scope === "section" ? (
          <Field label="Path of the section" placeholder="/shop/" value={section} onChange={setSection} fault={faults["again.section"]} />
        ) : null}
        {scope === "list" ? (
          <Field label="Addresses, one a line" lines={4} value={addresses} onChange={setAddresses} fault={faults["again.addresses"]} />
        ) : null}
        {faults["again.parent"] ? (
          <p role="alert" className="text-madder font-semibold">
            {faults["again.parent"]}
          </p>
        ) : null}
        <button type="button" className="block underline underline-offset-2" aria-expanded={more} onClick={() => setMore(!more)}>
          {more ? "Fewer options" : "How fast, how far"}
        </button>
        {(more || Object.keys(faults).some((one) => one.startsWith("options"))) && (
          <div className="grid items-start gap-x-4 gap-y-3 sm:grid-cols-2">
            {known.data?.map((one) => (
              <Field
                key={one.name}
                label={one.label}
                hint={one.help}
                inputMode={one.kind === "number" ? "numeric" : "text"}
                placeholder={String(one.default)}
                value={options[one.name] ?? ""}
                onChange={(value) => setOptions({ ...options, [one.name]: value })}
                fault={faults[`options.${one.name}`]}
              />
            ))}
          </div>
        )}
        {begin.error && !Object.keys(faults).length ? (
          <p role="alert" className="text-madder font-semibold">
            {begin.error.message}
          </p>
        ) : null}
        <div className="flex gap-2 pt-1">
          <Button type="submit" look="strong" disabled={begin.isPending}>
            Begin
          </Button>
          <Button onClick={onClose}>Cancel</Button>
        </div>
      </form>
    </Dialog>
  );
}

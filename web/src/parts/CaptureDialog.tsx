/** Begin a capture of a side, anew or from an earlier one, with its options. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";

import { api, data, Refused, type Capture } from "../api/client";
import { moment } from "../lib/format";
import { Button } from "./Button";
import { Dialog } from "./Dialog";
import { Field } from "./Field";

const OPTIONS = [
  ["concurrency", "Requests at once", "8"],
  ["rate", "Requests a second at most (0 for no bound)", "0"],
  ["max_addresses", "Addresses at most", "200000"],
  ["max_depth", "Links from the home page at most", "50"],
  ["max_seconds", "Seconds at most", "86400"],
  ["answer_seconds", "Seconds that one answer may take", "60"],
  ["sample", "Pages asked again at the end", "20"],
  ["hours", "Only between these hours, UTC", "22:00-06:00"],
] as const;

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
  const begin = useMutation({
    mutationFn: () =>
      data(
        api.POST("/api/moves/{id}/captures/", {
          params: { path: { id: move } },
          body: {
            side: side ?? "source",
            ...(scope && parent ? { again: { parent: parent.id, what: scope, section, addresses } } : {}),
            options: Object.fromEntries(Object.entries(options).filter(([, value]) => value).map(([name, value]) => [name, name === "hours" ? value : Number(value)])),
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
        {(more || Object.keys(faults).some((one) => one.startsWith("options"))) && OPTIONS.map(([name, label, usual]) => (
          <Field
            key={name}
            label={label}
            inputMode={name === "hours" ? "text" : "numeric"}
            placeholder={usual}
            value={options[name] ?? ""}
            onChange={(value) => setOptions({ ...options, [name]: value })}
            fault={faults[`options.${name}`]}
          />
        ))}
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

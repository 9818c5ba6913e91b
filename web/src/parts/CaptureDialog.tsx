/** Begin a capture of a side, with its options. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";

import { api, data, Refused } from "../api/client";
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
] as const;

export function CaptureDialog({
  move,
  side,
  onClose,
}: {
  move: number;
  side: "source" | "destination" | null;
  onClose: () => void;
}) {
  const [options, setOptions] = useState<Record<string, string>>({});
  const queries = useQueryClient();
  const begin = useMutation({
    mutationFn: () =>
      data(
        api.POST("/api/moves/{id}/captures/", {
          params: { path: { id: move } },
          body: {
            side: side ?? "source",
            options: Object.fromEntries(Object.entries(options).filter(([, value]) => value).map(([name, value]) => [name, Number(value)])),
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
        {OPTIONS.map(([name, label, usual]) => (
          <Field
            key={name}
            label={label}
            inputMode="numeric"
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

/** JSON listings of any kind: the mappings by which they are read, tried on a side before they are saved. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";

import { api, data, Refused } from "../api/client";
import { count } from "../lib/format";
import { Button } from "./Button";
import { OptionField } from "./Options";

type Side = "source" | "destination";
type Mapping = Record<string, string>;

export function JsonListings({ move, side }: { move: number; side: Side }) {
  const [adding, setAdding] = useState(false);
  const [mapping, setMapping] = useState<Mapping>({});
  const queries = useQueryClient();
  const path = { id: move };
  const held = useQuery({ queryKey: ["listings", move], queryFn: () => data(api.GET("/api/moves/{id}/listings/", { params: { path } })) });
  const attempt = useMutation({ mutationFn: () => data(api.POST("/api/moves/{id}/listings/try/", { params: { path }, body: { side, mapping } })) });
  const save = useMutation({
    mutationFn: (listings: Mapping[]) => data(api.PUT("/api/moves/{id}/listings/", { params: { path }, body: { listings } })),
    onSuccess: (now) => {
      queries.setQueryData(["listings", move], now);
      setAdding(false);
      setMapping({});
      attempt.reset();
    },
  });
  const error = save.error ?? attempt.error;
  const fault = error instanceof Refused ? error : undefined;
  const listings = held.data?.listings ?? [];
  const tried = attempt.data;
  return (
    <section className="border-edge border-t pt-4">
      <h3 className="mb-1 text-[15px]">Other listings in JSON</h3>
      {listings.length ? (
        <ul className="mb-2 space-y-1 text-[14px]">
          {listings.map((one) => (
            <li key={one.noun} className="flex gap-3">
              <span className="min-w-0 flex-1 truncate">
                <b>{one.noun}</b> at <span className="font-mono text-[13px]">{one.address}</span>
              </span>
              <button type="button" className="underline underline-offset-2" onClick={() => save.mutate(listings.filter((other) => other.noun !== one.noun))}>
                Forget
              </button>
            </li>
          ))}
        </ul>
      ) : null}
      {adding ? (
        <form
          onSubmit={(event) => {
            event.preventDefault();
            attempt.mutate();
          }}
        >
          <div className="grid grid-cols-[repeat(auto-fill,minmax(220px,1fr))] gap-x-4">
            {held.data?.options.map((one) => (
              <OptionField
                key={one.name}
                option={one}
                value={mapping[one.name] ?? one.default}
                fault={fault?.fields[one.name]}
                onChange={(value) => {
                  setMapping({ ...mapping, [one.name]: String(value) });
                  attempt.reset();
                }}
              />
            ))}
          </div>
          {fault && !Object.keys(fault.fields).length ? (
            <p role="alert" className="text-madder mb-2">
              {fault.message}
            </p>
          ) : null}
          <div role="status" className="text-[14px]">
            {tried ? (
              <>
                <p className="mb-1">
                  {count(tried.number, "entry", "entries")} on the first page{tried.more ? ", and more behind it" : ""}.
                </p>
                <ul className="bg-gutter mb-3 max-h-[160px] overflow-y-auto rounded-[3px] p-2 font-mono text-[13px]">
                  {tried.entries.map((one, at) => (
                    <li key={at} className="truncate">
                      {Object.entries(one)
                        .filter(([name, value]) => value && name !== "type")
                        .map(([name, value]) => `${name}: ${value}`)
                        .join("  ")}
                    </li>
                  ))}
                </ul>
              </>
            ) : null}
          </div>
          <div className="flex gap-2">
            <Button type="submit" look={tried?.number ? undefined : "strong"} disabled={attempt.isPending}>
              Try it on the {side}
            </Button>
            {tried?.number ? (
              <Button look="strong" onClick={() => save.mutate([...listings, { ...mapping }])} disabled={save.isPending}>
                Save the listing
              </Button>
            ) : null}
            <Button onClick={() => setAdding(false)}>Cancel</Button>
          </div>
        </form>
      ) : (
        <button type="button" className="text-[14px] underline underline-offset-2" onClick={() => setAdding(true)}>
          Add a listing …
        </button>
      )}
    </section>
  );
}

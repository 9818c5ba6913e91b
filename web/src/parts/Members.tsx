/** Who sees a move; an owner lets people in and takes them out. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";

import { api, data, Refused, type Move } from "../api/client";
import { Button } from "./Button";
import { Field, Tick } from "./Field";

export function Members({ move }: { move: Move }) {
  const [username, setUsername] = useState("");
  const [owner, setOwner] = useState(false);
  const queries = useQueryClient();
  const key = ["members", move.id];
  const members = useQuery({
    queryKey: key,
    queryFn: () => data(api.GET("/api/moves/{id}/members/", { params: { path: { id: move.id } } })),
  });
  const add = useMutation({
    mutationFn: () =>
      data(
        api.POST("/api/moves/{id}/members/", {
          params: { path: { id: move.id } },
          body: { username: username.trim(), role: owner ? "owner" : "member" },
        }),
      ),
    onSuccess: (now) => {
      queries.setQueryData(key, now);
      setUsername("");
      setOwner(false);
    },
  });
  const remove = useMutation({
    mutationFn: (member: number) =>
      api.DELETE("/api/moves/{id}/members/{member}/", { params: { path: { id: move.id, member } } }),
    onSettled: () => queries.invalidateQueries({ queryKey: key }),
  });
  const mayChange = move.role === "owner";
  const refused = add.error instanceof Refused ? add.error.fields.username : undefined;
  const failed = members.error ?? remove.error ?? (refused ? null : add.error);
  return (
    <section className="border-edge border-b px-6 py-5" aria-label="Who sees this move">
      <h2 className="mb-1 text-[17px]">Who sees this move</h2>
      <p className="text-soft mb-3 text-[14px]">
        A member sees and changes it; an owner also lets people in and may delete it. To everybody else it is not there.
      </p>
      <ul className="mb-3 max-w-[560px]">
        {members.data?.map((one) => (
          <li key={one.id} className="border-edge flex items-center gap-3 border-b py-1.5">
            <span className="truncate font-semibold">{one.username}</span>
            <span className="text-soft text-[13px]">{one.role}</span>
            {mayChange ? (
              <Button look="bare" className="ml-auto py-0" aria-label={`Take out ${one.username}`} disabled={remove.isPending} onClick={() => remove.mutate(one.id)}>
                Take out
              </Button>
            ) : null}
          </li>
        ))}
      </ul>
      {failed ? (
        <p role="alert" className="text-madder mb-3 font-semibold">
          {failed.message}
        </p>
      ) : null}
      {mayChange ? (
        <form
          className="flex max-w-[560px] flex-wrap items-start gap-3"
          onSubmit={(event) => {
            event.preventDefault();
            add.mutate();
          }}
        >
          <Field
            className="flex-1"
            label="Let another account in, by its name"
            value={username}
            onChange={setUsername}
            autoComplete="off"
            required
            fault={refused}
          />
          <div className="flex items-center gap-3 pt-[24px]">
            <Tick label="as an owner" checked={owner} onChange={setOwner} />
            <Button type="submit" disabled={add.isPending}>
              Let in
            </Button>
          </div>
        </form>
      ) : null}
    </section>
  );
}

/** One's account: password, tokens for scripts; for the owner of the installation, new accounts. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState, type FormEvent, type ReactNode } from "react";

import { api, data, Refused } from "../api/client";
import { Button } from "../parts/Button";
import { Field } from "../parts/Field";
import { Head } from "../parts/Head";
import { moment } from "../lib/format";
import { useSession } from "../lib/queries";

function Part({ title, children }: { title: string; children: ReactNode }) {
  return (
    <section className="bg-leaf border-edge mb-4 rounded-[4px] border p-6">
      <h2 className="mb-3 text-[17px]">{title}</h2>
      {children}
    </section>
  );
}

function submit(act: () => void) {
  return (event: FormEvent) => {
    event.preventDefault();
    act();
  };
}

function Said({ error, done }: { error: Error | null; done: string }) {
  const beside = error instanceof Refused && Object.keys(error.fields).length;
  if (error && !beside)
    return (
      <p role="alert" className="text-madder font-semibold">
        {error.message}
      </p>
    );
  return done ? <p role="status">{done}</p> : null;
}

function faults(error: Error | null): Record<string, string> {
  return error instanceof Refused ? error.fields : {};
}

export function Account() {
  const session = useSession();
  document.title = "Account · Palinode";
  return (
    <>
      <Head />
      <main className="mx-auto max-w-[640px] px-6 py-6">
        <h1 className="mb-4 text-[26px] leading-8">Account</h1>
        <Password />
        <Tokens />
        {session.data?.user?.owner ? <People /> : null}
      </main>
    </>
  );
}

function Password() {
  const [old, setOld] = useState("");
  const [next, setNext] = useState("");
  const change = useMutation({
    mutationFn: () => api.PATCH("/api/account/", { body: { old, new: next } }),
    onSuccess: () => {
      setOld("");
      setNext("");
    },
  });
  const said = faults(change.error);
  return (
    <Part title="Password">
      <form className="space-y-3" onSubmit={submit(() => change.mutate())}>
        <Field label="Present password" type="password" value={old} onChange={setOld} autoComplete="current-password" fault={said.old} />
        <Field label="New password" type="password" value={next} onChange={setNext} autoComplete="new-password" fault={said.new} />
        <Said error={change.error} done={change.isSuccess ? "Changed. Other sessions have ended." : ""} />
        <Button type="submit" disabled={change.isPending}>
          Change it
        </Button>
      </form>
    </Part>
  );
}

function Tokens() {
  const [name, setName] = useState("");
  const queries = useQueryClient();
  const refresh = () => queries.invalidateQueries({ queryKey: ["tokens"] });
  const tokens = useQuery({ queryKey: ["tokens"], queryFn: () => data(api.GET("/api/tokens/")) });
  const make = useMutation({
    mutationFn: () => data(api.POST("/api/tokens/", { body: { name } })),
    onSuccess: () => {
      setName("");
      void refresh();
    },
  });
  const remove = useMutation({
    mutationFn: (id: number) => api.DELETE("/api/tokens/{id}/", { params: { path: { id } } }),
    onSuccess: refresh,
  });
  return (
    <Part title="Tokens for scripts">
      <p className="text-soft mb-3">
        A token acts as you. Send it as <code className="font-mono text-[13px]">Authorization: Bearer …</code>; the API is described
        at{" "}
        <a className="underline" href="/api/schema/">
          /api/schema/
        </a>
        .
      </p>
      <ul className="mb-3">
        {tokens.data?.map((token) => (
          <li key={token.id} className="border-edge flex items-center gap-3 border-b py-1.5">
            <span>{token.name}</span>
            <span className="text-soft text-[13px]">{moment(token.created_at)}</span>
            <Button look="bare" className="ml-auto" onClick={() => remove.mutate(token.id)}>
              Delete
            </Button>
          </li>
        ))}
        {tokens.data?.length === 0 ? <li className="text-soft">None yet.</li> : null}
      </ul>
      {make.data?.text ? (
        <p role="status" className="bg-gutter mb-3 rounded-[3px] p-3">
          Copy it now, it is not shown again:
          <span className="block font-mono text-[13px] break-all">{make.data.text}</span>
        </p>
      ) : null}
      <form className="flex items-end gap-2" onSubmit={submit(() => make.mutate())}>
        <Field className="flex-1" label="What it is for" value={name} onChange={setName} required fault={faults(make.error).name} />
        <Button type="submit">Make a token</Button>
      </form>
    </Part>
  );
}

function People() {
  const [username, setUsername] = useState("");
  const [password, setPassword] = useState("");
  const make = useMutation({
    mutationFn: () => api.POST("/api/users/", { body: { username, password } }),
    onSuccess: () => {
      setUsername("");
      setPassword("");
    },
  });
  const said = faults(make.error);
  return (
    <Part title="An account for another person">
      <form className="space-y-3" onSubmit={submit(() => make.mutate())}>
        <Field label="Name" value={username} onChange={setUsername} autoComplete="off" fault={said.username} />
        <Field label="First password" type="password" value={password} onChange={setPassword} autoComplete="new-password" fault={said.password} />
        <Said error={make.error} done={make.isSuccess ? "Made. Let them into a move at the end of its Description, then they see it." : ""} />
        <Button type="submit">Make the account</Button>
      </form>
    </Part>
  );
}

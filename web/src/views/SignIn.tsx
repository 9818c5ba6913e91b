/** Signing in; on the first visit, the owner's account. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";

import { api, data, Refused } from "../api/client";
import { Button } from "../parts/Button";
import { Field } from "../parts/Field";

export function SignIn({ first, needsToken }: { first: boolean; needsToken: boolean }) {
  const [token, setToken] = useState(new URLSearchParams(window.location.search).get("setup") ?? "");
  const [username, setUsername] = useState("");
  const [password, setPassword] = useState("");
  const queries = useQueryClient();
  const enter = useMutation({
    mutationFn: () =>
      first
        ? data(api.POST("/api/owner/", { body: { username, password, setup_token: token } }))
        : data(api.POST("/api/session/", { body: { username, password } })),
    onSuccess: (session) => queries.setQueryData(["session"], session),
  });
  const refused = enter.error instanceof Refused ? enter.error : null;
  return (
    <main className="grid min-h-screen grid-cols-1 min-[900px]:grid-cols-[1fr_108px_1fr]">
      <div className="flex flex-col items-end justify-center p-10 max-[899px]:items-start">
        <h1 className="text-[40px] leading-[48px]">Palinode</h1>
        <p className="text-soft mt-2 max-w-[340px] text-right font-serif text-[17px] leading-6 max-[899px]:text-left">
          Holds a moved site against its source, and says when it is safe to switch.
        </p>
      </div>
      <div className="bg-gutter max-[899px]:hidden" aria-hidden />
      <form
        className="bg-leaf flex flex-col justify-center gap-4 p-10"
        onSubmit={(event) => {
          event.preventDefault();
          enter.mutate();
        }}
      >
        <h2 className="text-[20px]">{first ? "Make the owner’s account" : "Sign in"}</h2>
        {first ? (
          <p className="text-soft max-w-[340px]">
            Nobody has an account here yet. Who makes this one owns the installation and lets others in.
          </p>
        ) : null}
        <Field
          className="max-w-[340px]"
          label="Name"
          value={username}
          onChange={setUsername}
          autoComplete="username"
          autoFocus
          required
          fault={refused?.fields.username}
        />
        <Field
          className="max-w-[340px]"
          label="Password"
          type="password"
          value={password}
          onChange={setPassword}
          autoComplete={first ? "new-password" : "current-password"}
          required
          hint={first ? "Ten characters or more." : undefined}
          fault={refused?.fields.password}
        />
        {first && needsToken ? (
          <Field
            className="max-w-[340px]"
            label="Setup token"
            mono
            value={token}
            onChange={setToken}
            autoComplete="off"
            spellCheck={false}
            required
            hint="bin/serve prints it as it starts."
            fault={refused?.fields.setup_token}
          />
        ) : null}
        {enter.error && !refused?.fields.setup_token && !refused?.fields.password && !refused?.fields.username ? (
          <p role="alert" className="text-madder max-w-[340px] font-semibold">
            {enter.error.message}
          </p>
        ) : null}
        <div>
          <Button type="submit" look="strong" disabled={enter.isPending}>
            {first ? "Make the account" : "Sign in"}
          </Button>
        </div>
      </form>
    </main>
  );
}

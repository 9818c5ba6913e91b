/** What a view says while it is empty, loading or failed. */
import type { ReactNode } from "react";

import { Refused } from "../api/client";
import { Button } from "./Button";

export function Notice({ title, children }: { title: string; children?: ReactNode }) {
  return (
    <div className="mx-auto max-w-[640px] px-6 py-16">
      <h1 className="mb-2 text-[26px] leading-8">{title}</h1>
      <div className="text-soft space-y-4">{children}</div>
    </div>
  );
}

export function Loading({ what }: { what: string }) {
  return (
    <h1 className="text-soft px-6 py-16 text-center font-sans text-[15px] font-normal">
      <span role="status">Reading {what} …</span>
    </h1>
  );
}

/** Whether what was asked for is not there, or not for this person. */
export function isGone(error: unknown): boolean {
  return error instanceof Refused && error.status === 404;
}

/** Said above a view whose rows are from before, so that nothing typed is lost while a server restarts. */
export function Stale({ error }: { error: Error | null }) {
  if (!error) return null;
  return (
    <p role="alert" className="bg-gutter text-madder shrink-0 px-6 py-1.5 text-[14px] font-semibold">
      {error.message} What is shown is from before; it is asked again by itself.
    </p>
  );
}

export function Failed({ error, again }: { error: unknown; again?: () => void }) {
  const gone = isGone(error);
  return (
    <Notice title={gone ? "This is not here." : "This could not be read."}>
      <p role="alert">
        {gone
          ? "It was deleted, or you are not a member of its move. Ask an owner of the move to let you in."
          : error instanceof Error
            ? error.message
            : "Something unexpected happened."}
      </p>
      {again && !gone ? <Button onClick={again}>Try again</Button> : null}
    </Notice>
  );
}

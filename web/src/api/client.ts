/** The API's client, typed from its OpenAPI schema (npm run types). */
import createClient from "openapi-fetch";

import type { components, paths } from "./schema";

export type Schemas = components["schemas"];
export type Move = Schemas["Move"];
export type MoveLine = Schemas["MoveLine"];
export type Side = Schemas["Side"];
export type Capture = Schemas["Capture"];
export type Comparison = Schemas["Comparison"];
export type Row = Schemas["Row"];
export type Pair = Schemas["Pair"];
export type Cause = Schemas["Cause"];
export type Finding = Schemas["Finding"];
export type Fate = Schemas["FateEnum"];
export type Check = Schemas["Check"];
export type ThreadShape = Schemas["ThreadEnum"];
export type Answers = Schemas["Answers"];

/** What the API says when it refuses: for the whole form, and beside fields. */
export class Refused extends Error {
  constructor(
    readonly status: number,
    message: string,
    readonly fields: Record<string, string>,
  ) {
    super(message);
  }
}

function csrf(): string {
  return /(?:^|; )palinode_csrf=([^;]*)/.exec(document.cookie)?.[1] ?? "";
}

export const api = createClient<paths>({ baseUrl: "/", credentials: "same-origin" });

api.use({
  onRequest({ request }) {
    if (request.method !== "GET") request.headers.set("X-CSRFToken", csrf());
    return request;
  },
  async onResponse({ response }) {
    if (response.ok) return undefined;
    const said = (await response.json().catch(() => ({}))) as { message?: string; fields?: Record<string, string> };
    throw new Refused(response.status, said.message ?? "The server did not answer as expected. Try again.", said.fields ?? {});
  },
  onError() {
    return new Refused(0, "The server cannot be reached. Is it running?", {});
  },
});

/** Return the data of a call; a refusal has been thrown by then. */
export async function data<T>(call: Promise<{ data?: T }>): Promise<T> {
  return (await call).data as T;
}

/** One side of a move: its address, how it is reached, and who answers there. */
import { useMutation } from "@tanstack/react-query";
import { useEffect, useRef } from "react";

import { api, data, type Answers } from "../api/client";
import { Field, Tick } from "./Field";
import { Who } from "./Who";

/** An address that was typed without http or https. */
const WITHOUT_SCHEME = /^\/{0,2}[a-z0-9.-]+(:\d+)?(\/|$)/i;

export type SideValue = {
  base: string;
  connect_to: string;
  connect_www: boolean;
  user_name: string;
  sign_in: "basic" | "digest";
  /** null: not typed, so that a stored one stays; so for the other secrets. */
  password: string | null;
  has_password: boolean;
  cookie: string | null;
  has_cookie: boolean;
  header_name: string;
  header_value: string | null;
  has_header_value: boolean;
  secrets_to_www: boolean;
  any_certificate: boolean;
  ignore_robots: boolean;
};

export function emptySide(): SideValue {
  return {
    base: "",
    connect_to: "",
    connect_www: true,
    user_name: "",
    sign_in: "basic",
    password: null,
    has_password: false,
    cookie: null,
    has_cookie: false,
    header_name: "",
    header_value: null,
    has_header_value: false,
    secrets_to_www: false,
    any_certificate: false,
    ignore_robots: false,
  };
}

/** What a kept secret is bound to: where it was typed to be sent. */
const BOUND = ["connect_to", "connect_www", "sign_in", "secrets_to_www", "any_certificate"] as const;

function origin(side: SideValue): string {
  return URL.canParse(side.base) ? new URL(side.base).origin : "";
}

/** Says what becomes of a secret that is kept and not typed now. */
function kept(has: boolean, value: SideValue, stored: SideValue | null, more: boolean = false): string {
  if (!has || !stored) return "";
  const elsewhere = more || origin(value) !== origin(stored) || BOUND.some((name) => value[name] !== stored[name]);
  return elsewhere ? "type it anew: it was typed for another place" : "kept; type to change it";
}

const SAID = { source: "the site as it was", destination: "the copy" };

export function SideForm({
  which,
  value,
  stored,
  onChange,
  temporary,
  onTemporary,
  faults,
  answers,
  asking,
  refused,
}: {
  which: "source" | "destination";
  value: SideValue;
  /** As it is kept, if it is. */
  stored: SideValue | null;
  onChange: (value: SideValue) => void;
  /** Of the destination: where the copy is reached for now. */
  temporary?: string;
  onTemporary?: (temporary: string) => void;
  faults: Record<string, string>;
  answers: Answers | null;
  asking: boolean;
  /** Why nobody was asked. */
  refused: string;
}) {
  const set = (changes: Partial<SideValue>) => onChange({ ...value, ...changes });
  const scheme = useMutation({
    mutationFn: (body: { address: string; connect_to: string }) => data(api.POST("/api/scheme/", { body })),
    onSuccess: (found, asked) => {
      // What was typed meanwhile stays.
      if (found.address) onChange(latest.current.base.trim() === asked.address ? { ...latest.current, base: found.address } : latest.current);
    },
  });
  const latest = useRef(value);
  useEffect(() => {
    latest.current = value;
  }, [value]);
  const said = scheme.data?.address === value.base ? scheme.data.said : undefined;
  const asked = scheme.variables?.address ?? "";
  const silent = asked && asked === value.base.trim() ? (scheme.error?.message ?? (scheme.data && !scheme.data.address ? `${scheme.data.said} Is it https://${asked} ?` : undefined)) : undefined;
  function findScheme() {
    const address = value.base.trim();
    if (WITHOUT_SCHEME.test(address)) scheme.mutate({ address, connect_to: value.connect_to });
  }
  const fault = (name: string) => faults[`${which}.${name}`];
  const more = value.user_name || value.has_cookie || value.header_name || value.any_certificate || value.ignore_robots;
  return (
    <section className={`${which === "source" ? "left" : "right"} space-y-3 py-4`} aria-label={which}>
      <h2 className="text-[17px] capitalize">
        {which} <span className="text-soft font-sans text-[14px] font-normal normal-case">{SAID[which]}</span>
      </h2>
      <Field
        label="Address"
        mono
        value={value.base}
        onChange={(base) => set({ base })}
        placeholder="https://"
        spellCheck={false}
        fault={fault("base") ?? (scheme.isPending ? undefined : (silent ?? faults[which]))}
        hint={scheme.isPending ? "Asking at https, then at http …" : said}
        onBlur={findScheme}
      />
      <Field
        label="Connect to (only if DNS does not lead there)"
        mono
        value={value.connect_to}
        onChange={(connect_to) => set({ connect_to })}
        placeholder="as DNS says"
        spellCheck={false}
        onBlur={findScheme}
        fault={fault("connect_to")}
      />
      {value.connect_to ? (
        <Tick label="For www and the bare name alike" checked={value.connect_www} onChange={(connect_www) => set({ connect_www })} />
      ) : null}
      {onTemporary ? (
        <Field
          label="Temporary address (if it is reached under another name for now)"
          mono
          value={temporary ?? ""}
          onChange={onTemporary}
          placeholder="none"
          spellCheck={false}
        />
      ) : null}
      <details open={more ? true : undefined}>
        <summary className="text-soft cursor-pointer text-[14px]">Password, cookie, certificate, robots rules</summary>
        <div className="mt-2 space-y-2">
          <div className="grid grid-cols-[1fr_1fr_90px] gap-3">
            <Field
              label="User name"
              value={value.user_name}
              onChange={(user_name) => set({ user_name })}
              autoComplete="off"
              fault={fault("user_name")}
            />
            <Field
              label="Password"
              type="password"
              value={value.password ?? ""}
              onChange={(password) => set({ password })}
              autoComplete="new-password"
              placeholder={kept(value.has_password, value, stored)}
              fault={fault("password")}
            />
            <label className="text-soft text-[13px]">
              <span className="mb-1 block">Sent as</span>
              <select
                className="bg-leaf border-line text-ink h-[34px] w-full rounded-[3px] border px-1 text-[14px]"
                value={value.sign_in}
                onChange={(event) => set({ sign_in: event.target.value as SideValue["sign_in"] })}
              >
                <option value="basic">Basic</option>
                <option value="digest">Digest</option>
              </select>
            </label>
          </div>
          <Field
            label="Cookie (name=value; name=value)"
            mono
            value={value.cookie ?? ""}
            onChange={(cookie) => set({ cookie })}
            autoComplete="off"
            spellCheck={false}
            placeholder={kept(value.has_cookie, value, stored)}
            fault={fault("cookie")}
          />
          <div className="grid grid-cols-2 gap-3">
            <Field
              label="Header"
              mono
              value={value.header_name}
              onChange={(header_name) => set({ header_name })}
              spellCheck={false}
              placeholder="X-Access-Key"
              fault={fault("header_name")}
            />
            <Field
              label="Its value"
              mono
              value={value.header_value ?? ""}
              onChange={(header_value) => set({ header_value })}
              autoComplete="off"
              spellCheck={false}
              placeholder={kept(value.has_header_value, value, stored, value.header_name !== stored?.header_name)}
              fault={fault("header_value")}
            />
          </div>
          <p className="text-soft text-[13px]">
            Sent to this scheme, host and port alone, kept encrypted, never shown again. Typed anew when the address, where it
            connects to, the header’s name or the certificate’s choice changes.
          </p>
          <Tick
            label="Send them to the www or bare name of the host too"
            checked={value.secrets_to_www}
            onChange={(secrets_to_www) => set({ secrets_to_www })}
          />
          <Tick
            label="The certificate does not fit yet, go on"
            checked={value.any_certificate}
            onChange={(any_certificate) => set({ any_certificate })}
          />
          <Tick
            label="Its robots rules shut everyone out, I own it, go on"
            checked={value.ignore_robots}
            onChange={(ignore_robots) => set({ ignore_robots })}
          />
        </div>
      </details>
      <Who answers={answers} asking={asking} refused={refused} onRegardless={() => set({ any_certificate: true })} regardless={value.any_certificate} />
    </section>
  );
}

/** The fields of a host: its address, where it connects to, what lets us in. */
import { useMutation } from "@tanstack/react-query";
import { useEffect, useRef, type ReactNode } from "react";

import { api, data } from "../api/client";
import { origin, type HostValue } from "../lib/host";
import { Field, Tick } from "./Field";

/** An address that was typed without http or https. */
const WITHOUT_SCHEME = /^\/{0,2}[a-z0-9.-]+(:\d+)?(\/|$)/i;

/** What a kept secret is bound to: where it was typed to be sent. */
const BOUND = ["connect_to", "connect_www", "sign_in", "secrets_to_www"] as const;

export function HostFields<Value extends HostValue>({
  value,
  stored,
  onChange,
  elsewhere = false,
  temporary,
  onTemporary,
  fault,
  unread,
  secrets,
  open,
  children,
}: {
  value: Value;
  /** As it is kept, if it is. */
  stored: Value | null;
  onChange: (value: Value) => void;
  /** Something else changed that kept secrets are bound to. */
  elsewhere?: boolean;
  /** Of the destination: where the host is reached for now. */
  temporary?: string;
  onTemporary?: (temporary: string) => void;
  fault: (field: string) => string | undefined;
  /** Why the address cannot be read as it stands. */
  unread?: string;
  /** What the folded part holds. */
  secrets: string;
  open: boolean;
  /** What the folded part holds besides. */
  children?: ReactNode;
}) {
  const set = (changes: Partial<HostValue>) => onChange({ ...value, ...changes });
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
  /** Says what becomes of a secret that is kept and not typed now. */
  function kept(has: boolean, more: boolean = false): string {
    if (!has || !stored) return "";
    const moved = more || elsewhere || origin(value.base) !== origin(stored.base) || BOUND.some((name) => value[name] !== stored[name]);
    return moved ? "type it anew: it was typed for another place" : "kept; type to change it";
  }
  return (
    <>
      <Field
        label="Address"
        mono
        value={value.base}
        onChange={(base) => set({ base })}
        placeholder="https://"
        spellCheck={false}
        fault={fault("base") ?? (scheme.isPending ? undefined : (silent ?? unread))}
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
      <details open={open ? true : undefined}>
        <summary className="text-soft cursor-pointer text-[14px]">{secrets}</summary>
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
              placeholder={kept(value.has_password)}
              fault={fault("password")}
            />
            <label className="text-soft text-[13px]">
              <span className="mb-1 block">Sent as</span>
              <select
                className="bg-leaf border-line text-ink h-[34px] w-full rounded-[3px] border px-1 text-[14px]"
                value={value.sign_in}
                onChange={(event) => set({ sign_in: event.target.value as HostValue["sign_in"] })}
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
            placeholder={kept(value.has_cookie)}
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
              placeholder={kept(value.has_header_value, value.header_name !== stored?.header_name)}
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
          {children}
        </div>
      </details>
    </>
  );
}

/** Whether something is typed that the folded part would hide. */
export function letsIn(value: HostValue): boolean {
  return Boolean(value.user_name || value.has_cookie || value.header_name);
}

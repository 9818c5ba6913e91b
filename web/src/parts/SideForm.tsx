/** One side of a move: its address, how it is reached, and who answers there. */
import type { Answers } from "../api/client";
import { Field, Tick } from "./Field";
import { Who } from "./Who";

export type SideValue = {
  base: string;
  connect_to: string;
  connect_www: boolean;
  user_name: string;
  /** null: not typed, so that a stored one stays. */
  password: string | null;
  has_password: boolean;
  any_certificate: boolean;
  ignore_robots: boolean;
};

export function emptySide(): SideValue {
  return {
    base: "",
    connect_to: "",
    connect_www: true,
    user_name: "",
    password: null,
    has_password: false,
    any_certificate: false,
    ignore_robots: false,
  };
}

const SAID = { source: "the site as it was", destination: "the copy" };

export function SideForm({
  which,
  value,
  onChange,
  faults,
  answers,
  asking,
}: {
  which: "source" | "destination";
  value: SideValue;
  onChange: (value: SideValue) => void;
  faults: Record<string, string>;
  answers: Answers | null;
  asking: boolean;
}) {
  const set = (changes: Partial<SideValue>) => onChange({ ...value, ...changes });
  const fault = (name: string) => faults[`${which}.${name}`];
  const more = value.user_name || value.any_certificate || value.ignore_robots;
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
        fault={fault("base") ?? faults[which]}
      />
      <Field
        label="Connect to (only if DNS does not lead there)"
        mono
        value={value.connect_to}
        onChange={(connect_to) => set({ connect_to })}
        placeholder="as DNS says"
        spellCheck={false}
        fault={fault("connect_to")}
      />
      {value.connect_to ? (
        <Tick label="For www and the bare name alike" checked={value.connect_www} onChange={(connect_www) => set({ connect_www })} />
      ) : null}
      <details open={more ? true : undefined}>
        <summary className="text-soft cursor-pointer text-[14px]">Password, certificate, robots rules</summary>
        <div className="mt-2 space-y-2">
          <div className="grid grid-cols-2 gap-3">
            <Field
              label="User name (Basic)"
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
              placeholder={value.has_password ? "kept; type to change it" : ""}
              fault={fault("password")}
            />
          </div>
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
      <Who answers={answers} asking={asking} onRegardless={() => set({ any_certificate: true })} regardless={value.any_certificate} />
    </section>
  );
}

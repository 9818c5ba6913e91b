/** Fields with their label above and what is wrong beneath. */
import { useId, type ChangeEvent, type InputHTMLAttributes } from "react";

import { Button } from "./Button";

type Props = Omit<InputHTMLAttributes<HTMLInputElement>, "onChange"> & {
  label: string;
  value: string;
  onChange: (value: string) => void;
  fault?: string;
  hint?: string;
  mono?: boolean;
  /** Height of a field for several lines of text. */
  lines?: number;
};

export function Field({ label, fault, hint, mono, lines, onChange, className = "", ...rest }: Props) {
  const id = useId();
  // What a message proposes can be taken with one click.
  const proposal = /Is it (\S+) \?/.exec(fault ?? "")?.[1];
  const held = {
    id,
    onChange: (event: ChangeEvent<HTMLInputElement | HTMLTextAreaElement>) => onChange(event.target.value),
    "aria-invalid": fault ? true : undefined,
    "aria-describedby": fault || hint ? `${id}-said` : undefined,
    className: `bg-leaf w-full rounded-[3px] border px-3 py-1.5 ${fault ? "border-madder" : "border-line"} ${mono || lines ? "font-mono" : ""}`,
  };
  return (
    <div className={`min-w-0 ${className}`}>
      <label htmlFor={id} className="text-soft mb-1 block text-[13px]">
        {label}
      </label>
      {lines ? <textarea rows={lines} value={rest.value} spellCheck={false} {...held} /> : <input {...rest} {...held} />}
      {fault || hint ? (
        <p id={`${id}-said`} className={`mt-1 text-[13px] ${fault ? "text-madder font-semibold" : "text-soft"}`}>
          {fault ?? hint}
        </p>
      ) : null}
      {proposal ? (
        <Button onClick={() => onChange(proposal)} className="mt-1">
          Use {proposal}
        </Button>
      ) : null}
    </div>
  );
}

export function Tick({
  label,
  checked,
  onChange,
}: {
  label: string;
  checked: boolean;
  onChange: (checked: boolean) => void;
}) {
  return (
    <label className="flex items-start gap-2">
      <input
        type="checkbox"
        className="accent-ink mt-1"
        checked={checked}
        onChange={(event) => onChange(event.target.checked)}
      />
      <span>{label}</span>
    </label>
  );
}

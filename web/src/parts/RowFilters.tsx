/** The controls above a ledger by which rows are chosen. */
import type { ReactNode, RefObject } from "react";

const CONTROL = "border-line bg-leaf h-[34px] rounded-[3px] border px-2 font-semibold";

export function Chip({ name, number, on, onClick }: { name: string; number: number; on: boolean; onClick: () => void }) {
  return (
    <button
      type="button"
      aria-pressed={on}
      onClick={onClick}
      className={`bg-leaf h-[34px] rounded-[3px] px-2 whitespace-nowrap ${on ? "border-ink border-2" : "border-line border"} ${number ? "" : "text-soft"}`}
    >
      {name} <b className="ml-1">{number.toLocaleString("en")}</b>
    </button>
  );
}

type Pick = { label: string; value: string; onPick: (value: string) => void; className?: string; children: ReactNode };

export function Pick({ label, value, onPick, className = "", children }: Pick) {
  return (
    <select aria-label={label} className={`${CONTROL} ${className}`} value={value} onChange={(event) => onPick(event.target.value)}>
      {children}
    </select>
  );
}

type Find = { label: string; at: RefObject<HTMLInputElement | null>; value: string; onType: (text: string) => void };

export function Find({ label, at, value, onType }: Find) {
  return (
    <input
      ref={at}
      type="search"
      aria-label={label}
      placeholder={label}
      className="border-line bg-leaf h-[34px] max-w-[200px] min-w-[130px] flex-1 rounded-[3px] border px-3 placeholder:text-soft"
      value={value}
      onChange={(event) => onType(event.target.value)}
      onKeyDown={(event) => {
        if (event.key === "Escape" || event.key === "Enter") {
          event.currentTarget.blur();
          event.preventDefault();
        }
      }}
    />
  );
}

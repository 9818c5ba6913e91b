/** One side of a move: its main host, how it is reached, and who answers there. */
import type { Answers } from "../api/client";
import type { SideValue } from "../lib/host";
import { Tick } from "./Field";
import { HostFields, letsIn } from "./HostFields";
import { Who } from "./Who";

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
  return (
    <section className={`${which === "source" ? "left" : "right"} space-y-3 py-4`} aria-label={which}>
      <h2 className="text-[17px] capitalize">
        {which} <span className="text-soft font-sans text-[14px] font-normal normal-case">{SAID[which]}</span>
      </h2>
      <HostFields
        value={value}
        stored={stored}
        onChange={onChange}
        elsewhere={value.any_certificate !== stored?.any_certificate}
        temporary={temporary}
        onTemporary={onTemporary}
        fault={(name) => faults[`${which}.${name}`]}
        unread={faults[which]}
        secrets="Password, cookie, certificate, robots rules"
        open={letsIn(value) || value.any_certificate || value.ignore_robots}
      >
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
      </HostFields>
      <Who answers={answers} asking={asking} refused={refused} onRegardless={() => set({ any_certificate: true })} regardless={value.any_certificate} />
    </section>
  );
}

/** The hosts that a site has besides its main one, those of both sides facing each other. */
import type { Answers } from "../api/client";
import { emptyHost, typed, type FacingHosts, type HostValue } from "../lib/host";
import { Button } from "./Button";
import { HostFields, letsIn } from "./HostFields";
import { Thread } from "./Thread";
import { Who } from "./Who";

const SIDES = ["source", "destination"] as const;

export function FurtherHosts({
  rows,
  stored,
  onChange,
  temporaryOf,
  onTemporary,
  faults,
  answers,
  asking,
}: {
  rows: FacingHosts[];
  /** As they are kept. */
  stored: FacingHosts[];
  onChange: (rows: FacingHosts[]) => void;
  /** Where a host of the destination is reached for now. */
  temporaryOf: (base: string) => string;
  onTemporary: (base: string, temporary: string) => void;
  faults: Record<string, string>;
  answers: { place: number; source: Answers | null; destination: Answers | null }[];
  asking: boolean;
}) {
  const change = (place: number, which: (typeof SIDES)[number], value: HostValue) =>
    onChange(rows.map((row) => (row.place === place ? { ...row, [which]: value } : row)));
  const add = () =>
    onChange([...rows, { place: Math.max(0, ...rows.map((row) => row.place)) + 1, source: emptyHost(), destination: emptyHost() }]);
  return (
    <section aria-label="Further hosts">
      <div className="border-edge flex items-center gap-3 border-b px-6 py-2.5">
        <h2 className="text-[17px]">Further hosts</h2>
        <p className="text-soft text-[14px]">
          {rows.length ? "Captured and compared with the main ones." : "Shop, media, languages: names that belong to the site besides its own."}
        </p>
        <Button look="bare" className="ml-auto" onClick={add}>
          Add a host
        </Button>
      </div>
      {rows.map((row) => (
        <div key={row.place} className="facing bg-leaf border-edge border-b">
          {SIDES.map((which) => {
            const value = row[which];
            const at = typed(rows, which).indexOf(row);
            const found = answers.find((one) => one.place === row.place)?.[which] ?? null;
            const kept = stored.find((one) => one.place === row.place)?.[which] ?? null;
            return (
              <div key={which} className={`${which === "source" ? "left" : "right order-3"} space-y-3 py-4`} role="group" aria-label={`Further host, ${which}`}>
                <HostFields
                  value={value}
                  stored={kept?.base ? kept : null}
                  onChange={(to) => change(row.place, which, to)}
                  temporary={which === "destination" ? temporaryOf(value.base) : undefined}
                  onTemporary={which === "destination" && value.base ? (to) => onTemporary(value.base, to) : undefined}
                  fault={(name) => (at < 0 ? undefined : faults[`${which}.further.${at}.${name}`])}
                  secrets="Password, cookie, header"
                  open={letsIn(value)}
                />
                {value.base ? <Who answers={found} asking={asking} /> : null}
              </div>
            );
          })}
          <div className="mid order-2 flex-col gap-3 py-4">
            {row.source.base && row.destination.base ? (
              <Thread shape="bent" label="Becomes" />
            ) : row.source.base ? (
              <p className="text-soft px-2 text-[13px] leading-4">The rule says where it goes.</p>
            ) : null}
            <Button look="bare" onClick={() => onChange(rows.filter((one) => one !== row))}>
              Take out
            </Button>
          </div>
        </div>
      ))}
    </section>
  );
}

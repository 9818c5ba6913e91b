/** Who answers on a side, and in the gutter whether that looks right. */
import type { ReactNode } from "react";

import type { Answers, Schemas } from "../api/client";
import { Thread } from "./Thread";

export function Who({
  answers,
  asking,
  refused,
  regardless,
  onRegardless,
}: {
  answers: Answers | null;
  asking: boolean;
  /** Why nobody was asked. */
  refused?: string;
  regardless?: boolean;
  /** Where a person may say that the certificate does not matter. */
  onRegardless?: () => void;
}) {
  if (!answers)
    return (
      <p className="text-soft min-h-[88px] text-[14px]" role="status">
        {refused ? <span className="text-madder font-semibold">{refused}</span> : null}
        {refused ? "" : asking ? "Asking who answers …" : onRegardless ? "Who answers is shown here when both addresses are typed." : ""}
      </p>
    );
  const lines: [string, ReactNode][] = [];
  if (answers.fault) lines.push(["Answers", <span className="text-madder font-semibold">{answers.fault}</span>]);
  else
    lines.push([
      "Answers",
      <>
        <b>{answers.status}</b>
        {answers.reached ? (
          <>
            {" "}
            from <span className="font-mono text-[13px]">{answers.reached}</span>
          </>
        ) : null}{" "}
        in {(answers.took_ms / 1000).toFixed(1)} s, {answers.hops.length ? "" : "no redirect"}
        {answers.hops.map((hop) => (
          <span key={hop.address} className="block font-mono text-[13px] break-all">
            {hop.status} to {hop.to}
          </span>
        ))}
      </>,
    ]);
  if (answers.title) lines.push(["Title", answers.title]);
  if (answers.server) lines.push(["Server", answers.server]);
  const { certificate } = answers;
  if (certificate)
    lines.push([
      "Certificate",
      <span className={certificate.fits ? "" : "text-ochre"}>
        {certificate.names.slice(0, 3).join(", ")}
        {certificate.names.length > 3 ? ` and ${certificate.names.length - 3} more` : ""}
        {certificate.days_left < 0 ? ": has run out." : certificate.fits ? `, ${certificate.days_left} days left` : ": does not cover this name yet."}{" "}
        {certificate.fits || regardless || !onRegardless ? null : (
          <button type="button" className="text-ink underline" onClick={onRegardless}>
            Go on regardless
          </button>
        )}
      </span>,
    ]);
  return (
    <dl className={`grid min-h-[88px] grid-cols-[96px_minmax(0,1fr)] content-start gap-y-0.5 text-[14px] ${asking ? "opacity-60" : ""}`} aria-live="polite">
      {lines.map(([name, value]) => (
        <div key={name} className="contents">
          <dt className="text-soft">{name}</dt>
          <dd className="break-words">{value}</dd>
        </div>
      ))}
    </dl>
  );
}

export function WhoGutter({ answers, moves }: { answers: Schemas["WhoAnswers"] | null; moves: boolean }) {
  return (
    <div className="mid flex-col gap-6 px-2 text-[13px] leading-4">
      <Thread shape={moves ? "bent" : "straight"} label={moves ? "Moves" : "Stays"} />
      {answers?.remark ? (
        <p role={answers.same_site ? "alert" : undefined} className={answers.same_site ? "text-madder font-semibold" : "text-soft"}>
          {answers.remark}
        </p>
      ) : null}
    </div>
  );
}

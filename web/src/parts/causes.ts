/** What is said of causes: how certain they are, and who can mend them. */
import type { Cause, ThreadShape } from "../api/client";

export const CERTAINTY: Record<Cause["certainty"], string> = { shown: "the answers show it", likely: "likely", unknown: "no reason known" };

export const WHO: Record<Cause["who"], string> = { editor: "Editor", administrator: "Administrator", host: "Host", dns: "Whoever runs DNS" };

/** The thread of a cause, by its weight. */
export const CAUSE_THREAD: Record<Cause["weight"], ThreadShape> = { blocks: "cut", mend: "wavy", note: "dashed" };

/** Those for whom there is something to do, in their order, with how many causes each can mend. */
export function people(causes: Cause[]): [Cause["who"], number][] {
  const names = Object.keys(WHO) as Cause["who"][];
  return names.map((who) => [who, causes.filter((one) => one.who === who).length] as [Cause["who"], number]).filter(([, number]) => number > 0);
}

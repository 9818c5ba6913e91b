import type { Capture } from "../api/client";
import type { Framed } from "../parts/MoveFrame";

/** The capture of the source, while nothing of the destination is there to hold it against. */
export function sourceAlone({ move, captures, latest }: Framed): Capture | undefined {
  const closed = (side: string) => captures.find((one) => one.side === side && one.state === "closed" && one.pages > 0);
  if (latest || closed("destination")) return undefined;
  return captures.find((one) => one.id === move.baseline) ?? closed("source");
}

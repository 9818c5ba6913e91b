/** Rows of a ledger that are marked, by their rank. */
import { useCallback, useState } from "react";

export function useSelection() {
  const [marked, setMarked] = useState<ReadonlySet<number>>(new Set());
  // Keys may come faster than the view is drawn, so that each begins from what the one before left.
  const mark = useCallback((rank: number) => {
    setMarked((before) => {
      const next = new Set(before);
      if (!next.delete(rank)) next.add(rank);
      return next;
    });
  }, []);
  const clear = useCallback(() => setMarked(new Set()), []);
  return { marked, mark, clear };
}

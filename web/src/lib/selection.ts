/** Rows of a ledger that are marked, by what names them. */
import { useCallback, useState } from "react";

export function useSelection<Key = number>() {
  const [marked, setMarked] = useState<ReadonlySet<Key>>(new Set());
  // Keys may come faster than the view is drawn, so that each begins from what the one before left.
  const mark = useCallback((row: Key) => {
    setMarked((before) => {
      const next = new Set(before);
      if (!next.delete(row)) next.add(row);
      return next;
    });
  }, []);
  const clear = useCallback(() => setMarked(new Set()), []);
  return { marked, mark, clear };
}

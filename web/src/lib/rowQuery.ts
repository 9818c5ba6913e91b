/** The choice that a ledger shows, kept in the URL, so that a view can be sent to a colleague. */
import { useCallback, useEffect, useRef, useState } from "react";
import { useSearchParams } from "react-router";

import { useRestedValue } from "./restedValue";

export function useRowQuery(rows: number, groups = 0) {
  const [search, setSearch] = useSearchParams();
  const find = useRef<HTMLInputElement>(null);
  const words = search.get("find") ?? "";
  const total = search.get("by") ? groups : rows;
  const selected = Number(search.get("row") ?? 0);

  const change = useCallback(
    (changes: Record<string, string>, keepRow = false) => {
      setSearch(
        (before) => {
          const next = new URLSearchParams(before);
          if (!keepRow) next.delete("row");
          for (const [name, value] of Object.entries(changes)) {
            if (value) next.set(name, value);
            else next.delete(name);
          }
          return next;
        },
        { replace: true },
      );
    },
    [setSearch],
  );
  // What is typed goes into the URL when the typing rests; a URL that changes otherwise is shown.
  const [typed, setTyped] = useState(words);
  const rested = useRestedValue(typed, 200);
  useEffect(() => change({ find: rested }, rested === words), [rested]); // eslint-disable-line react-hooks/exhaustive-deps
  useEffect(() => {
    if (document.activeElement !== find.current) setTyped(words);
  }, [words]);
  const select = useCallback((index: number) => change({ row: index ? String(index) : "" }, true), [change]);

  // Where the next step begins: keys may come faster than the view is drawn.
  const standing = useRef(selected);
  useEffect(() => {
    standing.current = selected;
  }, [selected]);

  function go(step: number) {
    const next = Math.min(Math.max(0, standing.current + step), (total || 1) - 1);
    standing.current = next;
    select(next);
    requestAnimationFrame(() => document.querySelector<HTMLElement>(`[data-ledger] [data-index="${next}"]`)?.focus());
  }

  return { search, change, words, selected, standing, select, go, find, typed, setTyped };
}

/** Keyboard of a view. Keys typed into a field, or while a dialog is open, are not the view's. */
import { useEffect, useRef } from "react";

export type Keys = Record<string, () => void>;

export function useKeys(keys: Keys): void {
  const current = useRef(keys);
  useEffect(() => {
    current.current = keys;
  });
  useEffect(() => {
    function pressed(event: KeyboardEvent) {
      if (event.ctrlKey || event.metaKey || event.altKey) return;
      const at = event.target as HTMLElement;
      if (at.closest("input, textarea, select, [role=dialog], [role=menu]")) return;
      // Enter on a link or button is that link's or button's.
      if (event.key === "Enter" && at.closest("a, button, summary, [role=link]")) return;
      const act = current.current[event.key] ?? current.current[event.key.toLowerCase()];
      if (!act) return;
      event.preventDefault();
      act();
    }
    window.addEventListener("keydown", pressed);
    return () => window.removeEventListener("keydown", pressed);
  }, []);
}

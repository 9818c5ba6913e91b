/** Whether the window is so narrow that the two sides stand one above the other. */
import { useSyncExternalStore } from "react";

const NARROW = window.matchMedia("(max-width: 899px)");

function subscribe(tell: () => void) {
  NARROW.addEventListener("change", tell);
  return () => NARROW.removeEventListener("change", tell);
}

export function useNarrow(): boolean {
  return useSyncExternalStore(subscribe, () => NARROW.matches);
}

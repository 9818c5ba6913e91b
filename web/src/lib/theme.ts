/** Light or dark: as the system has it, until a person chooses. */
import { useState } from "react";

const KEPT = "palinode-theme";

function preferred(): string {
  return localStorage.getItem(KEPT) ?? (matchMedia("(prefers-color-scheme: dark)").matches ? "dark" : "light");
}

export function applyTheme(): void {
  document.documentElement.dataset.theme = preferred();
}

export function useTheme(): [string, () => void] {
  const [theme, set] = useState(preferred);
  return [
    theme,
    () => {
      const next = theme === "dark" ? "light" : "dark";
      localStorage.setItem(KEPT, next);
      applyTheme();
      set(next);
    },
  ];
}

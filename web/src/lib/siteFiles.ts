/** Site files: what shows a site from behind, and becomes a capture that keeps it. */
import { bytes, count } from "./format";

const NAMES: Record<string, string> = { dump: "Dump", export: "Export", api: "Public API", numbers: "Numbers typed by hand", listing: "List of files" };

/** What a kind of site file is called; empty for a kind of capture that is made of none. */
export function siteFileName(kind: string): string {
  return NAMES[kind] ?? "";
}

/** The same within a sentence: a dump. */
export function aSiteFile(kind: string): string {
  const name = siteFileName(kind).toLowerCase();
  if (kind === "numbers") return name;
  if (kind === "api") return "its public API";
  return `${/^[aeiou]/.test(name) ? "an" : "a"} ${name}`;
}

/** Whether a capture is made of a site file. */
export function isSiteFile({ kind }: { kind: string }): boolean {
  return kind in NAMES;
}

/** How far the reading of an imported file is. */
export function readSoFar({ kind, read }: { kind: string; read?: number }): string {
  return isSiteFile({ kind }) ? bytes((read ?? 0) * 1e6) : count(read ?? 0, "answer");
}

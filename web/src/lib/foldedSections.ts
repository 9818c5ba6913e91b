/** Sections that behave alike, folded into one where there are too many to tell apart. */
import type { Fate } from "../api/client";

export type Band = { left: string; right: string; fate: Fate; rows: number };

const MOST_SECTIONS = 12;
const FEWEST_ALIKE = 3;
const OTHERS = "other sections";
const NUMBERS = ["no", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten", "eleven", "twelve"];
const YEAR = /^\/(?:19|20)\d\d$/;

/** What stays or alters in its place is one band: the fate of its pages is told by the ledger. */
function fateOf(band: Band): Fate {
  return band.fate === "altered" ? "kept" : band.fate;
}

/** What became of a section as a whole; empty if its pages fared differently, or went elsewhere. */
function behaviours(bands: Band[]): Map<string, string> {
  const found = new Map<string, string>();
  for (const band of bands) {
    const alone = !band.left || !band.right || band.left === band.right;
    for (const name of new Set([band.left, band.right])) {
      if (!name) continue;
      const fate = alone ? fateOf(band) : "";
      found.set(name, found.has(name) && found.get(name) !== fate ? "" : fate);
    }
  }
  return found;
}

function called(names: string[]): string {
  const number = NUMBERS[names.length] ?? names.length.toLocaleString("en");
  return `${number} ${names.every((name) => YEAR.test(name)) ? "years" : "sections"}`;
}

/** Bands between at most so many sections: those that fared alike stand together, then the largest, then the others. */
export function folded(bands: Band[]): Band[] {
  const names = new Map<string, string>();
  const every = new Set(bands.flatMap((band) => [band.left, band.right]).filter(Boolean));
  if (every.size > MOST_SECTIONS) {
    const alike = new Map<string, string[]>();
    for (const [name, fate] of behaviours(bands)) {
      if (!fate || name === "/") continue;
      const key = `${fate} ${YEAR.test(name) ? "year" : ""}`;
      alike.set(key, [...(alike.get(key) ?? []), name]);
    }
    const taken = new Set<string>();
    for (const some of alike.values()) {
      if (some.length < FEWEST_ALIKE) continue;
      let name = called(some);
      while (taken.has(name)) name = `${name}, others`;
      taken.add(name);
      for (const one of some) names.set(one, name);
    }
  }
  const rows = new Map<string, number>();
  const first = (name: string) => names.get(name) ?? name;
  for (const band of bands) for (const name of new Set([first(band.left), first(band.right)])) if (name) rows.set(name, (rows.get(name) ?? 0) + band.rows);
  const kept = new Set([...rows].sort((a, b) => b[1] - a[1]).slice(0, MOST_SECTIONS).map(([name]) => name));
  const named = (name: string) => (!name || kept.has(first(name)) ? first(name) : OTHERS);
  const sums = new Map<string, Band>();
  for (const band of bands) {
    const key = [named(band.left), named(band.right), fateOf(band)].join("\n");
    const sum = sums.get(key) ?? { left: named(band.left), right: named(band.right), fate: fateOf(band), rows: 0 };
    sum.rows += band.rows;
    sums.set(key, sum);
  }
  return [...sums.values()];
}

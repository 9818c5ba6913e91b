/** The tabs of a pair, in the order of their keys. */
export const TABS = [
  ["reading", "Reading"],
  ["head", "Head"],
  ["links", "Links and images"],
  ["forms", "Forms"],
  ["answer", "Answer"],
  ["stored", "Stored"],
] as const;

export type Tab = (typeof TABS)[number][0];

export function tabOf(search: URLSearchParams): Tab {
  const said = search.get("tab");
  return TABS.find(([name]) => name === said)?.[0] ?? "reading";
}

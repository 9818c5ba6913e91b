/** How things are said on screen. */

export function count(number: number, one: string, many = `${one}s`): string {
  return `${number.toLocaleString("en")} ${number === 1 ? one : many}`;
}

export function bytes(number: number): string {
  const units = ["bytes", "KB", "MB", "GB", "TB"];
  let at = 0;
  let value = number;
  while (value >= 1000 && at < units.length - 1) {
    value /= 1000;
    at += 1;
  }
  return `${value >= 100 || at === 0 ? Math.round(value).toLocaleString("en") : value.toFixed(1)} ${units[at] ?? ""}`;
}

/** A moment as a person says it: today 14:20, 12 Nov 09:14. */
export function moment(iso: string): string {
  const date = new Date(iso);
  const time = date.toLocaleTimeString("en-GB", { hour: "2-digit", minute: "2-digit" });
  if (date.toDateString() === new Date().toDateString()) return `today ${time}`;
  const year = date.getFullYear() === new Date().getFullYear() ? "" : ` ${date.getFullYear()}`;
  return `${date.toLocaleDateString("en-GB", { day: "numeric", month: "short" })}${year} ${time}`;
}

/** A day that is kept as 20261112, as a person says it: 12 Nov 2026. */
export function day(number: number): string {
  const date = new Date(Math.floor(number / 10000), (Math.floor(number / 100) % 100) - 1, number % 100);
  return date.toLocaleDateString("en-GB", { day: "numeric", month: "short", year: "numeric" });
}

export function duration(seconds: number): string {
  if (seconds < 60) return count(Math.max(1, Math.round(seconds)), "second");
  if (seconds < 3600) return count(Math.round(seconds / 60), "minute");
  return `${(seconds / 3600).toFixed(1)} hours`;
}

/** Path and query of an address. */
export function path(address: string): string {
  const at = address.indexOf("/", 8);
  return at < 0 ? "/" : address.slice(at);
}

/** Host of an address. */
export function host(address: string): string {
  return address.slice(address.indexOf("//") + 2).split("/", 1)[0] ?? "";
}

/** An address as a page of a site shows it: without the host where that is the site's own. */
export function within(address: string, base: string): string {
  return host(address) === host(base) ? path(address) : address;
}

/** Where a page of a side stands: its path, with the host before it where that is a further one. */
export function place(address: string, base: string): string {
  return host(address) === host(base) ? path(address) : address.replace(/^https?:\/\//, "");
}

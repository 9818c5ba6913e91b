/** A host of a side as it is typed: its address, how it is reached, what lets us in. */
import type { Move, Schemas } from "../api/client";

export type HostValue = {
  base: string;
  connect_to: string;
  connect_www: boolean;
  user_name: string;
  sign_in: "basic" | "digest";
  /** null: not typed, so that a stored one stays; so for the other secrets. */
  password: string | null;
  has_password: boolean;
  cookie: string | null;
  has_cookie: boolean;
  header_name: string;
  header_value: string | null;
  has_header_value: boolean;
  secrets_to_www: boolean;
};

/** The main host of a side, with what holds for all of them. */
export type SideValue = HostValue & { any_certificate: boolean; ignore_robots: boolean };

/** The further hosts of one place: one of each side, or of one of them alone. */
export type FacingHosts = { place: number; source: HostValue; destination: HostValue };

export function emptyHost(): HostValue {
  return {
    base: "",
    connect_to: "",
    connect_www: true,
    user_name: "",
    sign_in: "basic",
    password: null,
    has_password: false,
    cookie: null,
    has_cookie: false,
    header_name: "",
    header_value: null,
    has_header_value: false,
    secrets_to_www: false,
  };
}

export function emptySide(): SideValue {
  return { ...emptyHost(), any_certificate: false, ignore_robots: false };
}

export function hostOf(kept: Schemas["FurtherHost"] | Move["source"]): HostValue {
  return {
    base: kept.base,
    connect_to: kept.connect_to ?? "",
    connect_www: kept.connect_www ?? false,
    user_name: kept.user_name ?? "",
    sign_in: kept.sign_in ?? "basic",
    password: null,
    has_password: kept.has_password,
    cookie: null,
    has_cookie: kept.has_cookie,
    header_name: kept.header_name ?? "",
    header_value: null,
    has_header_value: kept.has_header_value,
    secrets_to_www: kept.secrets_to_www ?? false,
  };
}

export function sideOf(kept: Move["source"]): SideValue {
  return { ...hostOf(kept), any_certificate: kept.any_certificate ?? false, ignore_robots: kept.ignore_robots ?? false };
}

/** The further hosts of a move, those of a place beside each other. */
export function facingHosts(move: Move): FacingHosts[] {
  const found = new Map<number, FacingHosts>();
  for (const which of ["source", "destination"] as const)
    for (const host of move[which].further ?? []) {
      const row = found.get(host.place) ?? { place: host.place, source: emptyHost(), destination: emptyHost() };
      found.set(host.place, { ...row, [which]: hostOf(host) });
    }
  return [...found.values()].sort((one, other) => one.place - other.place);
}

/** A host as the API takes it. */
export function hostBody(host: HostValue): Omit<Schemas["FurtherHostRequest"], "place"> {
  const { base, connect_to, connect_www, user_name, sign_in, header_name, secrets_to_www } = host;
  const given = { base, connect_to, connect_www, user_name, sign_in, header_name, secrets_to_www };
  const secrets = { password: host.password, cookie: host.cookie, header_value: host.header_value };
  return { ...given, ...Object.fromEntries(Object.entries(secrets).filter(([, value]) => value !== null)) };
}

/** The further hosts of one side that are typed, as the API takes them; ``base`` says where each is reached. */
export function furtherBody(
  rows: FacingHosts[],
  which: "source" | "destination",
  base: (host: HostValue) => string = (host) => host.base,
): Schemas["FurtherHostRequest"][] {
  return typed(rows, which).map((row) => ({ place: row.place, ...hostBody(row[which]), base: base(row[which]) }));
}

/** The rows in which a host of a side is typed, in the order in which they are sent. */
export function typed(rows: FacingHosts[], which: "source" | "destination"): FacingHosts[] {
  return rows.filter((row) => row[which].base.trim());
}

export function sideBody(side: SideValue, further: Schemas["FurtherHostRequest"][]): Schemas["SideRequest"] {
  return { ...hostBody(side), any_certificate: side.any_certificate, ignore_robots: side.ignore_robots, further };
}

export function origin(address: string): string {
  return URL.canParse(address) ? new URL(address).origin : "";
}

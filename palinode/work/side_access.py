"""From a side's record to how it is reached."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cache
from typing import Any, Protocol

from django.conf import settings

import palinode
from palinode.core import address as addresses
from palinode.core import connect
from palinode.core import rule as rules
from palinode.core.connect import Line
from palinode.core.options import OptionError
from palinode.gather.access import Access, ConnectTo, Credentials
from palinode.gather.guard import Guard
from palinode.records import decisions
from palinode.records.models import Host, Move, Side


class Described(Protocol):
    """A host as it is described: a record, or what a person typed."""

    @property
    def base(self) -> str:
        """Home page's address."""

    @property
    def connect_to(self) -> list[Line]:
        """Lines that say where its name leads."""

    @property
    def user_name(self) -> str:
        """It is sent with the password."""

    @property
    def sign_in(self) -> str:
        """How the user name and password are sent."""

    @property
    def header_name(self) -> str:
        """The field in which ``header_value`` is sent."""

    @property
    def secrets_to_www(self) -> bool:
        """Whether the secrets are for the www name as well."""


def bases(move: Move, which: str) -> tuple[str, ...]:
    """Return the address at which each host of a side is reached, the main one first."""
    side = move.side(which)
    return tuple(_base(move, which, host) for host in side.hosts)


def base(move: Move, which: str) -> str:
    """Return the address at which a side's main host is reached: the temporary one of a copy that has one."""
    return bases(move, which)[0]


@dataclass(frozen=True)
class Addressee:
    """To whom the secrets of a host are sent: what was described when a person typed them.

    Where any of it changes, they are typed anew. A member of a move may change where a side is reached, and must
    not have another's password sent to a host of his own.
    """

    origin: str
    """Scheme, host and port at which the host is reached."""
    lines: tuple[tuple[str, ...], ...]
    """The connect-to lines of its name, since they say which machine that host is."""
    www: bool
    sign_in: str
    """A password that was typed for Digest was never to be sent itself."""
    any_certificate: bool

    @classmethod
    def of(cls, base: str, described: Described, lines: Sequence[ConnectTo], any_certificate: bool) -> "Addressee":
        """Return the addressee of a host that is reached at ``base``, on a side with connect-to lines."""
        name = connect.host_name(base)
        ours = sorted(
            (line.host, str(line.port), line.address, str(line.to_port))
            for line in lines
            if addresses.bare_host(line.host) == addresses.bare_host(name)
        )
        return cls(addresses.origin(base), tuple(ours), described.secrets_to_www, described.sign_in, any_certificate)


def addressees(move: Move, which: str, hosts: Mapping[int, Host], any_certificate: bool) -> dict[int, Addressee]:
    """Return to whom the secrets of each of a side's hosts are sent, by place, as they are described now."""
    bases = {place: _base(move, which, host) for place, host in hosts.items()}
    lines = merged_lines([_lines(host, bases[place]) for place, host in hosts.items()])
    return {place: Addressee.of(bases[place], host, lines, any_certificate) for place, host in hosts.items()}


def _base(move: Move, which: str, host: Host) -> str:
    return rules.read(move.rule).reached(host.base) if which == "destination" else host.base


def access(side: Side, any_certificate: bool = False) -> Access:
    """Return how a side is reached."""
    hosts = [(_base(side.move, side.which, host), host) for host in side.hosts]
    return Access(
        bases=tuple(base for base, _ in hosts),
        connect_to=merged_lines([_lines(host, base) for base, host in hosts]),
        credentials=tuple(_credentials(base, host, _secrets(host)) for base, host in hosts),
        authorities=authorities(),
        any_certificate=any_certificate,
    )


def of_typed(typed: Mapping[int, Described], side: Side | None, any_certificate: bool) -> dict[int, Access]:
    """Return how each host of a side that is being described is reached, by its place, the main one at 0.

    A secret that is not typed is the one that ``side`` has kept, as long as it goes where it was typed for.
    """
    lines = merged_lines(host.connect_to for host in typed.values())
    kept, before = (side.by_place(), _addressees_kept(side)) if side else ({}, {})
    found = {}
    for place, host in typed.items():
        secrets = _secrets(host)
        if before.get(place) == Addressee.of(host.base, host, lines, any_certificate):
            there = {name: value for name, value in _secrets(kept[place]).items() if getattr(host, name) is None}
            if host.header_name != kept[place].header_name:
                there.pop("header_value", None)
            secrets |= there
        found[place] = Access(
            bases=(host.base,),
            connect_to=lines,
            credentials=(_credentials(host.base, host, secrets),),
            authorities=authorities(),
            any_certificate=any_certificate,
        )
    return found


def _addressees_kept(side: Side) -> dict[int, Addressee]:
    regardless = "certificate" in decisions.overrides(side.move, side.which)
    return addressees(side.move, side.which, side.by_place(), regardless)


def _secrets(host: Described) -> dict[str, str]:
    return {name: getattr(host, name) or "" for name in Host.SECRETS}


def _credentials(base: str, host: Described, secrets: Mapping[str, str]) -> Credentials:
    return Credentials(
        base=base,
        user_name=host.user_name,
        sign_in=host.sign_in,
        header_name=host.header_name,
        to_www=host.secrets_to_www,
        **secrets,
    )


def merged_lines(of_hosts: Iterable[Sequence[Line]]) -> tuple[ConnectTo, ...]:
    """Return the connect-to lines of a side's hosts together; of two for one host and port the first holds."""
    found: dict[tuple[str, int], ConnectTo] = {}
    for line in (ConnectTo(**dict[str, Any](line)) for lines in of_hosts for line in lines):
        found.setdefault((line.host, line.port), line)
    return tuple(found.values())


def _lines(host: Host, reached: str) -> list[Line]:
    """Return a host's connect-to lines, for the name at which it is reached."""
    lines: list[Line] = host.connect_to
    if reached == host.base or not lines:
        return lines
    address, www = connect.written(host.base, lines)
    return connect.lines(reached, address, www) if address else lines


def narrowed(access: Access, hosts: str) -> Access:
    """Return how a side is reached as far as some of its further hosts, named by a person; empty for all of them.

    Raises OptionError for a host that the side has not.
    """
    names = {name.strip().lower() for name in hosts.split(",")} - {"", "-"}
    further = {addresses.split(base).host: base for base in access.bases[1:]}
    if unknown := sorted(names - further.keys()):
        has = f"It has {', '.join(further)}." if further else "It has none."
        raise OptionError("hosts", f"The side has no further host {unknown[0]}. {has}")
    chosen = [base for host, base in further.items() if host in names or not hosts.strip()]
    return replace(access, bases=(access.base, *chosen))


def side_of(move: Move, which: str) -> tuple[Access, bool]:
    """Return how a side is reached, and whether its robots rules are honoured, as people decided."""
    overridden = decisions.overrides(move, which)
    return access(move.side(which), "certificate" in overridden), "robots" not in overridden


def told(access: Access, honours: bool) -> dict[str, Any]:
    """Return how a side is reached as a capture keeps it: without secrets."""
    return {
        "base": access.base,
        "further": list(access.bases[1:]),
        "connect_to": [f"{line.host}:{line.port} to {line.address}:{line.to_port}" for line in access.connect_to],
        "any_certificate": access.any_certificate,
        "honours_robots": honours,
    }


@cache
def guard() -> Guard:
    """Return the guard with the networks that this installation allows."""
    return Guard(settings.PALINODE_ALLOW_NETWORKS)


def authorities() -> str:
    """Return the file of further certificate authorities that this installation trusts; empty for none."""
    return str(settings.PALINODE_AUTHORITIES)


def agent() -> str:
    """Return the user agent that captures state."""
    contact = f"; {settings.PALINODE_CONTACT}" if settings.PALINODE_CONTACT else ""
    return f"Palinode/{palinode.__version__} (site verification{contact})"

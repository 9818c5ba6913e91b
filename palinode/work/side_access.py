"""From a side's record to how it is reached."""

from dataclasses import dataclass
from functools import cache
from typing import Any, Protocol

from django.conf import settings

import palinode
from palinode.core import address as addresses
from palinode.core import connect
from palinode.core import rule as rules
from palinode.gather.access import Access, ConnectTo
from palinode.gather.guard import Guard
from palinode.records import decisions
from palinode.records.models import Move, Side


class Described(Protocol):
    """A side as far as its secrets are concerned: a record, or what a person typed."""

    @property
    def connect_to(self) -> list[dict[str, Any]]:
        """Lines as a record keeps them."""

    @property
    def secrets_to_www(self) -> bool:
        """Whether the secrets are for the www name as well."""

    @property
    def sign_in(self) -> str:
        """How the user name and password are sent."""


def base(move: Move, which: str) -> str:
    """Return the address of a side at which it is reached: the temporary one of a copy that has one."""
    return _base(move, move.side(which))


@dataclass(frozen=True)
class Addressee:
    """To whom the secrets of a side are sent: what was described when a person typed them.

    Where any of it changes, they are typed anew. A member of a move may change where a side is reached, and must
    not have another's password sent to a host of his own.
    """

    origin: str
    """Scheme, host and port at which the side is reached."""
    lines: tuple[tuple[str, ...], ...]
    """The connect-to lines, since they say which machine that host is."""
    www: bool
    sign_in: str
    """A password that was typed for Digest was never to be sent itself."""
    any_certificate: bool

    @classmethod
    def of(cls, base: str, described: Described, any_certificate: bool) -> "Addressee":
        """Return the addressee of a side, or of a form, that is reached at ``base``."""
        parts = addresses.split(base)
        lines = sorted(tuple(str(line[name]) for name in sorted(line)) for line in described.connect_to)
        origin = f"{parts.scheme}://{parts.host}"
        return cls(origin, tuple(lines), described.secrets_to_www, described.sign_in, any_certificate)


def addressee(move: Move, side: Side, any_certificate: bool) -> Addressee:
    """Return to whom the secrets of a side are sent as it is described now."""
    return Addressee.of(_base(move, side), side, any_certificate)


def _base(move: Move, side: Side) -> str:
    return rules.read(move.rule).reached(side.base) if side.which == "destination" else side.base


def access(side: Side, any_certificate: bool = False) -> Access:
    """Return how a side is reached."""
    reached = _base(side.move, side)
    return Access(
        base=reached,
        connect_to=tuple(
            ConnectTo(line["host"], line["port"], line["address"], line["to_port"]) for line in _lines(side, reached)
        ),
        user_name=side.user_name,
        sign_in=side.sign_in,
        password=side.password or "",
        cookie=side.cookie or "",
        header_name=side.header_name,
        secrets_to_www=side.secrets_to_www,
        header_value=side.header_value or "",
        authorities=authorities(),
        any_certificate=any_certificate,
    )


def _lines(side: Side, reached: str) -> list[dict[str, Any]]:
    """Return a side's connect-to lines, for the host at which it is reached."""
    lines: list[dict[str, Any]] = side.connect_to
    if reached == side.base or not lines:
        return lines
    address, www = connect.written(side.base, lines)
    return connect.lines(reached, address, www) if address else lines


def side_of(move: Move, which: str) -> tuple[Access, bool]:
    """Return how a side is reached, and whether its robots rules are honoured, as people decided."""
    overridden = decisions.overrides(move, which)
    return access(move.side(which), "certificate" in overridden), "robots" not in overridden


def told(access: Access, honours: bool) -> dict[str, Any]:
    """Return how a side is reached as a capture keeps it: without secrets."""
    return {
        "base": access.base,
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

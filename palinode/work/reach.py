"""From a side's record to how it is reached."""

from functools import cache
from typing import Any

from django.conf import settings

import palinode
from palinode.core import address as addresses
from palinode.core import connect
from palinode.core import rule as rules
from palinode.gather.access import Access, ConnectTo
from palinode.gather.guard import Guard
from palinode.records import decisions
from palinode.records.models import Move, Side


def base(move: Move, which: str) -> str:
    """Return the address of a side at which it is reached: the temporary one of a copy that has one."""
    return _base(move, move.side(which))


def host(move: Move, side: Side) -> str:
    """Return the host, bare, at which a side is reached; its secrets belong to that."""
    return addresses.bare_host(addresses.split(_base(move, side)).host)


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

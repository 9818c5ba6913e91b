"""Where a database's host leads, as far as the outbound guard lets us."""

import socket
from collections.abc import Iterator
from typing import Any

from palinode.gather.databases.account import Account, DatabaseRefusedError
from palinode.gather.guard import Forbidden, Guard

Info = tuple[Any, Any, int, str, tuple[Any, ...]]
"""As getaddrinfo gives it."""


def allowed(account: Account, guard: Guard) -> Iterator[Info]:
    """Yield the addresses of an account's host that may be connected to. Raises DatabaseRefusedError for none."""
    try:
        found = socket.getaddrinfo(account.host, account.port, type=socket.SOCK_STREAM)
    except (OSError, UnicodeError):
        raise DatabaseRefusedError(f"There is no host {account.host}.") from None
    told = []
    for info in found:
        try:
            guard.check(str(info[4][0]), account.port)
        except Forbidden:
            continue
        told.append(info)
    if not told:
        raise DatabaseRefusedError(
            f"{account.host}, port {account.port}, leads to a private or special network. Nothing is connected to one "
            "unless PALINODE_ALLOW_NETWORKS names it, with its port."
        )
    yield from told


def connected(account: Account, guard: Guard, seconds: float) -> socket.socket:
    """Return a socket to an account's host. Raises DatabaseRefusedError."""
    why = ""
    for info in allowed(account, guard):
        made = guard.socket(info)
        made.settimeout(seconds)
        try:
            made.connect(info[4])
        except OSError as error:
            made.close()
            why = error.strerror or str(error)
        else:
            made.settimeout(None)
            return made
    raise DatabaseRefusedError(f"{account.host}, port {account.port}, does not answer: {why}.")

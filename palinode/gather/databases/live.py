"""A live database, read as the dump that it would give, so that all that reads dumps reads it."""

from collections.abc import Iterator, Sequence

from palinode.gather.databases import mariadb, postgresql
from palinode.gather.databases.account import Account, Server
from palinode.gather.guard import Guard


def pieces(account: Account, allowed: Sequence[str]) -> Iterator[bytes]:
    """Yield a database as a dump, in pieces; ``allowed`` are the networks that the installation allows.

    Nothing is sent but what begins and ends a transaction that cannot write, and statements that read. Raises
    DatabaseRefusedError.
    """
    read = {Server.MARIADB: mariadb.pieces, Server.POSTGRESQL: postgresql.pieces}[account.server]
    return read(account, Guard(allowed))

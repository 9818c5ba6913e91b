"""With what a live database is reached, and what is said where it is not."""

from dataclasses import dataclass, field
from enum import StrEnum


class Server(StrEnum):
    """Kinds of database servers."""

    MARIADB = "mariadb"
    """MariaDB and MySQL."""
    POSTGRESQL = "postgresql"


PORTS = {Server.MARIADB: 3306, Server.POSTGRESQL: 5432}
"""On which each listens where nothing else is said."""


class DatabaseRefusedError(ValueError):
    """A database cannot be reached, or does not let us read it; the message is for a person."""


@dataclass(frozen=True)
class Account:
    """An account of a database."""

    server: Server
    host: str
    port: int
    database: str
    user_name: str
    password: str = field(repr=False)
    certified: bool = False
    """Only over TLS, with a certificate that is valid for the host; else over TLS where the server offers it."""
    authorities: str = ""
    """File of further certificate authorities; empty for those of the system alone."""

"""A live database of MariaDB or MySQL, written as a dump: the statements of its tables, their rows, views, triggers."""

import re
import ssl
from collections.abc import Iterator, Sequence
from contextlib import closing
from typing import Any

import pymysql
from pymysql import converters
from pymysql.cursors import Cursor, SSCursor

from palinode.core.dumps.quoting import Quoting
from palinode.gather.databases import address
from palinode.gather.databases.account import Account, DatabaseRefusedError
from palinode.gather.guard import Guard

_CONNECTING, _SILENT = 10.0, 60.0
_TOGETHER = 200
"""Rows that are fetched at once."""
_STATEMENT = 400_000
"""Bytes of rows after which a statement ends."""
_PLAIN = frozenset({"tinyint", "smallint", "mediumint", "int", "bigint", "float", "double", "decimal", "year"})
_BYTES = re.compile(r".*blob|.*binary|bit|geometry.*|.*point|.*linestring|.*polygon")
_READ = re.compile(r"(?:SELECT|SHOW)\s")


def pieces(account: Account, guard: Guard) -> Iterator[bytes]:
    """Yield a database as a dump, in pieces. Raises DatabaseRefusedError."""
    try:
        with closing(_connection(account, guard)) as connection:
            yield from _Reading(connection).pieces()
    except (pymysql.MySQLError, OSError, UnicodeError) as error:
        said = error.args[1] if len(error.args) > 1 else error
        raise DatabaseRefusedError(f"The database {account.database} was not read: {said}") from None


def _connection(account: Account, guard: Guard) -> "pymysql.Connection[Any]":
    connection = pymysql.connect(
        host=account.host,
        port=account.port,
        user=account.user_name,
        password=account.password.encode(),
        database=account.database,
        charset="utf8mb4",
        use_unicode=False,
        # Values stay as the server sends them.
        conv=converters.encoders,
        autocommit=None,
        read_timeout=_SILENT,
        write_timeout=_SILENT,
        ssl=_context(account) if account.certified else None,
        defer_connect=True,
    )
    connection.connect(address.connected(account, guard, _CONNECTING))
    return connection


def _context(account: Account) -> ssl.SSLContext:
    return ssl.create_default_context(cafile=account.authorities or None)


class _Reading:
    """A database that is read once, within one transaction that cannot write."""

    def __init__(self, connection: "pymysql.Connection[Any]") -> None:
        self._connection = connection

    def pieces(self) -> Iterator[bytes]:
        with closing(self._connection.cursor(Cursor)) as cursor:
            cursor.execute("START TRANSACTION WITH CONSISTENT SNAPSHOT, READ ONLY")
        ((version, database),) = self._all("SELECT version(), database()")
        server = "MariaDB" if b"MariaDB" in version else "MySQL"
        yield (
            f"-- {server} dump read from the live database {_text(database)}\n-- Server version\t{_text(version)}\n"
            "/*!40101 SET NAMES utf8mb4 */;\n/*!40014 SET FOREIGN_KEY_CHECKS=0 */;\n"
        ).encode()
        found = [(_text(row[0]), _text(row[1])) for row in self._all("SHOW FULL TABLES")]
        for name, kind in found:
            if kind == "BASE TABLE":
                yield from self._table(name)
        for name, kind in found:
            if kind == "VIEW":
                yield self._defined("VIEW", name, 1)
        triggers = [_text(row[0]) for row in self._all("SHOW TRIGGERS")]
        if triggers:
            yield b"DELIMITER ;;\n"
            for name in triggers:
                yield self._defined("TRIGGER", name, 2, b";;")
            yield b"DELIMITER ;\n"
        yield b"-- Dump completed\n"

    def _table(self, name: str) -> Iterator[bytes]:
        yield self._defined("TABLE", name, 1)
        columns = [
            (_text(row[0]), re.split(r"\W", _text(row[1]), maxsplit=1)[0].lower())
            for row in self._all(f"SHOW COLUMNS FROM {_name(name)}")
            # What is computed cannot be written again.
            if not is_computed(row[5])
        ]
        names = ", ".join(_name(column) for column, _ in columns)
        head = f"INSERT INTO {_name(name)} ({names}) VALUES\n".encode()
        kinds = [kind for _, kind in columns]
        rows: list[bytes] = []
        size = 0
        for row in self._rows(f"SELECT {names} FROM {_name(name)}"):
            rows.append(b"(%s)" % b",".join(map(_written, row, kinds)))
            size += len(rows[-1])
            if size > _STATEMENT:
                yield head + b",\n".join(rows) + b";\n"
                rows.clear()
                size = 0
        if rows:
            yield head + b",\n".join(rows) + b";\n"

    def _defined(self, what: str, name: str, place: int, end: bytes = b";") -> bytes:
        """Return the statement that makes a table, a view or a trigger; its name alone, where that is not shown."""
        try:
            ((*row,),) = self._all(f"SHOW CREATE {what} {_name(name)}")
            statement = row[place]
        except pymysql.OperationalError:
            if what == "TABLE":
                raise
            statement = None
        # A view of what is gone has no statement, nor has one that the account may not see: it is there all the same.
        return (statement or f"CREATE {what} {_name(name)} /* not shown to this account */".encode()) + end + b"\n"

    def _all(self, query: str) -> Sequence[Sequence[bytes]]:
        with closing(self._connection.cursor(Cursor)) as cursor:
            cursor.execute(_reads(query))
            return cursor.fetchall()

    def _rows(self, query: str) -> Iterator[Sequence[bytes | None]]:
        with closing(self._connection.cursor(SSCursor)) as cursor:
            cursor.execute(_reads(query))
            while some := cursor.fetchmany(_TOGETHER):
                yield from some


def is_computed(extra: bytes) -> bool:
    """Whether a column is computed from others, by what SHOW COLUMNS says of it besides.

    MySQL 8 says ``DEFAULT_GENERATED`` of a column that has but a computed default.
    """
    return extra.upper().startswith((b"VIRTUAL", b"STORED", b"PERSISTENT"))


def _reads(query: str) -> str:
    """Return a statement; it must be one that reads."""
    assert _READ.match(query), query
    return query


def _written(value: bytes | None, kind: str) -> bytes:
    if value is None:
        return b"NULL"
    if kind in _PLAIN:
        return value
    if value and _BYTES.fullmatch(kind):
        return b"0x" + value.hex().upper().encode()
    return Quoting.BACKSLASH.write(value)


def _name(name: str) -> str:
    return f"`{name.replace('`', '``')}`"


def _text(value: bytes) -> str:
    return value.decode("utf-8", "replace")

"""A live database of PostgreSQL, written as a dump: what its tables are, their rows, views, triggers, functions."""

from collections.abc import Iterator, Sequence
from typing import Any, cast

import psycopg
from psycopg import sql
from psycopg.adapt import Loader

from palinode.core.dumps.quoting import Quoting
from palinode.gather.databases import address
from palinode.gather.databases.account import Account, DatabaseRefusedError
from palinode.gather.guard import Guard

_CONNECTING = 10
_SILENT = 60_000
"""Milliseconds without a sign of life of the other machine."""
_TOGETHER = 200
"""Rows that are fetched at once."""
_PIECE = 250_000
_MARK = b"-- PostgreSQL database dump"
_SCHEMAS = "nspname <> 'information_schema' AND nspname NOT LIKE 'pg\\_%'"
_TABLES = f"""
    SELECT nspname, relname, c.oid, relkind FROM pg_class c JOIN pg_namespace n ON n.oid = relnamespace
    WHERE relkind IN ('r', 'p') AND relpersistence <> 't' AND {_SCHEMAS} ORDER BY 1, 2"""
_COLUMNS = """
    SELECT attname, format_type(atttypid, atttypmod), attnotnull, attgenerated::text, atttypid::int8
    FROM pg_attribute WHERE attrelid = %s AND attnum > 0 AND NOT attisdropped ORDER BY attnum"""
_BESIDE = f"""
    SELECT 'VIEW', nspname, relname, 'AS ' || rtrim(pg_get_viewdef(c.oid), ';') FROM pg_class c
    JOIN pg_namespace n ON n.oid = relnamespace WHERE relkind = 'v' AND {_SCHEMAS}
    UNION ALL SELECT 'MATERIALIZED VIEW', nspname, relname, 'AS ' || rtrim(pg_get_viewdef(c.oid), ';') FROM pg_class c
    JOIN pg_namespace n ON n.oid = relnamespace WHERE relkind = 'm' AND {_SCHEMAS}
    UNION ALL SELECT '', nspname, tgname, pg_get_triggerdef(t.oid) FROM pg_trigger t JOIN pg_class c ON c.oid = tgrelid
    JOIN pg_namespace n ON n.oid = relnamespace WHERE NOT tgisinternal AND {_SCHEMAS}
    UNION ALL SELECT '', nspname, proname, pg_get_functiondef(p.oid) FROM pg_proc p
    JOIN pg_namespace n ON n.oid = pronamespace WHERE prokind IN ('f', 'p') AND {_SCHEMAS}
    AND NOT EXISTS (SELECT 1 FROM pg_depend d WHERE d.objid = p.oid AND d.deptype = 'e')
    ORDER BY 1, 2, 3"""


class _AsSent(Loader):
    """Leaves values as the server writes them, which is how COPY writes them, but for its escapes."""

    def load(self, data: Any) -> bytes:
        """Return them as they are."""
        return bytes(data)


def pieces(account: Account, guard: Guard) -> Iterator[bytes]:
    """Yield a database as a dump, in pieces. Raises DatabaseRefusedError."""
    try:
        with _connection(account, guard) as connection:
            connection.read_only = True
            connection.isolation_level = psycopg.IsolationLevel.REPEATABLE_READ
            yield from _pieces(connection)
    except psycopg.Error as error:
        said = " ".join(str(error).split())
        raise DatabaseRefusedError(f"The database {account.database} was not read: {said}") from None


def _connection(account: Account, guard: Guard) -> "psycopg.Connection[Any]":
    *others, last = address.allowed(account, guard)
    for info in others:
        try:
            return _connected(account, info)
        except psycopg.OperationalError:
            continue
    return _connected(account, last)


def _connected(account: Account, info: address.Info) -> "psycopg.Connection[Any]":
    certified = {"sslmode": "verify-full", "sslrootcert": account.authorities or "system"} if account.certified else {}
    return psycopg.connect(
        host=account.host,
        # Where the name leads was looked at; it is not asked for again.
        hostaddr=str(info[4][0]),
        port=account.port,
        dbname=account.database,
        user=account.user_name,
        password=account.password,
        connect_timeout=_CONNECTING,
        tcp_user_timeout=_SILENT,
        client_encoding="utf8",
        application_name="palinode",
        # No file of ours says how to sign in.
        passfile="/dev/null",
        **cast("dict[str, Any]", certified),
    )


def _pieces(connection: "psycopg.Connection[Any]") -> Iterator[bytes]:
    (version,) = _all(connection, "SELECT current_setting('server_version')")[0]
    yield _MARK + f"\n-- Dumped from database version {version}\n\n".encode()
    for schema, name, number, kind in _all(connection, _TABLES):
        columns = _all(connection, _COLUMNS, number)
        yield _defined(schema, name, columns)
        if kind == "r":
            yield from _rows(connection, schema, name, columns)
    for what, schema, name, statement in _all(connection, _BESIDE):
        head = f"CREATE {what} {_name(schema)}.{_name(name)} " if what else ""
        yield f"{head}{statement};\n\n".encode()
    yield _MARK + b" complete\n"


def _defined(schema: str, name: str, columns: Sequence[Sequence[Any]]) -> bytes:
    told = ",\n".join(
        f"    {_name(column)} {kind}"
        # How it is computed says nothing of what it holds.
        + (" GENERATED ALWAYS AS (NULL) STORED" if generated else "")
        + (" NOT NULL" if wanted else "")
        for column, kind, wanted, generated, _ in columns
    )
    return f"CREATE TABLE {_name(schema)}.{_name(name)} (\n{told}\n);\n\n".encode()


def _rows(
    connection: "psycopg.Connection[Any]", schema: str, name: str, columns: Sequence[Sequence[Any]]
) -> Iterator[bytes]:
    written = [(column, oid) for column, _, _, generated, oid in columns if not generated]
    if not written:
        return
    names = ", ".join(_name(column) for column, _ in written)
    query = sql.SQL("SELECT {} FROM {}").format(
        sql.SQL(", ").join(sql.Identifier(column) for column, _ in written), sql.Identifier(schema, name)
    )
    lines: list[bytes] = []
    size = 0
    yield f"COPY {_name(schema)}.{_name(name)} ({names}) FROM stdin;\n".encode()
    with connection.cursor() as cursor:
        for _, oid in written:
            cursor.adapters.register_loader(oid, _AsSent)
        for row in cursor.stream(query, size=_TOGETHER):
            lines.append(b"\t".join(Quoting.COPY.write(one) for one in row))
            size += len(lines[-1])
            if size > _PIECE:
                yield b"\n".join([*lines, b""])
                lines.clear()
                size = 0
    yield b"\n".join([*lines, b"\\.\n\n"])


def _all(connection: "psycopg.Connection[Any]", query: str, *values: Any) -> list[Sequence[Any]]:
    with connection.cursor() as cursor:
        # They are ours, and written above.
        return cursor.execute(query, values or None).fetchall()


def _name(name: str) -> str:
    return f'"{name.replace(chr(34), 2 * chr(34))}"'

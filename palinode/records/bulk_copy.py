"""Rows written and read by the hundred thousand: COPY in, whole columns out."""

from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from typing import Any

import numpy as np
import psycopg
from django.db import connection, transaction


def field(value: object) -> str:
    """Return a value as a field of COPY's text format."""
    if value is None:
        return "\\N"
    if isinstance(value, str):
        if "\0" in value:
            value = value.replace("\0", "")
        if "\\" in value or "\n" in value or "\t" in value or "\r" in value:
            value = value.replace("\\", "\\\\").replace("\n", "\\n").replace("\t", "\\t").replace("\r", "\\r")
        return value
    if isinstance(value, bytes):
        return "\\\\x" + value.hex()
    if value is True:
        return "t"
    if value is False:
        return "f"
    return str(value)


def line(values: Iterable[object]) -> str:
    """Return a row in COPY's text format, with its line end."""
    return "\t".join(map(field, values)) + "\n"


def numbers(column: np.ndarray, null: int | None = None) -> list[str]:
    """Return whole numbers or booleans as a column of COPY's text format; the value ``null`` is written as NULL."""
    if column.dtype == bool:
        return np.where(column, "t", "f").tolist()
    written = list(map(str, column.tolist()))
    if null is not None:
        for at in np.flatnonzero(column == null).tolist():
            written[at] = "\\N"
    return written


def texts(column: list[str], empty: str = "") -> list[str]:
    """Return texts as a column of COPY's text format; empty ones are written as ``empty``."""
    joined = "".join(column)
    if any(one in joined for one in "\\\n\t\r\0"):
        column = [field(text) for text in column]
    return [text or empty for text in column] if empty and "" in column else column


def rows(columns: Iterable[Iterable[str]]) -> str:
    """Return rows in COPY's text format from columns of it that are equally long."""
    lines = "\n".join(map("\t".join, zip(*columns, strict=True)))
    return lines + "\n" if lines else ""


def copy_in(table: str, columns: str, lines: Iterable[str | bytes]) -> None:
    """Write rows in COPY's text format into a table."""
    with connection.cursor() as cursor, cursor.copy(f"COPY {table} ({columns}) FROM STDIN") as copy:
        for chunk in _chunks(lines):
            copy.write(chunk)


def insert_new(table: str, columns: str, lines: Iterable[str | bytes], returning: str = "") -> list[Any]:
    """Write rows of which some may be there already; those stay as they are. Needs a transaction.

    Returns the column ``returning`` of the rows that were new; tuples, where it names several.
    """
    staged = f"staged_{table}"
    with connection.cursor() as cursor:
        cursor.execute(
            f"CREATE TEMP TABLE IF NOT EXISTS {staged} (LIKE {table} INCLUDING DEFAULTS) ON COMMIT DELETE ROWS"
        )
        cursor.execute(f"TRUNCATE {staged}")
    copy_in(staged, columns, lines)
    with connection.cursor() as cursor:
        sql = f"INSERT INTO {table} ({columns}) SELECT {columns} FROM {staged} ON CONFLICT DO NOTHING"
        cursor.execute(sql + (f" RETURNING {returning}" if returning else ""))
        new = cursor.fetchall() if returning else []
        return new if "," in returning else [row[0] for row in new]


def _chunks(lines: Iterable[str | bytes]) -> Iterator[bytes]:
    pending: list[bytes] = []
    size = 0
    for one in lines:
        data = one.encode() if isinstance(one, str) else one
        pending.append(data)
        size += len(data)
        if size > 1 << 18:
            yield b"".join(pending)
            pending, size = [], 0
    if pending:
        yield b"".join(pending)


def like(text: str) -> str:
    """Return ``text`` as a pattern of LIKE that it alone fits."""
    return text.replace("\\", "\\\\").replace("%", "\\%").replace("_", "\\_")


def columns_out(select: dict[str, str], source: str, parameters: dict[str, object]) -> dict[str, Any]:
    """Return whole columns of a query in its order, aggregated by the server into one row.

    ``select`` names each column with its kind: ``i8``, ``i4``, ``i2`` or ``bool`` become NumPy arrays,
    ``text`` a list of str (which must hold no line ends), ``lines`` the same as uint8 of UTF-8, ``bytes`` the values
    end to end.
    ``source`` is a subquery that has these columns, with ``%(name)s`` for each of ``parameters``.
    """
    aggregates = [_AGGREGATE[kind].format(name) for name, kind in select.items()]
    connection.ensure_connection()
    # In binary, bytes come as they are; as text they would come twice as long and be parsed.
    with psycopg.Cursor(connection.connection) as cursor:
        cursor.execute(f"SELECT count(*), {', '.join(aggregates)} FROM ({source}) AS ordered", parameters, binary=True)
        row = cursor.fetchone()
        assert row is not None
        count, *values = row
    return {name: _column(kind, value, count) for (name, kind), value in zip(select.items(), values, strict=True)}


_AGGREGATE = {
    "i8": "string_agg(int8send(coalesce({0}, 0)::int8), '')",
    "i4": "string_agg(int4send(coalesce({0}, 0)::int4), '')",
    "i2": "string_agg(int2send(coalesce({0}, -1)::int2), '')",
    "bool": "string_agg(boolsend({0}), '')",
    "text": "string_agg(coalesce({0}, ''), E'\\n')",
    "lines": "convert_to(string_agg(coalesce({0}, ''), E'\\n'), 'UTF8')",
    "bytes": "string_agg({0}, '')",
}
_DTYPE = {"i8": ">i8", "i4": ">i4", "i2": ">i2", "bool": "?"}


def _column(kind: str, value: Any, count: int) -> Any:
    if kind == "text":
        return value.split("\n") if count else []
    data = bytes(value or b"")
    if kind == "bytes":
        return data
    if kind == "lines":
        return np.frombuffer(data, np.uint8)
    return np.frombuffer(data, _DTYPE[kind]).astype(_DTYPE[kind].replace(">", "="))


@contextmanager
def stream(
    sql: str, parameters: list[object] | dict[str, object], batch: int = 5_000
) -> Iterator[Iterator[list[tuple[Any, ...]]]]:
    """Yield the batches of a query through a cursor on the server, so that memory stays flat."""
    with transaction.atomic(), connection.connection.cursor(name="stream") as cursor:
        # In binary, bytes come as they are.
        cursor.execute(sql, parameters, binary=True)
        yield iter(lambda: cursor.fetchmany(batch), [])

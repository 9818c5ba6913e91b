"""Rows of a move as text, and back: staged, looked at, and only then put where they belong.

Each table is COPY's text format with a line of column names; numbers that the database gave are given anew
when it is imported, and what they point to follows.
"""

from collections.abc import Iterable, Iterator
from typing import Any

import orjson
from django.db import connection, transaction
from jsonschema import Draft202012Validator

from palinode.core import address as addresses
from palinode.records.archive.tables import Table
from palinode.records.models import Address, CheckOptions, Decision, Import

_LONGEST = 150_000_000
"""Bytes of a row as text; bytes take two characters each."""
_HEAD = 65_536
_BATCH = 20_000


class Mismatch(ValueError):
    """A table that no installation of this version would have written; the message is for a person."""


def rows(table: Table, move: int) -> Iterator[bytes]:
    """Yield a table of a move as text, the names of its columns first."""
    columns = _quoted(table.columns)
    yield ("\t".join(table.columns) + "\n").encode()
    sql = f"COPY (SELECT {columns} FROM records_{table.name} WHERE {table.where % {'move': int(move)}}) TO STDOUT"
    with connection.cursor() as cursor, cursor.copy(sql) as copy:
        for data in copy:
            yield bytes(data)


def stage(table: Table, parts: Iterable[bytes]) -> int:
    """Stage a table's rows, look at each, and give them new numbers; return how many there are.

    Needs a transaction. Raises Mismatch if its columns are others than here or a row holds what none can hold, and
    a database error for rows that are none.
    """
    head, rest = _cut(parts)
    if head != "\t".join(table.columns):
        raise Mismatch(f"the table {table.name} was written by another version")
    columns = _quoted(table.columns)
    staged = f"staged_{table.name}"
    with connection.cursor() as cursor:
        cursor.execute(
            f"CREATE TEMP TABLE {staged} ON COMMIT DROP AS SELECT {columns} FROM records_{table.name} LIMIT 0"
        )
        with cursor.copy(f"COPY {staged} ({columns}) FROM STDIN") as copy:
            for data in _bounded(table, rest):
                copy.write(data)
        cursor.execute(f"ANALYZE {staged}")
        cursor.execute(f"SELECT count(*) FROM {staged}")
        count = int(cursor.fetchone()[0])
        if count > table.most:
            raise Mismatch(f"the table {table.name} has {count:,} rows, more than {table.most:,}")
        _look(table, staged)
        if table.numbered:
            cursor.execute(
                f"CREATE TEMP TABLE new_{table.name} ON COMMIT DROP AS SELECT id AS old, "
                f"nextval(pg_get_serial_sequence('records_{table.name}', 'id')) AS id FROM {staged} ORDER BY id"
            )
            cursor.execute(f"CREATE UNIQUE INDEX ON new_{table.name} (old)")
            cursor.execute(f"ANALYZE new_{table.name}")
    return count


def put(table: Table, move: int, author: int) -> None:
    """Put staged rows where they belong, under their new numbers. Needs the transaction of :func:`stage`.

    Rows that point to what did not come with them are left out, unless they may point to nothing.
    """
    select, joins = [], []
    for column in table.columns:
        if column == "move_id":
            select.append(str(int(move)))
        elif column in table.given:
            select.append(table.given[column])
        elif column == "id" and table.numbered:
            select.append("own.id")
            joins.append(f"JOIN new_{table.name} own ON own.old = s.id")
        elif column in table.refers:
            to, alias = table.refers[column], f"to_{column}"
            select.append(f"{alias}.id")
            joins.append(
                f"{'LEFT ' if column in table.may_lack else ''}JOIN new_{to} {alias} ON {alias}.old = s.{column}"
            )
        else:
            select.append(f's."{column}"')
    columns = list(table.columns)
    if table.model in (CheckOptions, Decision, Import):
        columns.append("author_id")
        select.append(str(int(author)))
    with connection.cursor() as cursor:
        cursor.execute(
            f"INSERT INTO records_{table.name} ({_quoted(columns)}) "
            f"SELECT {', '.join(select)} FROM staged_{table.name} s {' '.join(joins)}"
        )


def new_number(table: str, old: int) -> int | None:
    """Return the number given anew for a row that was numbered ``old``."""
    with connection.cursor() as cursor:
        cursor.execute(f"SELECT id FROM new_{table} WHERE old = %s", [old])
        row = cursor.fetchone()
    return int(row[0]) if row else None


def _look(table: Table, staged: str) -> None:
    """Raise Mismatch for the first row with a value that its table does not allow."""
    with connection.cursor() as cursor:
        for held, said in table.bounds.items():
            # What is not there holds: whether it may be missing is the table's own to say.
            cursor.execute(f"SELECT EXISTS (SELECT 1 FROM {staged} s WHERE NOT ({held}))")
            if cursor.fetchone()[0]:
                raise Mismatch(f"a row of the table {table.name} cannot be: {said}")
    for column, shape in table.json.items():
        fits = Draft202012Validator(shape)
        for (text,) in _stream(f'SELECT "{column}"::text FROM {staged} WHERE "{column}" IS NOT NULL'):
            if not fits.is_valid(orjson.loads(text)):
                raise Mismatch(f"a row of the table {table.name} cannot be: {column} has another shape")
    if table.model is Address:
        _look_at_addresses(staged)


def _look_at_addresses(staged: str) -> None:
    """Raise Mismatch for an address that is not known by its own identity."""
    for ident, text in _stream(f"SELECT ident, text FROM {staged}"):
        if addresses.ident(text) != ident or not text.startswith(("http://", "https://")):
            raise Mismatch(f"the identity of {text[:100]} is another address's")


def _stream(sql: str) -> Iterator[tuple[Any, ...]]:
    with transaction.atomic(), connection.connection.cursor(name="staged") as cursor:
        cursor.execute(sql)
        while found := cursor.fetchmany(_BATCH):
            yield from found


def _bounded(table: Table, parts: Iterable[bytes]) -> Iterator[bytes]:
    """Yield what is given, as long as none of its lines is longer than a row can be."""
    since = 0
    for data in parts:
        first = data.find(b"\n")
        if since + (first if first >= 0 else len(data)) > _LONGEST:
            raise Mismatch(f"a row of the table {table.name} is longer than any can be")
        since = since + len(data) if first < 0 else len(data) - data.rfind(b"\n") - 1
        yield data


def _quoted(columns: Iterable[str]) -> str:
    return ", ".join(f'"{one}"' for one in columns)


def _cut(parts: Iterable[bytes]) -> tuple[str, Iterator[bytes]]:
    """Return the first line, and what follows it."""
    held, following = b"", iter(parts)
    for data in following:
        held += data
        if b"\n" in held or len(held) > _HEAD:
            break
    head, _, rest = held.partition(b"\n")

    def after() -> Iterator[bytes]:
        yield rest
        yield from following

    return head[:_HEAD].decode("utf-8", "replace"), after()

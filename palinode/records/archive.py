"""A move as tables of text and back: its rows under their own numbers, on the way to another installation.

Each table is COPY's text format with a line of column names; numbers that the database gave are given anew
when it is brought in, and what they point to follows.
"""

from collections.abc import Iterable, Iterator
from dataclasses import dataclass, field

from django.db import connection

from palinode.records.models import (
    Address,
    Answer,
    Body,
    Brought,
    Capture,
    Comparison,
    Decision,
    Facts,
    Finding,
    Frontier,
    Import,
    LedgerParts,
    LedgerRow,
    Pattern,
    Segment,
    Target,
)

_OF_MOVE = "move_id = %(move)s"
_OF_CAPTURE = "capture_id IN (SELECT id FROM records_capture WHERE move_id = %(move)s)"
_OF_COMPARISON = "comparison_id IN (SELECT id FROM records_comparison WHERE move_id = %(move)s)"


@dataclass(frozen=True)
class Table:
    """How a table of a move travels."""

    model: type
    where: str
    """Which rows are the move's."""
    refers: dict[str, str] = field(default_factory=dict)
    """Column to the table whose numbers it holds."""
    numbered: bool = False
    """Its rows have numbers of their own, given by the database."""

    @property
    def name(self) -> str:
        """The table's name, without the prefix."""
        return str(self.model._meta.db_table).removeprefix("records_")  # type: ignore[attr-defined]

    @property
    def columns(self) -> list[str]:
        """Its columns; whose account a row names does not travel, accounts are other people's elsewhere."""
        found = [str(one.column) for one in self.model._meta.concrete_fields]  # type: ignore[attr-defined]
        return [one for one in found if one not in ("author_id", "pk")]


TABLES = (
    Table(Capture, _OF_MOVE, {"parent_id": "capture"}, numbered=True),
    Table(Segment, _OF_CAPTURE, {"capture_id": "capture"}, numbered=True),
    Table(Address, _OF_MOVE),
    Table(Facts, _OF_MOVE),
    Table(Body, _OF_MOVE, {"segment_id": "segment"}),
    Table(Brought, _OF_MOVE),
    Table(Frontier, _OF_CAPTURE, {"capture_id": "capture"}),
    Table(Answer, _OF_CAPTURE, {"capture_id": "capture", "segment_id": "segment"}),
    Table(Target, _OF_CAPTURE, {"capture_id": "capture"}),
    Table(Pattern, _OF_CAPTURE, {"capture_id": "capture"}, numbered=True),
    Table(
        Comparison,
        _OF_MOVE,
        {"left_id": "capture", "right_id": "capture"},
        numbered=True,
    ),
    Table(LedgerRow, _OF_COMPARISON, {"comparison_id": "comparison"}),
    Table(LedgerParts, _OF_COMPARISON, {"comparison_id": "comparison"}),
    Table(Decision, _OF_MOVE, {"supersedes_id": "decision"}, numbered=True),
    Table(Finding, _OF_COMPARISON, {"comparison_id": "comparison", "decision": "decision"}),
    Table(Import, _OF_MOVE, {"capture_id": "capture"}, numbered=True),
)


class Mismatch(ValueError):
    """A table does not fit this installation; the message is for a person."""


def rows(table: Table, move: int) -> Iterator[bytes]:
    """Yield a table of a move as text, the names of its columns first."""
    columns = ", ".join(f'"{one}"' for one in table.columns)
    yield ("\t".join(table.columns) + "\n").encode()
    sql = f"COPY (SELECT {columns} FROM records_{table.name} WHERE {table.where % {'move': int(move)}}) TO STDOUT"
    with connection.cursor() as cursor, cursor.copy(sql) as copy:
        for data in copy:
            yield bytes(data)


def bring(table: Table, parts: Iterable[bytes]) -> int:
    """Stage a table's rows, and give them new numbers; return how many there are. Needs a transaction.

    Raises Mismatch if its columns are others than here, and a database error for rows that are none.
    """
    head, rest = _cut(parts)
    if head != "\t".join(table.columns):
        raise Mismatch(f"the table {table.name} was written by another version")
    columns = ", ".join(f'"{one}"' for one in table.columns)
    staged = f"staged_{table.name}"
    with connection.cursor() as cursor:
        cursor.execute(
            f"CREATE TEMP TABLE {staged} ON COMMIT DROP AS SELECT {columns} FROM records_{table.name} LIMIT 0"
        )
        with cursor.copy(f"COPY {staged} ({columns}) FROM STDIN") as copy:
            for data in rest:
                copy.write(data)
        cursor.execute(f"SELECT count(*) FROM {staged}")
        count = int(cursor.fetchone()[0])
        if table.numbered:
            cursor.execute(
                f"CREATE TEMP TABLE new_{table.name} ON COMMIT DROP AS SELECT id AS old, "
                f"nextval(pg_get_serial_sequence('records_{table.name}', 'id')) AS id FROM {staged} ORDER BY id"
            )
            cursor.execute(f"CREATE UNIQUE INDEX ON new_{table.name} (old)")
    return count


def put(table: Table, move: int, author: int) -> None:
    """Put staged rows where they belong, under their new numbers. Needs the transaction of :func:`bring`.

    Rows that point to what did not come with them are left out.
    """
    select, joins = [], []
    for column in table.columns:
        if column == "move_id":
            select.append(str(int(move)))
        elif column == "id" and table.numbered:
            select.append("own.id")
            joins.append(f"JOIN new_{table.name} own ON own.old = s.id")
        elif column in table.refers:
            to, alias = table.refers[column], f"to_{column}"
            select.append(f"{alias}.id")
            may_lack = column in ("parent_id", "supersedes_id", "segment_id") or table.model is Import
            joins.append(f"{'LEFT ' if may_lack else ''}JOIN new_{to} {alias} ON {alias}.old = s.{column}")
        else:
            select.append(f's."{column}"')
    columns = [f'"{one}"' for one in table.columns]
    if table.model in (Decision, Import):
        columns.append("author_id")
        select.append(str(int(author)))
    with connection.cursor() as cursor:
        cursor.execute(
            f"INSERT INTO records_{table.name} ({', '.join(columns)}) "
            f"SELECT {', '.join(select)} FROM staged_{table.name} s {' '.join(joins)}"
        )


def new_number(table: str, old: int) -> int | None:
    """Return the number given anew for a row that was numbered ``old``."""
    with connection.cursor() as cursor:
        cursor.execute(f"SELECT id FROM new_{table} WHERE old = %s", [old])
        row = cursor.fetchone()
    return int(row[0]) if row else None


def _cut(parts: Iterable[bytes]) -> tuple[str, Iterator[bytes]]:
    """Return the first line, and what follows it."""
    held, following = b"", iter(parts)
    for data in following:
        held += data
        if b"\n" in held or len(held) > 65_536:
            break
    head, _, rest = held.partition(b"\n")

    def after() -> Iterator[bytes]:
        yield rest
        yield from following

    return head.decode("utf-8", "replace"), after()

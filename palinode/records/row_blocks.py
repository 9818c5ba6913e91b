"""The words of an outcome's rows: a few rows that stand after one another are one row of the database.

Most of what it costs to write a row is its entry in an index; and nothing asks for a row without its neighbours.
"""

from collections.abc import Collection, Iterable, Iterator
from typing import Any, NamedTuple

from django.db import connection

from palinode.core.checks.outcome import Rows
from palinode.records import bulk_copy

SIZE = 8
"""Rows of a block: so few that their words stand in the table itself."""
BETWEEN = "\x1f"
"""Stands between the texts of a block (ASCII: unit separator); in a text a blank takes its place."""
COLUMNS = ("left", "right", "left_note", "right_note")
_COLUMNS = ", ".join(f'"{name}"' for name in COLUMNS)
_FROM = f"SELECT first, {_COLUMNS} FROM records_checkrowblock WHERE outcome_id = %s"
_HOLDS = '("left" ILIKE %s OR "right" ILIKE %s OR left_note ILIKE %s)'
_TOGETHER = SIZE * 640


class Words(NamedTuple):
    """What a row shows."""

    rank: int
    left: str | None
    right: str | None
    left_note: str | None
    right_note: str

    def holds(self, wanted: str) -> bool:
        """Whether one of its sides or its left note holds a text, which is in small letters."""
        return any(wanted in text.lower() for text in self[1:4] if text)


def write(outcome: int, rows: Rows) -> None:
    """Write the words of an outcome's rows. Needs a transaction."""
    bulk_copy.copy_in("records_checkrowblock", f"outcome_id, first, {_COLUMNS}", _lines(outcome, rows))


def _lines(outcome: int, rows: Rows) -> Iterator[str]:
    """Yield blocks as COPY text, hundreds at a time, so that the database takes them in while the next are made."""
    for start in range(0, len(rows), _TOGETHER):
        end = min(start + _TOGETHER, len(rows))
        firsts = range(start, end, SIZE)
        texts = [_blocks(getattr(rows, name)[start:end]) for name in COLUMNS]
        yield bulk_copy.rows([[str(outcome)] * len(firsts), map(str, firsts), *texts])


def _blocks(texts: list[str]) -> list[str]:
    """Return a column of texts as COPY text, a block each."""
    if BETWEEN in "".join(texts):
        texts = [text.replace(BETWEEN, " ") for text in texts]
    return bulk_copy.texts([BETWEEN.join(texts[at : at + SIZE]) for at in range(0, len(texts), SIZE)])


def _opened(blocks: Iterable[tuple[Any, ...]]) -> list[Words]:
    """Return the rows of some blocks."""
    rows: list[Words] = []
    for first, *columns, last in blocks:
        left, right, left_note = ([text or None for text in column.split(BETWEEN)] for column in columns)
        rows += map(Words, range(first, first + SIZE), left, right, left_note, last.split(BETWEEN))
    return rows


def between(outcome: int, first: int, length: int) -> list[Words]:
    """Return the rows of a run of ranks, in their order."""
    with connection.cursor() as cursor:
        cursor.execute(f"{_FROM} AND first > %s AND first < %s ORDER BY first", [outcome, first - SIZE, first + length])
        return [row for row in _opened(cursor.fetchall()) if first <= row.rank < first + length]


def at(outcome: int, ranks: Collection[int]) -> dict[int, Words]:
    """Return the rows of some ranks."""
    wanted = set(ranks)
    with connection.cursor() as cursor:
        cursor.execute(f"{_FROM} AND first = ANY(%s)", [outcome, sorted({rank // SIZE * SIZE for rank in wanted})])
        return {row.rank: row for row in _opened(cursor.fetchall()) if row.rank in wanted}


def matching(outcome: int, first: int, length: int, wanted: str, most: int) -> list[int]:
    """Return the ranks in a run whose sides or left note hold ``wanted``, the first of them, at most so many."""
    pattern, small = f"%{bulk_copy.like(wanted)}%", wanted.lower()
    with connection.cursor() as cursor:
        # Each block that matches has a row that does; those at both ends may have it outside the run.
        cursor.execute(
            f"{_FROM} AND first > %s AND first < %s AND {_HOLDS} ORDER BY first LIMIT %s",
            [outcome, first - SIZE, first + length, pattern, pattern, pattern, most + 2],
        )
        rows = _opened(cursor.fetchall())
        return [row.rank for row in rows if first <= row.rank < first + length and row.holds(small)][:most]


def matching_among(outcome: int, ranks: list[int], wanted: str) -> list[int]:
    """Return those of some ranks whose sides or left note hold ``wanted``, in the order given."""
    found, small = at(outcome, ranks), wanted.lower()
    return [rank for rank in ranks if rank in found and found[rank].holds(small)]


def stream(outcome: int) -> Iterator[list[Words]]:
    """Yield all rows in batches, in their order."""
    with bulk_copy.stream(f"{_FROM} ORDER BY first", [outcome], _TOGETHER // SIZE) as batches:
        for batch in batches:
            yield _opened(batch)


def fault_of(outcome: int, number: int, addresses: bool) -> str:
    """Return what is wrong with the blocks of ``number`` rows; empty if nothing is.

    With ``addresses``, what stands left and right are addresses, or nothing.
    """
    follows = 0
    sql = f"{_FROM} ORDER BY first"
    with bulk_copy.stream(sql, [outcome], _TOGETHER // SIZE) as batches:
        for batch in batches:
            for first, *columns in batch:
                texts = [column.split(BETWEEN) for column in columns]
                size = min(SIZE, number - follows)
                if addresses and not all(_is_address(text) for column in texts[:2] for text in column):
                    return "a row is about no address"
                if first != follows or any(len(column) != size for column in texts):
                    return "its rows are not those that it counts"
                follows += size
    return "" if follows == number else "its rows are not those that it counts"


def _is_address(text: str) -> bool:
    return not text or text.startswith(("http://", "https://"))

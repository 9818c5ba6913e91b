"""The rows of outcomes: read a page at a time by stored rank, with arrays over all of them."""

from bisect import bisect_right
from collections.abc import Collection, Iterator
from itertools import accumulate
from typing import Any, NamedTuple

import numpy as np
import psycopg
from django.db import connection

from palinode.core.checks.check import Check
from palinode.core.checks.outcome import Rows
from palinode.records import row_blocks
from palinode.records.models import CheckOutcome
from palinode.records.row_blocks import Words

BY_PLACE = "by_place"
"""The array of ranks in order of group and address."""


class StoredRow(NamedTuple):
    """A row as it is kept, with its verdict and group."""

    verdict: str
    group: str
    rank: int
    left: str | None
    right: str | None
    left_note: str | None
    right_note: str


def drawn(check: Check, rows: Rows, most: int) -> list[tuple[StoredRow, dict[str, Any]]]:
    """Return the first rows of an outcome that is not stored, with the arrays that are shown beside them."""
    return [
        (
            StoredRow(
                check.verdicts[rows.verdict[at]].word,
                rows.groups[rows.group[at]],
                at,
                rows.left[at] or None,
                rows.right[at] or None,
                rows.left_note[at] or None,
                rows.right_note[at],
            ),
            {name: rows.numbers[name][at].item() if name in rows.numbers else -1 for name in check.shown},
        )
        for at in range(min(len(rows), most))
    ]


def write(outcome: int, rows: Rows) -> None:
    """Write the rows of an outcome with their arrays. Needs a transaction."""
    row_blocks.write(outcome, rows)
    by_place = np.empty(len(rows), np.int32)
    by_place[rows.place] = np.arange(len(rows))
    _write_columns(outcome, {**rows.numbers, BY_PLACE: by_place})


def _write_columns(outcome: int, columns: dict[str, np.ndarray]) -> None:
    """Write arrays in binary, since as text they would be twice as long."""
    with psycopg.Cursor(connection.connection) as cursor:
        for name, column in columns.items():
            kind = column.dtype.str[1:]
            cursor.execute(
                "INSERT INTO records_checkcolumn (outcome_id, name, kind, data) VALUES (%s, %s, %s, %b)",
                [outcome, name, kind, column.astype(f"<{kind}").tobytes()],
            )


def column(outcome_id: int, name: str) -> np.ndarray:
    """Return an array over all rows of an outcome; of length 0 if it has none of this name."""
    with psycopg.Cursor(connection.connection) as cursor:
        cursor.execute(
            "SELECT kind, data FROM records_checkcolumn WHERE outcome_id = %s AND name = %s",
            [outcome_id, name],
            binary=True,
        )
        row = cursor.fetchone()
    return np.frombuffer(bytes(row[1]), f"<{row[0]}") if row else np.zeros(0, np.int64)


def numbers_at(outcome_id: int, names: list[str], first: int, length: int) -> dict[str, list[Any]]:
    """Return the values of arrays at a run of ranks; the database reads no more of them."""
    if not names or length <= 0:
        return {name: [] for name in names}
    connection.ensure_connection()
    with psycopg.Cursor(connection.connection) as cursor:
        cursor.execute(
            "SELECT name, kind, substr(data, 1 + %(first)s * right(kind, 1)::int, %(length)s * right(kind, 1)::int) "
            "FROM records_checkcolumn WHERE outcome_id = %(outcome)s AND name = ANY(%(names)s)",
            {"outcome": outcome_id, "names": names, "first": first, "length": length},
            binary=True,
        )
        found = {name: np.frombuffer(bytes(data), f"<{kind}").tolist() for name, kind, data in cursor.fetchall()}
    return {name: found.get(name, [-1] * length) for name in names}


def numbers_of(outcome_id: int, names: list[str], ranks: list[int]) -> list[dict[str, Any]]:
    """Return the values of arrays at some ranks, in the order given; a run of ranks is read in one piece."""
    if ranks and ranks == list(range(ranks[0], ranks[0] + len(ranks))):
        arrays = numbers_at(outcome_id, names, ranks[0], len(ranks)).values()
        return [dict(zip(names, values, strict=True)) for values in zip(*arrays, strict=True)] or [{} for _ in ranks]
    found: dict[int, dict[str, Any]] = {}
    for first, length in _runs(sorted(set(ranks))):
        columns = numbers_at(outcome_id, names, first, length)
        for at in range(length):
            found[first + at] = {name: values[at] for name, values in columns.items()}
    return [found[rank] for rank in ranks]


def _runs(ranks: list[int], gap: int = 2_000) -> Iterator[tuple[int, int]]:
    """Yield runs (first, length) that hold all of some ascending ranks; near ones stand in one run."""
    start = previous = None
    for rank in ranks:
        if start is None or previous is None:
            start = rank
        elif rank - previous > gap:
            yield start, previous - start + 1
            start = rank
        previous = rank
    if start is not None and previous is not None:
        yield start, previous - start + 1


def runs(outcome: CheckOutcome, verdicts: Collection[str] | None, group: str | None) -> list[tuple[int, int]]:
    """Return the runs of ranks (first, length) that a choice of verdicts and group stands in.

    They follow from the stored counts alone.
    """
    found: list[tuple[int, int]] = []
    rank = 0
    for word, name, number in outcome.counts:
        if (verdicts is None or word in verdicts) and (group is None or name == group):
            if found and found[-1][0] + found[-1][1] == rank:
                found[-1] = (found[-1][0], found[-1][1] + number)
            else:
                found.append((rank, number))
        rank += number
    return found


def place_run(outcome: CheckOutcome, group: str | None) -> list[tuple[int, int]]:
    """Return the run of places, in order of address, of a group or of all."""
    place = 0
    for name, number in outcome.groups:
        if name == group:
            return [(place, number)]
        place += number
    return [(0, place)] if group is None and place else []


class Placing:
    """Which verdict and group the rows of an outcome have, by their rank."""

    def __init__(self, outcome: CheckOutcome) -> None:
        self._words = [(verdict, group) for verdict, group, _ in outcome.counts]
        self._ends = list(accumulate(number for _, _, number in outcome.counts))

    def word_of(self, rank: int) -> str:
        """Return the verdict of a rank."""
        return str(self._words[bisect_right(self._ends, rank)][0])

    def groups_of(self, ranks: np.ndarray) -> np.ndarray:
        """Return the groups of some ranks (object, of texts)."""
        groups = np.array([group for _, group in self._words], object)
        found: np.ndarray = groups[np.searchsorted(self._ends, ranks, side="right")]
        return found

    def placed(self, row: Words) -> StoredRow:
        """Return a row with its verdict and group."""
        verdict, group = self._words[bisect_right(self._ends, row[0])]
        return StoredRow(verdict, group, *row)


def page(outcome: CheckOutcome, order: str, spans: list[tuple[int, int]]) -> list[StoredRow]:
    """Return the rows of some spans (first, length); ``order`` is rank or place."""
    if order == "place":
        ranks = [rank for first, length in spans for rank in ranks_by_place(outcome.pk, first, length)]
        return rows_at(outcome, ranks)
    placing = Placing(outcome)
    return [placing.placed(row) for span in spans for row in row_blocks.between(outcome.pk, *span)]


def rows_at(outcome: CheckOutcome, ranks: list[int]) -> list[StoredRow]:
    """Return the rows of some ranks, in the order given."""
    rows, placing = row_blocks.at(outcome.pk, ranks), Placing(outcome)
    return [placing.placed(rows[rank]) for rank in ranks if rank in rows]


def ranks_by_place(outcome_id: int, first: int, length: int) -> list[int]:
    """Return a run of ranks in order of group and address."""
    return numbers_at(outcome_id, [BY_PLACE], first, length)[BY_PLACE]


def matching(outcome_id: int, order: str, spans: list[tuple[int, int]], wanted: str, most: int) -> list[int]:
    """Return the ranks of the rows in some spans whose sides or left note hold ``wanted``, at most so many."""
    found: list[int] = []
    for first, length in spans:
        if order == "place":
            ranks = ranks_by_place(outcome_id, first, length)
            found += row_blocks.matching_among(outcome_id, ranks, wanted)[: most - len(found)]
        else:
            found += row_blocks.matching(outcome_id, first, length, wanted, most - len(found))
    return found


def stream(outcome: CheckOutcome) -> Iterator[list[StoredRow]]:
    """Yield all rows in batches, in their order."""
    placing = Placing(outcome)
    for batch in row_blocks.stream(outcome.pk):
        yield [placing.placed(row) for row in batch]

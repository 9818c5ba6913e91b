"""Ledgers written, and read a page at a time by stored rank."""

from bisect import bisect_right
from collections.abc import Iterator
from dataclasses import dataclass
from itertools import accumulate
from typing import Any

import numpy as np
import psycopg
from django.db import connection

from palinode.core.fates import FoundBy
from palinode.core.ledger import Ledger
from palinode.records import bulk_copy, findings
from palinode.records.models import Comparison, LedgerParts, LedgerRow

_TOGETHER = 5_000
STORED = (
    "rank",
    "left_address",
    "left_title",
    "right_address",
    "detail",
    "content_change",
    "left_status",
    "right_status",
)
Row = tuple[Any, ...]
"""The word of its fate, its section, then the columns STORED."""


def write(comparison: Comparison, ledger: Ledger) -> None:
    """Write the rows of a ledger; they count once the comparison is finished. Needs a transaction around both."""
    bulk_copy.copy_in("records_ledgerrow", f"comparison_id, {', '.join(STORED)}", _lines(comparison.pk, ledger))
    _store_parts(
        comparison_id=comparison.pk,
        by_address=np.argsort(ledger.place).astype("<i4").tobytes(),
        left=ledger.left.astype("<i8").tobytes(),
        right=ledger.right.astype("<i8").tobytes(),
        found_by=ledger.found_by.astype(np.uint8).tobytes(),
        address_change=ledger.address_change.astype(np.uint8).tobytes(),
        template=ledger.template.astype("<i2").tobytes(),
        redirect=ledger.redirect.astype(np.uint8).tobytes(),
        asked=ledger.asked.astype(np.uint8).tobytes(),
        certainty=ledger.certainty.astype("<f4").tobytes(),
    )


def finish(comparison: Comparison, ledger: Ledger, standing: dict[str, Any]) -> None:
    """Write the counts of a comparison and its standing; from then on it is made."""
    comparison.findings = findings.counts(comparison)
    comparison.counts = [list(row) for row in ledger.counts]
    comparison.sections = [list(row) for row in ledger.sections]
    comparison.crossing = [list(row) for row in ledger.crossing]
    comparison.standing = standing
    comparison.state = Comparison.State.MADE
    comparison.save()


def _store_parts(**columns: int | bytes) -> None:
    """Write the arrays in binary, since as text they would be twice as long."""
    names = ", ".join(f'"{name}"' for name in columns)
    marks = ", ".join(["%b"] * len(columns))
    with psycopg.Cursor(connection.connection) as cursor:
        cursor.execute(f"INSERT INTO records_ledgerparts ({names}) VALUES ({marks})", list(columns.values()))


def _lines(comparison: int, ledger: Ledger) -> Iterator[str]:
    """Yield the rows as COPY text, thousands at a time: columns are made text whole.

    No more at once, so that the database takes rows in while the next are made.
    """
    for start in range(0, len(ledger.fate), _TOGETHER):
        here = slice(start, start + _TOGETHER)
        ranks = range(start, start + len(ledger.fate[here]))
        yield bulk_copy.rows(
            (
                [str(comparison)] * len(ranks),
                map(str, ranks),
                bulk_copy.texts(ledger.left_address[here], "\\N"),
                bulk_copy.texts(ledger.left_title[here], "\\N"),
                bulk_copy.texts(ledger.right_address[here], "\\N"),
                bulk_copy.texts(ledger.detail[here]),
                bulk_copy.numbers(ledger.content_change[here]),
                bulk_copy.numbers(ledger.left_status[here], null=-1),
                bulk_copy.numbers(ledger.right_status[here], null=-1),
            )
        )


@dataclass(frozen=True)
class Bond:
    """What holds the two pages of a row together."""

    is_pair: bool
    """It has a partner, so that its two pages were compared."""
    found_by: FoundBy
    certainty: float


def bond(comparison: Comparison, rank: int) -> Bond:
    """Return what holds a row's pages together."""
    with connection.cursor() as cursor:
        cursor.execute(
            'SELECT substr("left", %(eight)s, 8), substr("right", %(eight)s, 8), substr(found_by, %(one)s, 1), '
            "substr(certainty, %(four)s, 4) FROM records_ledgerparts WHERE comparison_id = %(comparison)s",
            {"eight": 8 * rank + 1, "one": rank + 1, "four": 4 * rank + 1, "comparison": comparison.pk},
        )
        row = cursor.fetchone()
    if row is None:
        return Bond(False, FoundBy.NOTHING, 0.0)
    left, right, found_by, certainty = map(bytes, row)
    return Bond(any(left) and any(right), FoundBy(found_by[0]), round(float(np.frombuffer(certainty, "<f4")[0]), 3))


def found_elsewhere(comparison: Comparison, lefts: np.ndarray) -> dict[int, str]:
    """Return where those of some left pages stand that were found where the rule does not expect them, by identity."""
    parts = LedgerParts.objects.filter(comparison=comparison).only("left", "found_by").first()
    if parts is None:
        return {}
    left, found_by = np.frombuffer(parts.left, "<i8"), np.frombuffer(parts.found_by, np.uint8)
    by_rule = np.isin(found_by, [FoundBy.NOTHING, FoundBy.RULE])
    ranks = np.flatnonzero(~by_rule & (left != 0) & np.isin(left, lefts)).tolist()
    rows = LedgerRow.objects.filter(comparison_id=comparison.pk, rank__in=ranks).values_list("rank", "right_address")
    return {int(left[rank]): address for rank, address in rows if address}


def runs(comparison: Comparison, fate: int | None, section: str | None, words: list[str]) -> list[tuple[int, int]]:
    """Return the runs of ranks (first, length) that a choice of fate and section stands in.

    ``words`` are the fates' words by number. They follow from the stored counts alone.
    """
    found: list[tuple[int, int]] = []
    rank = 0
    for fate_word, name, number in comparison.counts:
        if (fate is None or words[fate] == fate_word) and (section is None or name == section):
            if found and found[-1][0] + found[-1][1] == rank:
                found[-1] = (found[-1][0], found[-1][1] + number)
            else:
                found.append((rank, number))
        rank += number
    return found


def place_run(comparison: Comparison, section: str | None) -> list[tuple[int, int]]:
    """Return the run of places, in order of address, of a section or of all."""
    place = 0
    for name, number in comparison.sections:
        if name == section:
            return [(place, number)]
        place += number
    return [(0, place)] if section is None and place else []


class Placing:
    """Which fate and section the rows of a comparison have, by their rank."""

    def __init__(self, comparison: Comparison) -> None:
        self._words = [(fate, section) for fate, section, _ in comparison.counts]
        self._ends = list(accumulate(number for _, _, number in comparison.counts))

    def placed(self, row: tuple[Any, ...]) -> Row:
        """Return a row of STORED with the words of its fate and section before it."""
        return (*self._words[bisect_right(self._ends, row[0])], *row)


def page(comparison: Comparison, order: str, spans: list[tuple[int, int]]) -> list[Row]:
    """Return the rows of some spans (first, length); ``order`` is rank or place."""
    if order == "place":
        ranks = [rank for first, length in spans for rank in ranks_by_address(comparison.pk, first, length)]
        return rows_at(comparison, ranks)
    rows: list[tuple[Any, ...]] = []
    with connection.cursor() as cursor:
        for first, length in spans:
            cursor.execute(
                f"SELECT {', '.join(STORED)} FROM records_ledgerrow "
                "WHERE comparison_id = %s AND rank >= %s AND rank < %s ORDER BY rank",
                [comparison.pk, first, first + length],
            )
            rows += cursor.fetchall()
    placing = Placing(comparison)
    return [placing.placed(row) for row in rows]


def ranks_by_address(comparison_id: int, first: int, length: int) -> list[int]:
    """Return a run of ranks in order of address; the server reads no more of the array than that."""
    with connection.cursor() as cursor:
        cursor.execute(
            "SELECT substr(by_address, %s, %s) FROM records_ledgerparts WHERE comparison_id = %s",
            [4 * first + 1, 4 * length, comparison_id],
        )
        row = cursor.fetchone()
    ranks: list[int] = np.frombuffer(bytes(row[0]) if row else b"", "<i4").tolist()
    return ranks


def matching_among(comparison_id: int, ranks: list[int], wanted: str) -> list[int]:
    """Return those of some ranks whose path or title holds ``wanted``, in the order given."""
    pattern = f"%{bulk_copy.like(wanted)}%"
    with connection.cursor() as cursor:
        cursor.execute(
            "SELECT rank FROM records_ledgerrow WHERE comparison_id = %s AND rank = ANY(%s) "
            "AND (left_address ILIKE %s OR right_address ILIKE %s OR left_title ILIKE %s)",
            [comparison_id, ranks, pattern, pattern, pattern],
        )
        kept = {row[0] for row in cursor.fetchall()}
    return [rank for rank in ranks if rank in kept]


def matching(comparison_id: int, order: str, spans: list[tuple[int, int]], wanted: str, most: int) -> list[int]:
    """Return the ranks of the rows in some spans whose path or title holds ``wanted``, at most so many."""
    pattern = f"%{bulk_copy.like(wanted)}%"
    holds = "(left_address ILIKE %s OR right_address ILIKE %s OR left_title ILIKE %s)"
    found: list[int] = []
    with connection.cursor() as cursor:
        for first, length in spans:
            if order == "place":
                ranks = ranks_by_address(comparison_id, first, length)
                found += matching_among(comparison_id, ranks, wanted)[: most - len(found)]
                continue
            cursor.execute(
                f"SELECT rank FROM records_ledgerrow WHERE comparison_id = %s AND rank >= %s AND rank < %s "
                f"AND {holds} ORDER BY rank LIMIT %s",
                [comparison_id, first, first + length, pattern, pattern, pattern, most - len(found)],
            )
            found += [row[0] for row in cursor.fetchall()]
    return found


def rows_at(comparison: Comparison, ranks: list[int]) -> list[Row]:
    """Return the rows of some ranks, in the order given."""
    with connection.cursor() as cursor:
        cursor.execute(
            f"SELECT {', '.join(STORED)} FROM records_ledgerrow WHERE comparison_id = %s AND rank = ANY(%s)",
            [comparison.pk, ranks],
        )
        rows = {row[0]: row for row in cursor.fetchall()}
    placing = Placing(comparison)
    return [placing.placed(rows[rank]) for rank in ranks if rank in rows]

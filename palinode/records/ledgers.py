"""Ledgers written, and read a page at a time by stored rank."""

from collections.abc import Iterator
from typing import Any

from django.db import connection, transaction

from palinode.core.ledger import Ledger
from palinode.records import copy
from palinode.records.models import Comparison

_COLUMNS = (
    'comparison_id, rank, place, fate, section, "left", "right", left_address, left_title, right_address, detail, '
    "found_by, certainty, address_change, content_change, redirect, left_status, right_status"
)
SHOWN = (
    "rank",
    "place",
    "fate",
    "section",
    "left_address",
    "left_title",
    "right_address",
    "detail",
    "content_change",
    "left_status",
    "right_status",
)


def store(comparison: Comparison, ledger: Ledger, standing: dict[str, Any]) -> None:
    """Write the ledger of a comparison with its counts and standing, all or nothing."""
    with transaction.atomic():
        copy.copy_in("records_ledgerrow", _COLUMNS, _lines(comparison.pk, ledger))
        comparison.counts = [list(row) for row in ledger.counts]
        comparison.sections = [list(row) for row in ledger.sections]
        comparison.crossing = [list(row) for row in ledger.crossing]
        comparison.standing = standing
        comparison.state = Comparison.State.MADE
        comparison.save()


def _lines(comparison: int, ledger: Ledger) -> Iterator[str]:
    """Yield the rows as COPY text: columns are escaped whole, since rows come by the hundred thousand."""

    def numbers(array: Any, none: int | None = None) -> list[Any]:
        values = array.tolist()
        return values if none is None else ["\\N" if value == none else value for value in values]

    def words(column: list[str]) -> list[str]:
        return [text or "\\N" for text in _escaped(column)]

    columns = zip(
        range(len(ledger.fate)),
        numbers(ledger.place),
        numbers(ledger.fate),
        _escaped(ledger.section),
        numbers(ledger.left, 0),
        numbers(ledger.right, 0),
        words(ledger.left_address),
        words(ledger.left_title),
        words(ledger.right_address),
        _escaped(ledger.detail),
        numbers(ledger.found_by),
        numbers(ledger.certainty),
        numbers(ledger.address_change),
        numbers(ledger.content_change),
        numbers(ledger.redirect),
        numbers(ledger.left_status, -1),
        numbers(ledger.right_status, -1),
        strict=True,
    )
    for row in columns:
        yield f"{comparison}\t" + "\t".join(map(str, row)) + "\n"


def _escaped(column: list[str]) -> list[str]:
    """Escape a column of texts without line ends for COPY."""
    joined = "\n".join(column)
    if "\\" in joined or "\t" in joined or "\r" in joined:
        joined = joined.replace("\\", "\\\\").replace("\t", "\\t").replace("\r", "\\r")
    return joined.split("\n") if column else []


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


def page(comparison_id: int, order: str, spans: list[tuple[int, int]]) -> list[tuple[Any, ...]]:
    """Return the rows of some spans (first, length) of ranks or places, as tuples of SHOWN."""
    rows: list[tuple[Any, ...]] = []
    with connection.cursor() as cursor:
        for first, length in spans:
            cursor.execute(
                f"SELECT {', '.join(SHOWN)} FROM records_ledgerrow "
                f"WHERE comparison_id = %s AND {order} >= %s AND {order} < %s ORDER BY {order}",
                [comparison_id, first, first + length],
            )
            rows += cursor.fetchall()
    return rows


def matching(
    comparison_id: int, order: str, spans: list[tuple[int, int]], wanted: str, most: int
) -> list[tuple[int, int]]:
    """Return rank and place of the rows in some spans whose path or title holds ``wanted``, at most so many."""
    pattern = "%" + wanted.replace("\\", "\\\\").replace("%", "\\%").replace("_", "\\_") + "%"
    found: list[tuple[int, int]] = []
    with connection.cursor() as cursor:
        for first, length in spans:
            cursor.execute(
                f"SELECT rank, place FROM records_ledgerrow WHERE comparison_id = %s AND {order} >= %s "
                f"AND {order} < %s AND (left_address ILIKE %s OR right_address ILIKE %s OR left_title ILIKE %s) "
                f"ORDER BY {order} LIMIT %s",
                [comparison_id, first, first + length, pattern, pattern, pattern, most - len(found)],
            )
            found += cursor.fetchall()
    return found


def rows_at(comparison_id: int, ranks: list[int]) -> list[tuple[Any, ...]]:
    """Return the rows of some ranks, in the order given."""
    with connection.cursor() as cursor:
        cursor.execute(
            f"SELECT {', '.join(SHOWN)} FROM records_ledgerrow WHERE comparison_id = %s AND rank = ANY(%s)",
            [comparison_id, ranks],
        )
        rows = {row[0]: row for row in cursor.fetchall()}
    return [rows[rank] for rank in ranks if rank in rows]

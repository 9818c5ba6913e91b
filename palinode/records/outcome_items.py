"""The items of rows and findings: columns of texts, or pages as rows of the check of pages."""

import zlib
from collections.abc import Collection, Iterator
from typing import NamedTuple

import numpy as np
import orjson
import psycopg
from django.db import connection

from palinode.core.checks import registry
from palinode.core.checks.outcome import PageSet, Rows
from palinode.core.judgement import ShownOn
from palinode.records import bulk_copy, outcome_rows
from palinode.records.models import CheckOutcome
from palinode.records.outcome_rows import Placing, StoredRow

_ITEMS = 1_000
"""Items of a part."""
_MOST_UNPACKED = 16_000_000
"""Bytes of a part of items."""
_INSERT_ITEMS = (
    "INSERT INTO records_checkitems (outcome_id, number, part, size, pages_id, data) VALUES (%s, %s, %s, %s, %s, %b)"
)


def write(outcome: int, rows: Rows, pages: int) -> None:
    """Write the items of an outcome; ``pages`` is the outcome whose rows sets of pages name. Needs a transaction."""
    with psycopg.Cursor(connection.connection) as cursor:
        for number, items in enumerate(rows.items):
            if isinstance(items, PageSet):
                data = items.rows.astype("<i4").tobytes()
                cursor.execute(_INSERT_ITEMS, [outcome, number, 0, len(items), pages, data])
                continue
            for part, first in enumerate(range(0, len(items), _ITEMS)):
                some = [column[first : first + _ITEMS] for column in items.columns]
                data = zlib.compress(orjson.dumps(some), 1)
                cursor.execute(_INSERT_ITEMS, [outcome, number, part, len(some[0]), None, data])


class Listed(NamedTuple):
    """Some items of a set."""

    total: int
    rows: list[dict[str, str]]
    """By the names of their columns; none where they are pages."""
    pages: list[StoredRow]
    """Rows of the check of pages; none where they are something else."""
    of: CheckOutcome | None
    """The outcome whose rows these are."""


NONE_LISTED = Listed(0, [], [], None)


def of_row(outcome: CheckOutcome, rank: int, first: int, most: int) -> Listed:
    """Return some of the items of a row, and how many there are."""
    number = outcome_rows.numbers_of(outcome.pk, ["items"], [rank])[0]["items"]
    return _items(outcome, number, first, most)


def named(outcome: CheckOutcome, wanted: Collection[str]) -> dict[str, tuple[str, dict[str, str]]]:
    """Return the items whose first column is one of some texts, with the verdict of their row.

    Items of rows that stand for none of their own, as what is the same, are not among them.
    """
    numbers = outcome_rows.column(outcome.pk, "items")
    if not wanted or not len(numbers):
        return {}
    placing = Placing(outcome)
    verdicts = {number: placing.word_of(rank) for rank, number in enumerate(numbers.tolist()) if number >= 0}
    names = registry.BY_NAME[outcome.check_name].items
    left, found = set(wanted), dict[str, tuple[str, dict[str, str]]]()
    sql = "SELECT number, data FROM records_checkitems WHERE outcome_id = %s AND pages_id IS NULL ORDER BY number, part"
    with bulk_copy.stream(sql, [outcome.pk], 20) as batches:
        for batch in batches:
            for number, data in batch:
                columns = orjson.loads(zlib.decompressobj().decompress(bytes(data), _MOST_UNPACKED))
                for at, text in enumerate(columns[0]):
                    if text in left:
                        item = {name: column[at] for name, column in zip(names, columns, strict=True)}
                        found[text] = (verdicts.get(number, ""), item)
                        left.discard(text)
            if not left:
                break
    return found


def of_finding(outcome: CheckOutcome, place: int, first: int, most: int) -> Listed:
    """Return the pages that show a finding of an outcome."""
    with connection.cursor() as cursor:
        cursor.execute(
            "SELECT items FROM records_checkfinding WHERE outcome_id = %s AND place = %s", [outcome.pk, place]
        )
        row = cursor.fetchone()
    return NONE_LISTED if row is None or row[0] is None else _items(outcome, row[0], first, most)


def places_of_pages(outcome: CheckOutcome, ranks: Collection[int]) -> list[int]:
    """Return the places of the findings of the check of pages that stand on no row and list one of some pages."""
    connection.ensure_connection()
    with psycopg.Cursor(connection.connection) as cursor:
        cursor.execute(
            "SELECT f.place, i.data FROM records_checkfinding f "
            "JOIN records_checkitems i ON i.outcome_id = f.outcome_id AND i.number = f.items "
            'WHERE f.outcome_id = %s AND f."row" IS NULL AND i.pages_id = f.outcome_id',
            [outcome.pk],
            binary=True,
        )
        return [
            place for place, data in cursor.fetchall() if np.isin(np.frombuffer(bytes(data), "<i4"), list(ranks)).any()
        ]


def shown_on(outcome: CheckOutcome, places: list[int]) -> list[ShownOn]:
    """Return the pages that show some findings of an outcome; none for one about no pages."""
    connection.ensure_connection()
    with psycopg.Cursor(connection.connection) as cursor:
        cursor.execute(
            'SELECT f.place, f."row", i.data, i.pages_id FROM records_checkfinding f LEFT JOIN records_checkitems i '
            "ON i.outcome_id = f.outcome_id AND i.number = f.items AND i.pages_id IS NOT NULL "
            "WHERE f.outcome_id = %s AND f.place = ANY(%s)",
            [outcome.pk, places],
            binary=True,
        )
        rows = {place: told for place, *told in cursor.fetchall()}
    of_pages: dict[int, tuple[np.ndarray, Placing]] = {}
    found = []
    for place in places:
        row, data, pages = rows.get(place, (None, None, None))
        ranks = np.zeros(0, np.int64)
        if pages is not None:
            ranks = np.frombuffer(bytes(data), "<i4").astype(np.int64)
        elif row is not None and outcome.check_name == "pages":
            ranks, pages = np.array([row], np.int64), outcome.pk
        if not len(ranks):
            found.append(ShownOn(ranks, ranks.astype(object), ranks))
            continue
        if pages not in of_pages:
            left, right = outcome_rows.column(pages, "left"), outcome_rows.column(pages, "right")
            placing = Placing(outcome if pages == outcome.pk else CheckOutcome.objects.get(pk=pages))
            of_pages[pages] = np.where(left != 0, left, right), placing
        idents, placing = of_pages[pages]
        found.append(ShownOn(idents[ranks], placing.groups_of(ranks), ranks))
    return found


def pages_at(outcome: CheckOutcome, ranks: np.ndarray) -> ShownOn:
    """Return the pages of some rows (int64) of the check of pages."""
    left, right = outcome_rows.column(outcome.pk, "left"), outcome_rows.column(outcome.pk, "right")
    known = ranks[ranks < len(left)]
    return ShownOn(np.where(left != 0, left, right)[known], Placing(outcome).groups_of(known), known)


def _items(outcome: CheckOutcome, number: int, first: int, most: int) -> Listed:
    with connection.cursor() as cursor:
        cursor.execute(
            "SELECT sum(size), min(pages_id) FROM records_checkitems WHERE outcome_id = %s AND number = %s",
            [outcome.pk, number],
        )
        total, pages = cursor.fetchone()
    if not total:
        return NONE_LISTED
    if pages is not None:
        return _pages(outcome, number, CheckOutcome.objects.get(pk=pages), total, first, most)
    with connection.cursor() as cursor:
        cursor.execute(
            "SELECT data FROM records_checkitems WHERE outcome_id = %s AND number = %s AND part >= %s AND part <= %s "
            "ORDER BY part",
            [outcome.pk, number, first // _ITEMS, (first + most) // _ITEMS],
        )
        parts = [
            orjson.loads(zlib.decompressobj().decompress(bytes(data), _MOST_UNPACKED)) for (data,) in cursor.fetchall()
        ]
    names = registry.BY_NAME[outcome.check_name].items
    columns = [[text for part in parts for text in part[at]] for at in range(len(names))]
    skipped = first % _ITEMS
    rows = zip(*(column[skipped : skipped + most] for column in columns), strict=True)
    return Listed(total, [dict(zip(names, row, strict=True)) for row in rows], [], None)


def _pages(outcome: CheckOutcome, number: int, pages: CheckOutcome, total: int, first: int, most: int) -> Listed:
    """Return some pages of a set, as the rows of the check of pages tell them."""
    with psycopg.Cursor(connection.connection) as cursor:
        cursor.execute(
            "SELECT substr(data, %s, %s) FROM records_checkitems WHERE outcome_id = %s AND number = %s",
            [1 + 4 * first, 4 * most, outcome.pk, number],
            binary=True,
        )
        row = cursor.fetchone()
    ranks = np.frombuffer(bytes(row[0]), "<i4").tolist() if row else []
    return Listed(total, [], outcome_rows.rows_at(pages, ranks), pages)


def are_whole(outcome: CheckOutcome) -> bool:
    """Whether the items of an outcome that came from elsewhere hold what they say."""
    return all(_is_packed(outcome, *part) for part in _packed(outcome))


def _packed(outcome: CheckOutcome) -> Iterator[tuple[bytes, int, int]]:
    """Yield parts of items with their size, and the rows of the outcome of pages that they name; -1 for none."""
    sql = (
        "SELECT i.data, i.size, CASE WHEN i.pages_id IS NULL THEN -1 ELSE coalesce(o.rows, 0) END "
        "FROM records_checkitems i LEFT JOIN records_checkoutcome o ON o.id = i.pages_id "
        "AND o.check_name = 'pages' AND o.move_id = %s WHERE i.outcome_id = %s"
    )
    with bulk_copy.stream(sql, [outcome.move_id, outcome.pk], 20) as batches:
        for batch in batches:
            yield from ((bytes(data), size, pages) for data, size, pages in batch)


def _is_packed(outcome: CheckOutcome, data: bytes, size: int, pages: int) -> bool:
    """Whether a part of items holds what it says: rows of pages, or columns of texts as its check declares them."""
    if pages >= 0:
        ranks = np.frombuffer(data, "<i4") if len(data) == 4 * size else np.full(1, -1)
        return bool((ranks >= 0).all() and (ranks < pages).all())
    try:
        columns = orjson.loads(zlib.decompressobj().decompress(data, _MOST_UNPACKED))
    except (zlib.error, ValueError):
        return False
    names = registry.BY_NAME[outcome.check_name].items
    return (
        isinstance(columns, list)
        and len(columns) == len(names)
        and all(isinstance(column, list) and len(column) == size <= _ITEMS for column in columns)
        and all(isinstance(text, str) for column in columns for text in column)
    )

"""Outcomes of checks: written once, and read a page at a time by stored rank."""

import logging
import zlib
from bisect import bisect_right
from collections.abc import Collection, Iterator
from itertools import accumulate
from typing import Any, NamedTuple

import numpy as np
import orjson
import psycopg
from django.db import connection

from palinode.core.checks import registry
from palinode.core.checks.check import Check
from palinode.core.checks.outcome import Outcome, PageSet, Rows
from palinode.records import bulk_copy
from palinode.records.models import CheckOutcome, Comparison

log = logging.getLogger(__name__)
_TOGETHER = 5_000
_ITEMS = 1_000
"""Items of a part."""
STORED = ("rank", "left", "right", "left_note", "right_note")
_COLUMNS = ", ".join(f'"{name}"' for name in STORED)
_MOST_UNPACKED = 16_000_000
"""Bytes of a part of items."""
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


def of(comparison: Comparison, check: str) -> CheckOutcome | None:
    """Return the outcome of a check that a comparison holds; None if that was not looked at."""
    held = comparison.checks.filter(carried=False, outcome__check_name=check).select_related("outcome").first()
    return held.outcome if held else None


_SEEN = """SELECT o.id, o.check_name, o.rows, o.counts, o.groups FROM records_comparisoncheck k
    JOIN records_checkoutcome o ON o.id = k.outcome_id AND o.check_name = %(check)s
    JOIN records_membership m ON m.move_id = o.move_id AND m.user_id = %(user)s
    WHERE k.comparison_id = %(comparison)s AND NOT k.carried"""


def seen_by(user_id: int, comparison_id: int, check: str) -> CheckOutcome | None:
    """Return what a check made in a comparison, if a person may see its move; for each page of rows, so at once."""
    with connection.cursor() as cursor:
        cursor.execute(_SEEN, {"check": check, "user": user_id, "comparison": comparison_id})
        row = cursor.fetchone()
    if row is None:
        return None
    number, name, rows, counts, groups = row
    return CheckOutcome(pk=number, check_name=name, rows=rows, counts=orjson.loads(counts), groups=orjson.loads(groups))


def keep(move_id: int, check: Check, digest: str, made: Outcome, pages: CheckOutcome | None = None) -> CheckOutcome:
    """Return the outcome of some inputs, written now if it was not before. Needs a transaction.

    ``pages`` is the outcome of pages that it read, whose rows its sets of pages name.

    One that was made of the same inputs and is not the same after all is kept apart from now on: those comparisons
    that hold it go on to show what they were made of.
    """
    before = CheckOutcome.objects.filter(move_id=move_id, check_name=check.name, digest=digest).first()
    if before:
        if _is_same(before, made):
            return before
        log.warning("outcome %s of %s is not what its inputs give now", before.pk, check.name)
        CheckOutcome.objects.filter(pk=before.pk).update(digest=f"{digest[:40]}-{before.pk}")
    return write(move_id, check, digest, made, pages)


def _is_same(before: CheckOutcome, made: Outcome) -> bool:
    """Whether a kept outcome has the rows and findings of one made just now, as far as numbers show it."""
    found = bulk_copy.columns_out(
        {"key": "i8", "seen": "i8"},
        "SELECT key, seen FROM records_checkfinding WHERE outcome_id = %(outcome)s ORDER BY place",
        {"outcome": before.pk},
    )
    return (
        before.rows == len(made.rows)
        and before.groups == [list(one) for one in made.rows.by_group]
        and np.array_equal(found["key"], made.findings.key)
        and np.array_equal(found["seen"], made.findings.seen)
    )


def write(move_id: int, check: Check, digest: str, made: Outcome, pages: CheckOutcome | None = None) -> CheckOutcome:
    """Write an outcome with its rows, items and findings. Needs a transaction."""
    rows = made.rows
    words = [one.word for one in check.verdicts]
    outcome = CheckOutcome.objects.create(
        move_id=move_id,
        check_name=check.name,
        version=check.version,
        digest=digest,
        rows=len(rows),
        counts=[[words[verdict], rows.groups[group], number] for verdict, group, number in rows.counts],
        groups=[list(one) for one in rows.by_group],
        unseen=list(made.unseen),
    )
    bulk_copy.copy_in("records_checkrow", f"outcome_id, {_COLUMNS}", _lines(outcome.pk, rows))
    _write_columns(outcome.pk, {**rows.numbers, BY_PLACE: np.argsort(rows.place).astype(np.int32)})
    _write_items(outcome.pk, rows, (pages or outcome).pk)
    _write_findings(outcome.pk, made)
    return outcome


def _lines(outcome: int, rows: Rows) -> Iterator[str]:
    """Yield the rows as COPY text, thousands at a time: columns are made text whole.

    No more at once, so that the database takes rows in while the next are made.
    """
    for start in range(0, len(rows), _TOGETHER):
        here = slice(start, start + _TOGETHER)
        ranks = range(start, start + len(rows.left[here]))
        yield bulk_copy.rows(
            (
                [str(outcome)] * len(ranks),
                map(str, ranks),
                bulk_copy.texts(rows.left[here], "\\N"),
                bulk_copy.texts(rows.right[here], "\\N"),
                bulk_copy.texts(rows.left_note[here], "\\N"),
                bulk_copy.texts(rows.right_note[here]),
            )
        )


def _write_columns(outcome: int, columns: dict[str, np.ndarray]) -> None:
    """Write arrays in binary, since as text they would be twice as long."""
    with psycopg.Cursor(connection.connection) as cursor:
        for name, column in columns.items():
            kind = column.dtype.str[1:]
            cursor.execute(
                "INSERT INTO records_checkcolumn (outcome_id, name, kind, data) VALUES (%s, %s, %s, %b)",
                [outcome, name, kind, column.astype(f"<{kind}").tobytes()],
            )


_INSERT_ITEMS = (
    "INSERT INTO records_checkitems (outcome_id, number, part, size, pages_id, data) VALUES (%s, %s, %s, %s, %s, %b)"
)


def _write_items(outcome: int, rows: Rows, pages: int) -> None:
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


def _write_findings(outcome: int, made: Outcome) -> None:
    findings = made.findings
    items = np.full(len(findings), -1)
    items[list(made.finding_items)] = list(made.finding_items.values())
    words = [kind.word for kind in findings.kinds]
    columns = [
        [str(outcome)] * len(findings),
        map(str, range(len(findings))),
        [words[kind] for kind in findings.kind.tolist()],
        bulk_copy.numbers(findings.key),
        bulk_copy.numbers(findings.seen),
        bulk_copy.numbers(findings.subject),
        bulk_copy.numbers(findings.row, null=-1),
        bulk_copy.numbers(findings.pages),
        bulk_copy.numbers(items, null=-1),
        bulk_copy.texts(findings.left, "\\N"),
        bulk_copy.texts(findings.right, "\\N"),
        bulk_copy.texts(findings.detail),
    ]
    bulk_copy.copy_in(
        "records_checkfinding",
        'outcome_id, place, kind, key, seen, subject, "row", pages, items, left_address, right_address, detail',
        [bulk_copy.rows(columns)],
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
    """Return a stretch of arrays from a rank on; the server reads no more of them than that."""
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
    """Return what arrays hold at some ranks, in the order given; a run of ranks is read in one piece."""
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


class _Placing:
    """Which verdict and group the rows of an outcome have, by their rank."""

    def __init__(self, outcome: CheckOutcome) -> None:
        self._words = [(verdict, group) for verdict, group, _ in outcome.counts]
        self._ends = list(accumulate(number for _, _, number in outcome.counts))

    def word_of(self, rank: int) -> str:
        """Return the verdict of a rank."""
        return str(self._words[bisect_right(self._ends, rank)][0])

    def placed(self, row: tuple[Any, ...]) -> StoredRow:
        return StoredRow(*self._words[bisect_right(self._ends, row[0])], *row)


def page(outcome: CheckOutcome, order: str, spans: list[tuple[int, int]]) -> list[StoredRow]:
    """Return the rows of some spans (first, length); ``order`` is rank or place."""
    if order == "place":
        ranks = [rank for first, length in spans for rank in ranks_by_place(outcome.pk, first, length)]
        return rows_at(outcome, ranks)
    rows: list[tuple[Any, ...]] = []
    with connection.cursor() as cursor:
        for first, length in spans:
            cursor.execute(
                f"SELECT {_COLUMNS} FROM records_checkrow "
                "WHERE outcome_id = %s AND rank >= %s AND rank < %s ORDER BY rank",
                [outcome.pk, first, first + length],
            )
            rows += cursor.fetchall()
    placing = _Placing(outcome)
    return [placing.placed(row) for row in rows]


def rows_at(outcome: CheckOutcome, ranks: list[int]) -> list[StoredRow]:
    """Return the rows of some ranks, in the order given."""
    with connection.cursor() as cursor:
        cursor.execute(
            f"SELECT {_COLUMNS} FROM records_checkrow WHERE outcome_id = %s AND rank = ANY(%s)", [outcome.pk, ranks]
        )
        rows = {row[0]: row for row in cursor.fetchall()}
    placing = _Placing(outcome)
    return [placing.placed(rows[rank]) for rank in ranks if rank in rows]


def ranks_by_place(outcome_id: int, first: int, length: int) -> list[int]:
    """Return a run of ranks in order of group and address."""
    return numbers_at(outcome_id, [BY_PLACE], first, length)[BY_PLACE]


_HOLDS = '("left" ILIKE %s OR "right" ILIKE %s OR left_note ILIKE %s)'


def matching_among(outcome_id: int, ranks: list[int], wanted: str) -> list[int]:
    """Return those of some ranks whose sides or left note hold ``wanted``, in the order given."""
    pattern = f"%{bulk_copy.like(wanted)}%"
    with connection.cursor() as cursor:
        cursor.execute(
            f"SELECT rank FROM records_checkrow WHERE outcome_id = %s AND rank = ANY(%s) AND {_HOLDS}",
            [outcome_id, ranks, pattern, pattern, pattern],
        )
        kept = {row[0] for row in cursor.fetchall()}
    return [rank for rank in ranks if rank in kept]


def matching(outcome_id: int, order: str, spans: list[tuple[int, int]], wanted: str, most: int) -> list[int]:
    """Return the ranks of the rows in some spans whose sides or left note hold ``wanted``, at most so many."""
    pattern = f"%{bulk_copy.like(wanted)}%"
    found: list[int] = []
    with connection.cursor() as cursor:
        for first, length in spans:
            if order == "place":
                ranks = ranks_by_place(outcome_id, first, length)
                found += matching_among(outcome_id, ranks, wanted)[: most - len(found)]
                continue
            cursor.execute(
                f"SELECT rank FROM records_checkrow WHERE outcome_id = %s AND rank >= %s AND rank < %s "
                f"AND {_HOLDS} ORDER BY rank LIMIT %s",
                [outcome_id, first, first + length, pattern, pattern, pattern, most - len(found)],
            )
            found += [row[0] for row in cursor.fetchall()]
    return found


def stream(outcome: CheckOutcome) -> Iterator[list[StoredRow]]:
    """Yield all rows in batches, in their order."""
    placing = _Placing(outcome)
    sql = f"SELECT {_COLUMNS} FROM records_checkrow WHERE outcome_id = %s ORDER BY rank"
    with bulk_copy.stream(sql, [outcome.pk]) as batches:
        for batch in batches:
            yield [placing.placed(row) for row in batch]


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


def items(outcome: CheckOutcome, rank: int, first: int, most: int) -> Listed:
    """Return of how many items a row stands, and some of them."""
    number = numbers_of(outcome.pk, ["items"], [rank])[0]["items"]
    return _items(outcome, number, first, most)


def items_named(outcome: CheckOutcome, wanted: Collection[str]) -> dict[str, tuple[str, dict[str, str]]]:
    """Return those items whose first column is one of some texts, each with the verdict of the row it belongs to.

    Items of rows that stand for none of their own, as what is the same, are not among them.
    """
    numbers = column(outcome.pk, "items")
    if not wanted or not len(numbers):
        return {}
    placing = _Placing(outcome)
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


def pages_of_finding(outcome: CheckOutcome, place: int, first: int, most: int) -> Listed:
    """Return the pages that show a finding of an outcome."""
    with connection.cursor() as cursor:
        cursor.execute(
            "SELECT items FROM records_checkfinding WHERE outcome_id = %s AND place = %s", [outcome.pk, place]
        )
        row = cursor.fetchone()
    return NONE_LISTED if row is None or row[0] is None else _items(outcome, row[0], first, most)


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
    return Listed(total, [], rows_at(pages, ranks), pages)


def fault_of(outcome: CheckOutcome) -> str:
    """Return what is wrong with the parts of an outcome that came from elsewhere; empty if they belong together."""
    check = registry.BY_NAME[outcome.check_name]
    words = {one.word for one in check.verdicts}
    counted, grouped = (sum(number for *_, number in rows) for rows in (outcome.counts, outcome.groups))
    with connection.cursor() as cursor:
        cursor.execute(
            "SELECT count(*), coalesce(max(rank), -1), coalesce(bool_or(\"left\" !~ '^https?://' "
            "OR \"right\" !~ '^https?://'), false) FROM records_checkrow WHERE outcome_id = %s",
            [outcome.pk],
        )
        rows, last, other = cursor.fetchone()
        cursor.execute(
            "SELECT count(*) FROM records_checkcolumn WHERE outcome_id = %s "
            "AND length(data) <> %s * right(kind, 1)::int",
            [outcome.pk, outcome.rows],
        )
        odd = cursor.fetchone()[0]
        cursor.execute(
            'SELECT count(*), coalesce(max(place), -1), coalesce(max("row"), -1) '
            "FROM records_checkfinding WHERE outcome_id = %s",
            [outcome.pk],
        )
        findings, last_finding, last_row = cursor.fetchone()
    if not rows == outcome.rows == counted == grouped or last != rows - 1 or odd:
        return "its rows are not those that it counts"
    by_place = np.sort(column(outcome.pk, BY_PLACE))
    if not np.array_equal(by_place, np.arange(rows)):
        return "its order is none"
    if not {verdict for verdict, _, _ in outcome.counts} <= words:
        return "a verdict is none of its check"
    if check.name == "pages" and other:
        return "a row is about no address"
    if not all(_is_packed(outcome, *part) for part in _packed(outcome)):
        return "what its rows stand for cannot be read"
    if last_finding != findings - 1 or last_row >= max(rows, 0):
        return "its findings are none of its rows"
    return ""


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

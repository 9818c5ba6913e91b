"""Addresses of imported lists, by side."""

from collections import Counter
from collections.abc import Iterable, Iterator

from django.db import connection

from palinode.core.hot_link import HotLink
from palinode.core.visits import Visits
from palinode.records import bulk_copy, frontier, plans
from palinode.records.models import Move

Visited = tuple[int, str, int, int, int]
"""Identity, text, way (core/discovery.py), visits, day of the last one (as 20261112; 0 for none)."""


def add(move: Move, which: str, found: Iterable[Visited]) -> int:
    """Keep addresses, each named once; visits are added to those before. Return how many are new.

    Needs a transaction.
    """
    rows = sorted(found)
    if not rows:
        return 0
    frontier.add_addresses(move.pk, ((ident, text) for ident, text, *_ in rows))
    lines = [bulk_copy.line((move.pk, which, ident, int(known), *visits)) for ident, _, known, *visits in rows]
    columns = "move_id, which, ident, known, visits, last_visit"
    new = bulk_copy.insert_new("records_importedaddress", columns, lines, "ident")
    with plans.by_key(), connection.cursor() as cursor:
        cursor.execute(
            "UPDATE records_importedaddress b SET known = b.known | s.known, visits = b.visits + s.visits, "
            "last_visit = greatest(b.last_visit, s.last_visit) FROM staged_records_importedaddress s "
            "WHERE (b.move_id, b.which, b.ident) = (s.move_id, s.which, s.ident) AND s.ident <> ALL(%s) "
            "AND (b.known | s.known <> b.known OR s.visits > 0)",
            [new],
        )
    return len(new)


def visits(move: Move, which: str) -> Visits:
    """Return how often the addresses of a side are visited, by the logs imported for it."""
    with plans.by_key():
        found = bulk_copy.columns_out(
            {"text": "text", "visits": "i8", "last_visit": "i4"},
            f"SELECT d.text, a.visits, a.last_visit FROM records_importedaddress a {plans.ADDRESS} "
            "WHERE a.move_id = %(move)s AND a.which = %(which)s AND a.visits > 0 ORDER BY a.ident",
            {"move": move.pk, "which": which},
        )
    return Visits.told(*(found[name] for name in ("text", "visits", "last_visit")))


def hot_links(move: Move, which: str) -> list[HotLink]:
    """Return the files of a side that other sites show, by all logs imported for it; the most shown first."""
    times: Counter[tuple[str, str]] = Counter()
    for found in move.imports.filter(which=which).exclude(shown_elsewhere=[]).values_list("shown_elsewhere", flat=True):
        for address, host, number in found:
            times[address, host] += number
    return [HotLink(address, host, number) for (address, host), number in times.most_common()]


def of(move: Move, which: str, batch: int = 5_000) -> Iterator[list[tuple[int, str, int]]]:
    """Yield identity, text and way of the addresses imported for a side, in batches."""
    sql = (
        f"SELECT a.ident, d.text, a.known FROM records_importedaddress a {plans.ADDRESS} "
        "WHERE a.move_id = %(move)s AND a.which = %(which)s"
    )
    with bulk_copy.stream(sql, {"move": move.pk, "which": which}, batch) as batches:
        yield from batches


def count(move: Move) -> dict[str, int]:
    """Return the number of addresses imported, by side."""
    with connection.cursor() as cursor:
        cursor.execute(
            "SELECT which, count(*) FROM records_importedaddress WHERE move_id = %s GROUP BY which", [move.pk]
        )
        found = dict(cursor.fetchall())
    return {which: found.get(which, 0) for which in ("source", "destination")}


def forget(move: Move, which: str) -> None:
    """Let go of the addresses imported for a side; captures that asked for them stay as they are."""
    with connection.cursor() as cursor:
        cursor.execute("DELETE FROM records_importedaddress WHERE move_id = %s AND which = %s", [move.pk, which])

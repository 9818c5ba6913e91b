"""Addresses of imported lists, by side."""

from collections.abc import Iterable, Iterator

from django.db import connection

from palinode.core.discovery import Discovery
from palinode.records import bulk_copy, frontier, plans
from palinode.records.models import Move


def add(move: Move, which: str, found: Iterable[tuple[int, str, Discovery]]) -> int:
    """Keep addresses (identity, text, way); return how many are new. Needs a transaction."""
    rows: dict[int, tuple[str, int]] = {}
    for ident, text, known in found:
        rows[ident] = (text, rows.get(ident, ("", 0))[1] | int(known))
    if not rows:
        return 0
    frontier.add_addresses(move.pk, ((ident, text) for ident, (text, _) in rows.items()))
    lines = [bulk_copy.line((move.pk, which, ident, known)) for ident, (_, known) in sorted(rows.items())]
    new = bulk_copy.insert_new("records_importedaddress", "move_id, which, ident, known", lines, "ident")
    with plans.by_key(), connection.cursor() as cursor:
        cursor.execute(
            "UPDATE records_importedaddress b SET known = b.known | s.known FROM staged_records_importedaddress s "
            "WHERE (b.move_id, b.which, b.ident) = (s.move_id, s.which, s.ident) AND b.known | s.known <> b.known"
        )
    return len(new)


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

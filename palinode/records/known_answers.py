"""Answers that stand for addresses which are known and were never asked: of a source that is gone."""

from django.db import connection

from palinode.core.discovery import Discovery
from palinode.records.models import Capture

_SQL = """INSERT INTO records_answer
    (capture_id, ident, variant, is_page, reason, why, length, known, depth, asked_at, took_ms)
    SELECT %(capture)s, ident, 0, true, %(reason)s, 0, 0, known, 1, now(), 0 FROM records_importedaddress
    WHERE move_id = %(move)s AND which = %(which)s AND known & %(said)s <> 0"""
SAYS = Discovery.LIST | Discovery.DATABASE
"""What says that an address is, or was, a page: a log names whatever somebody typed."""


def write(capture: Capture, reason: str) -> int:
    """Write an answer for each address that lists and the database of a capture's side name; return how many.

    Each is a page of which nothing was fetched, for a ``reason`` in words.
    """
    with connection.cursor() as cursor:
        values = {
            "capture": capture.pk,
            "move": capture.move_id,
            "which": capture.which,
            "reason": reason,
            "said": int(SAYS),
        }
        cursor.execute(_SQL, values)
        return cursor.rowcount


def count(move: int, which: str) -> int:
    """Return how many addresses of a side :func:`write` would write."""
    with connection.cursor() as cursor:
        cursor.execute(
            "SELECT count(*) FROM records_importedaddress WHERE move_id = %s AND which = %s AND known & %s <> 0",
            [move, which, int(SAYS)],
        )
        return int(cursor.fetchone()[0])

"""Answers that stand for addresses which are known and were never asked: of a source that is gone."""

from django.db import connection

from palinode.core.answers import NEVER_ASKED
from palinode.core.discovery import Discovery
from palinode.core.file_family import ENDINGS
from palinode.records.models import Capture

_SQL = r"""WITH named AS (
        SELECT a.ident, a.known,
            coalesce(lower(substring(split_part(d.text, '?', 1) from '\.([^./]+)$')) <> ALL(%(endings)s), true) page
        FROM records_importedaddress a JOIN records_address d ON d.move_id = a.move_id AND d.ident = a.ident
        WHERE a.move_id = %(move)s AND a.which = %(which)s AND a.known & %(said)s <> 0)
    INSERT INTO records_answer
        (capture_id, ident, variant, status, is_page, reason, why, length, known, depth, asked_at, took_ms)
    SELECT %(capture)s, ident, 0, CASE WHEN page THEN NULL ELSE %(status)s::int2 END, page, %(reason)s, 0, 0,
        known, 1, now(), 0 FROM named RETURNING is_page"""
SAYS = Discovery.LIST | Discovery.DATABASE
"""What says that an address is, or was, a page: a log names whatever somebody typed."""


def write(capture: Capture, reason: str) -> tuple[int, int]:
    """Write an answer for each address that lists and the database of a capture's side name.

    Each is a page, or a file by its name, of which nothing was fetched, for a ``reason`` in words. Return how many
    pages and how many files.
    """
    with connection.cursor() as cursor:
        values = {
            "capture": capture.pk,
            "move": capture.move_id,
            "which": capture.which,
            "reason": reason,
            "said": int(SAYS),
            "status": NEVER_ASKED,
            "endings": sorted(ENDINGS),
        }
        cursor.execute(_SQL, values)
        pages = sum(is_page for (is_page,) in cursor.fetchall())
        return pages, cursor.rowcount - pages


def count(move: int, which: str) -> int:
    """Return how many addresses of a side :func:`write` would write."""
    with connection.cursor() as cursor:
        cursor.execute(
            "SELECT count(*) FROM records_importedaddress WHERE move_id = %s AND which = %s AND known & %s <> 0",
            [move, which, int(SAYS)],
        )
        return int(cursor.fetchone()[0])

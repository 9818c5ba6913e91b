"""What pages say in the fields of words, many at once."""

from django.db import connection

from palinode.core.expected import Said
from palinode.core.rest import Rest
from palinode.core.volatile import Volatile
from palinode.records.models import Capture

_SQL = """
    SELECT a.ident, a.body, f.title, f.description, f.rest
    FROM records_answer a JOIN records_facts f ON f.move_id = %s AND f.key = a.facts
    WHERE a.capture_id = %s AND a.ident = ANY(%s) AND a.is_page
"""


def pages(capture: Capture, idents: list[int], volatile: Volatile) -> dict[int, tuple[Said, bytes]]:
    """Return what pages of a capture say, without what is volatile, and the digests of their bodies, by identity."""
    with connection.cursor() as cursor:
        cursor.execute(_SQL, [capture.move_id, capture.pk, idents])
        return {
            ident: (_said(title, description, bytes(rest), volatile), bytes(body))
            for ident, body, title, description, rest in cursor.fetchall()
        }


def _said(title: str, description: str, rest: bytes, volatile: Volatile) -> Said:
    main = [(block.kind, block.text) for block in volatile.masked(Rest(rest).blocks) if block.main]
    return Said(volatile.masked_text(title), volatile.masked_text(description), main)

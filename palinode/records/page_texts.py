"""What pages say in the fields of words, many at once."""

from django.db import connection

from palinode.core.expected import Said
from palinode.core.packed_facts import PackedFacts
from palinode.core.volatile import Volatile
from palinode.records import plans
from palinode.records.models import Capture

_SQL = f"SELECT a.ident, a.body, f.title, f.description, f.rest FROM {plans.ANSWERS} {plans.FACTS} WHERE a.is_page"


def pages(capture: Capture, idents: list[int], volatile: Volatile) -> dict[int, tuple[Said, bytes]]:
    """Return texts of pages of a capture without what is volatile, and the digests of their bodies, by identity."""
    with connection.cursor() as cursor:
        cursor.execute(_SQL, {"move": capture.move_id, "capture": capture.pk, "idents": idents})
        return {
            ident: (_said(ident, title, description, bytes(rest), volatile), bytes(body))
            for ident, body, title, description, rest in cursor.fetchall()
        }


def _said(ident: int, title: str, description: str, rest: bytes, volatile: Volatile) -> Said:
    main = [(block.kind, block.text) for block in volatile.masked(PackedFacts(rest).blocks) if block.main]
    return Said(volatile.masked_text(title), volatile.masked_text(description), main, ident)

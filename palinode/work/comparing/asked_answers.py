"""Loads what a side answered when checks asked it."""

from collections.abc import Sequence

from django.db import connection

from palinode.core.asked_answers import AskedAnswer
from palinode.records import plans
from palinode.records.models import Capture

_SQL = f"""SELECT d.text, a.status, t.text FROM records_answer a {plans.ADDRESS}
    LEFT JOIN records_address t ON t.move_id = %(move)s AND t.ident = a.target
    WHERE a.capture_id = %(capture)s AND a.variant = 0"""


def load(held: Sequence[Capture]) -> dict[str, AskedAnswer] | None:
    """Return what each address gave to a plain GET; where several captures asked it, the last of them holds."""
    found: dict[str, AskedAnswer] = {}
    for capture in sorted(held, key=lambda one: one.pk):
        with plans.by_key(), connection.cursor() as cursor:
            cursor.execute(_SQL, {"capture": capture.pk, "move": capture.move_id})
            for text, status, to in cursor.fetchall():
                found[text] = AskedAnswer(-1 if status is None else status, to or "")
    return found or None

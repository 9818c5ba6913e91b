"""Loads how the addresses of a capture became known, and what its sitemaps say of them."""

import logging

import numpy as np
from django.db import connection

from palinode.core.checks.looked import NO_DAY, KnownAddresses
from palinode.core.columns import find
from palinode.core.scope import AskedFor
from palinode.records import column_files, plans
from palinode.records.models import Capture
from palinode.work import evidence, read_sitemaps, readers, scopes
from palinode.work.readers import Unreadable

log = logging.getLogger(__name__)

_MOST = 2_000
"""Sitemaps of a capture that are read."""
_SQL = f"""SELECT d.text, a.body FROM records_frontier f
    CROSS JOIN LATERAL (SELECT * FROM records_answer WHERE capture_id = f.capture_id AND ident = f.ident LIMIT 1) a
    {plans.ADDRESS} WHERE f.capture_id = %(capture)s AND f.asked_for = %(asked_for)s AND a.status = 200
    ORDER BY d.text LIMIT {_MOST + 1}"""


def load(capture: Capture) -> KnownAddresses:
    """Return how the addresses of a capture of pages became known."""
    kept = column_files.of(capture)
    return KnownAddresses(kept.ident, kept.known, _modified(capture, kept.ident))


def _modified(capture: Capture, idents: np.ndarray) -> np.ndarray | None:
    """Return the days that sitemaps tell of the addresses of a capture; None if one of them cannot be read."""
    with plans.by_key(), connection.cursor() as cursor:
        values = {"capture": capture.pk, "move": capture.move_id, "asked_for": int(AskedFor.SITEMAP)}
        cursor.execute(_SQL, values)
        answers = cursor.fetchall()
    if len(answers) > _MOST:
        return None
    scope = scopes.of_capture(capture)
    modified = np.full(len(idents), NO_DAY, np.int32)
    for address, body in answers:
        at = evidence.body_at(capture.move_id, bytes(body)) if body is not None else None
        if at is None:
            return None
        try:
            named, days = readers.ours().run(read_sitemaps.modified, at, address, scope)
        except (FileNotFoundError, Unreadable, ValueError):
            log.exception("the sitemap %s of capture %s cannot be read again", address, capture.pk)
            return None
        places = find(idents, named)
        modified[places[places >= 0]] = days[places >= 0]
    return modified

"""Loads the answers of a capture that are no pages."""

import numpy as np

from palinode.core.answers import FileAnswers
from palinode.core.scope import AskedFor
from palinode.records import bulk_copy, column_files, plans
from palinode.records.models import Capture

_SELECT = {
    "ident": "i8", "text": "text", "status": "i2", "reason": "text", "media_type": "text", "length": "i8",
    "body": "i8", "target": "i8", "asking": "i4",
}  # fmt: skip
_FILES = """SELECT a.ident, d.text, a.status, replace(a.reason, E'\\n', ' ') AS reason, a.media_type, a.length,
    ('x' || encode(substr(a.body, 1, 8), 'hex'))::bit(64)::bigint AS body, a.target, t.pages AS asking
    FROM records_answer a JOIN records_address d ON d.move_id = %(move)s AND d.ident = a.ident
    LEFT JOIN records_frontier f ON f.capture_id = %(capture)s AND f.ident = a.ident
    LEFT JOIN records_target t ON t.capture_id = %(capture)s AND t.ident = a.ident
    WHERE a.capture_id = %(capture)s AND NOT a.is_page AND coalesce(f.asked_for, 1) <= %(file)s ORDER BY a.ident"""


def load(capture: Capture) -> FileAnswers:
    """Return the answers of a capture that are no pages, but for sitemaps, robots rules and made-up addresses."""
    values: dict[str, object] = {"move": capture.move_id, "capture": capture.pk, "file": int(AskedFor.FILE)}
    kept = column_files.of(capture)
    with plans.whole():
        found = bulk_copy.columns_out(_SELECT, _FILES, values)
    return FileAnswers(
        **{
            name: found[name]
            for name in ("ident", "text", "status", "reason", "media_type", "length", "body", "target")
        },
        asking=found["asking"].astype(np.int32),
        pages=kept.ident[kept.is_page],
    )

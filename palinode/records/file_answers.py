"""Loads the answers of a capture that are no pages."""

from typing import Any

import numpy as np

from palinode.core.answers import FileAnswers
from palinode.core.scope import AskedFor
from palinode.records import column_files
from palinode.records.models import Capture


def load(capture: Capture) -> FileAnswers:
    """Return the answers of a capture that are no pages, but for sitemaps, robots rules and made-up addresses."""
    kept = column_files.of(capture)
    rows = np.flatnonzero(~kept.is_page & (kept.asked_for <= AskedFor.FILE))
    texts: dict[str, Any] = {name: kept.lines(name).at(rows) for name in ("text", "reason", "media_type")}
    numbers = {name: getattr(kept, name)[rows] for name in ("ident", "status", "length", "body", "target")}
    return FileAnswers(
        **texts,
        **numbers,
        asking=np.diff(kept.asked_offsets)[rows].astype(np.int32),
        pages=kept.ident[kept.is_page],
    )

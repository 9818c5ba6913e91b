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

    def asked_by(place: int) -> np.ndarray:
        first, end = kept.asked_offsets[rows[place]], kept.asked_offsets[rows[place] + 1]
        found: np.ndarray = kept.ident[kept.asked_by[first:end]]
        return found

    return FileAnswers(
        **texts,
        **numbers,
        asking=np.diff(kept.asked_offsets)[rows].astype(np.int32),
        asked_by=asked_by,
        pages=kept.ident[kept.is_page],
    )

"""The columns of a closed capture, written once as arrays that every comparison maps into memory.

They lie beside the evidence as NumPy files (NEP 1), follow from the capture's answers and facts alone, and are made
anew where one is missing or of an older version.
"""

import io
import logging
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from django.core.files.base import ContentFile
from django.db import connection

from palinode.core.columns import offsets, referred
from palinode.records import bulk_copy, plans
from palinode.records.disk import DiskFull
from palinode.records.folder import Folder
from palinode.records.models import Capture

log = logging.getLogger(__name__)
VERSION = 1
_NAMES = (
    "ident", "status", "is_page", "target", "noindex", "recognised", "whole", "edge_sum", "template", "offsets",
    "refers", "places", "elsewhere", "text", "title", "reason", "elsewhere_text",
)  # fmt: skip
_SELECT = {
    "ident": "i8", "status": "i2", "is_page": "bool", "target": "i8", "reason": "text", "text": "text", "title": "text",
    "noindex": "bool", "recognised": "i2", "whole": "i8", "edge_sum": "i8", "template": "i8", "size": "i4",
    "targets": "bytes", "places": "bytes",
}  # fmt: skip
_SQL = """SELECT a.ident, a.status, a.is_page, a.target, replace(a.reason, E'\\n', ' ') AS reason, d.text,
    replace(f.title, E'\\n', ' ') AS title, coalesce(f.robots LIKE '%%noindex%%', false) AS noindex,
    coalesce(f.recognised, 0::int2) AS recognised, f.whole, f.edge_sum, f.template, coalesce(f.compared, 0) AS size,
    substr(f.targets, 1, 8 * f.compared) AS targets, substr(f.places, 1, f.compared) AS places
    FROM records_answer a JOIN records_address d ON d.move_id = %(move)s AND d.ident = a.ident
    LEFT JOIN records_facts f ON f.move_id = %(move)s AND f.key = a.facts
    WHERE a.capture_id = %(capture)s ORDER BY a.ident"""


@dataclass(frozen=True)
class CaptureColumns:
    """n answers of a capture in order of their identities, with what pages are told alike by; shape (n,)."""

    ident: np.ndarray
    """int64, ascending."""
    status: np.ndarray
    """int16; -1 where nothing was fetched."""
    is_page: np.ndarray
    target: np.ndarray
    noindex: np.ndarray
    recognised: np.ndarray
    whole: np.ndarray
    edge_sum: np.ndarray
    template: np.ndarray
    offsets: np.ndarray
    """int64 (n + 1,): cuts ``refers`` and ``places`` into those of each answer."""
    refers: np.ndarray
    """int32: for each reference in a compared field the row that it leads to; n and more for one of ``elsewhere``."""
    places: np.ndarray
    """uint8: where each reference stands (core/fields.py)."""
    elsewhere: np.ndarray
    """int64: identities that are referred to and were not asked, ascending."""
    text: np.ndarray
    """uint8: the addresses in UTF-8, one a line; so are the next three."""
    title: np.ndarray
    reason: np.ndarray
    elsewhere_text: np.ndarray

    @cached_property
    def targets(self) -> np.ndarray:
        """int64: the identity that each reference leads to."""
        found: np.ndarray = np.concatenate([self.ident, self.elsewhere])[self.refers]
        return found


def lines(column: np.ndarray, number: int) -> list[str]:
    """Return the texts of a column of lines, of which there are so many."""
    return column.tobytes().decode().split("\n") if number else []


def of(capture: Capture) -> CaptureColumns:
    """Return the columns of a capture; those of a closed one are kept."""
    folder, names = Folder(capture.move_id), _names(capture)
    try:
        return CaptureColumns(**{name: folder.array(names[name]) for name in _NAMES})
    except (FileNotFoundError, EOFError, ValueError):
        # Not there, of another version, or just being written by another worker.
        made = _made(capture)
    if capture.state == Capture.State.CLOSED:
        _keep(folder, names, made)
    return made


def names(captures: list[Capture]) -> set[str]:
    """Return the names of the files that some captures have, or would have."""
    return {name for capture in captures for name in _names(capture).values()}


def _names(capture: Capture) -> dict[str, str]:
    where = f"{Folder(capture.move_id).name}/columns/{capture.pk}-{VERSION}-{capture.readings}"
    return {name: f"{where}/{name}.npy" for name in _NAMES}


def _keep(folder: Folder, names: dict[str, str], made: CaptureColumns) -> None:
    """Store the columns; without room for them they are made again each time."""
    try:
        for name, path in names.items():
            file = io.BytesIO()
            np.save(file, getattr(made, name))
            folder.delete(path)
            folder.save(path.removeprefix(f"{folder.name}/"), ContentFile(file.getvalue()))
    except (OSError, DiskFull):
        log.warning("columns could not be kept", exc_info=True)


def _made(capture: Capture) -> CaptureColumns:
    values: dict[str, object] = {"move": capture.move_id, "capture": capture.pk}
    with plans.whole(), connection.cursor() as cursor:
        # A whole capture is read block by block, which takes two thirds of the time of row by row.
        cursor.execute("SET LOCAL enable_indexscan = off")
        found = bulk_copy.columns_out(_SELECT, _SQL, values)
    targets = np.frombuffer(found["targets"], "<i8")
    refers, elsewhere = referred(found["ident"], targets)
    return CaptureColumns(
        **{name: found[name] for name in _NAMES[:9]},
        offsets=offsets(found["size"]),
        refers=refers.astype(np.int32),
        places=np.frombuffer(found["places"], np.uint8),
        elsewhere=elsewhere,
        **{name: _joined(found[name]) for name in ("text", "title", "reason")},
        elsewhere_text=_joined(_texts(capture, elsewhere)),
    )


def _joined(texts: list[str]) -> np.ndarray:
    return np.frombuffer("\n".join(texts).encode(), np.uint8)


def _texts(capture: Capture, idents: np.ndarray) -> list[str]:
    """Return the texts of ascending identities, in their order.

    Raises ValueError if one is not kept, which cannot be while rows are written as they are.
    """
    found = bulk_copy.columns_out(
        {"ident": "i8", "text": "text"},
        "SELECT ident, text FROM records_address WHERE move_id = %(move)s AND ident = ANY(%(idents)s) ORDER BY ident",
        {"move": capture.move_id, "idents": idents.tolist()},
    )
    if len(found["text"]) != len(idents):
        raise ValueError("The text of an address is missing. Read the capture again.")
    texts: list[str] = found["text"]
    return texts

"""The links of a closed capture, written once as arrays that every comparison maps into memory."""

import numpy as np
from django.db import connection

from palinode.core.columns import References, offsets
from palinode.core.links import Links
from palinode.records import array_files, bulk_copy, column_files, plans
from palinode.records.column_files import CaptureColumns
from palinode.records.lines import Lines
from palinode.records.models import Capture

VERSION = 1
_NAMES = ("elsewhere", "elsewhere_text", "offsets", "to", "place")
_TOGETHER = 1_000
_FROM = """FROM records_answer a JOIN records_facts f ON f.move_id = %(move)s AND f.key = a.facts
    WHERE a.capture_id = %(capture)s AND a.is_page AND a.status = 200"""


def of(capture: Capture) -> Links:
    """Return the links of a capture; those of a closed one are kept."""
    kept, name = column_files.of(capture), _name_of(capture)
    found = array_files.read(capture.move_id, name, _NAMES)
    if found is None:
        found = _made(capture, kept.ident)
        if capture.state == Capture.State.CLOSED:
            array_files.keep(capture.move_id, name, found)
    return _links(kept, found)


def names(captures: list[Capture]) -> set[str]:
    """Return the names of the files that some captures have, or would have."""
    return {name for one in captures for name in array_files.names(one.move_id, _name_of(one), _NAMES).values()}


def _name_of(capture: Capture) -> str:
    return f"{column_files.name_of(capture)}-links-{VERSION}"


def _links(kept: CaptureColumns, found: dict[str, np.ndarray]) -> Links:
    n = len(kept.ident)
    further = Lines(found["elsewhere_text"], len(found["elsewhere"]))

    def texts(numbers: np.ndarray) -> list[str]:
        answers = numbers < n
        told = np.empty(len(numbers), object)
        told[answers] = kept.lines("text").at(numbers[answers])
        told[~answers] = further.at(numbers[~answers] - n)
        return told.tolist()

    arrays = {name: found[name] for name in ("elsewhere", "offsets", "to", "place")}
    return Links(
        ident=kept.ident,
        status=kept.status,
        is_page=kept.is_page,
        target=kept.target,
        known=kept.known,
        texts=texts,
        reasons=kept.lines("reason").at,
        **arrays,
    )


def _made(capture: Capture, ident: np.ndarray) -> dict[str, np.ndarray]:
    values = {"move": capture.move_id, "capture": capture.pk}
    with plans.whole(), connection.cursor() as cursor:
        cursor.execute(f"SELECT coalesce(sum(length(f.places)), 0) {_FROM}", values)
        (number,) = cursor.fetchone()
    references, places = References(ident, int(number)), [b""]
    sizes = np.zeros(len(ident), np.int64)
    sql = f"SELECT a.ident, f.targets, f.places {_FROM} ORDER BY a.ident"
    with plans.whole(), bulk_copy.stream(sql, values, _TOGETHER) as batches:
        for batch in batches:
            idents, targets, found = zip(*batch, strict=True)
            sizes[np.searchsorted(ident, np.array(idents, np.int64))] = [len(one) for one in found]
            references.add(np.frombuffer(b"".join(targets), "<i8"))
            places.append(b"".join(found))
    to, elsewhere = references.made()
    return {
        "elsewhere": elsewhere,
        "elsewhere_text": column_files.texts_of(capture, elsewhere),
        "offsets": offsets(sizes),
        "to": to,
        "place": np.frombuffer(b"".join(places), np.uint8),
    }

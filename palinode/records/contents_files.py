"""What site files hold in arrays, stored beside the evidence: it follows from them, and is made anew where it lacks."""

from collections.abc import Mapping, Sequence

import numpy as np

from palinode.core import site_contents
from palinode.records import array_files
from palinode.records.models import Capture, CaptureFile


def keep(capture: Capture, arrays: Mapping[str, np.ndarray]) -> None:
    """Store the arrays of a capture that was made of a site file."""
    array_files.keep(capture.move_id, _name_of(capture), arrays)


def read(file: CaptureFile) -> dict[str, np.ndarray] | None:
    """Return the arrays of a capture; None where they, or what was kept beside them, are to be made anew."""
    if file.contents.get("version") != site_contents.VERSION:
        return None
    return array_files.read(file.capture.move_id, _name_of(file.capture), file.contents["arrays"])


def names(captures: Sequence[Capture]) -> set[str]:
    """Return the names of the files that some captures have, or would have."""
    kept = CaptureFile.objects.filter(capture__in=captures).values_list("capture_id", "contents__arrays")
    arrays = dict(kept)
    return {
        name
        for one in captures
        for name in array_files.names(one.move_id, _name_of(one), arrays.get(one.pk) or ()).values()
    }


def _name_of(capture: Capture) -> str:
    return f"{capture.pk}-contents-{site_contents.VERSION}"

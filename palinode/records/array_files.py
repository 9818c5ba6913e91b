"""Arrays that follow from what is kept, stored beside the evidence as NumPy files (NEP 1) and mapped into memory."""

import io
import logging
from collections.abc import Callable, Mapping, Sequence

import numpy as np
from django.core.files.base import ContentFile

from palinode.records.disk import DiskFull
from palinode.records.folder import Folder

log = logging.getLogger(__name__)


def names(move: int, what: str, arrays: Sequence[str]) -> dict[str, str]:
    """Return the stored name of each array of a set."""
    return {name: f"{Folder(move).name}/columns/{what}/{name}.npy" for name in arrays}


def read(move: int, what: str, arrays: Sequence[str]) -> dict[str, np.ndarray] | None:
    """Return the arrays of a set; None where one is missing, not whole, or just being written by another worker."""
    folder = Folder(move)
    try:
        return {name: folder.array(stored) for name, stored in names(move, what, arrays).items()}
    except (FileNotFoundError, EOFError, ValueError):
        return None


def once(
    move: int, what: str, arrays: Sequence[str], make: Callable[[], Mapping[str, np.ndarray]]
) -> Mapping[str, np.ndarray]:
    """Return the arrays of a set as they are kept; where they are not there they are made, and kept."""
    found: Mapping[str, np.ndarray] | None = read(move, what, arrays)
    if found is None:
        found = make()
        keep(move, what, found)
    return found


def keep(move: int, what: str, made: Mapping[str, np.ndarray]) -> None:
    """Store the arrays of a set; without room for them they are made again each time."""
    folder = Folder(move)
    try:
        for name, stored in names(move, what, list(made)).items():
            file = io.BytesIO()
            np.save(file, made[name])
            folder.delete(stored)
            folder.save(stored.removeprefix(f"{folder.name}/"), ContentFile(file.getvalue()))
    except (OSError, DiskFull):
        log.warning("arrays could not be kept", exc_info=True)

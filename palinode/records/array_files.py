"""Arrays that follow from what is kept, stored beside the evidence as NumPy files (NEP 1) and mapped into memory."""

import io
import logging
from collections.abc import Mapping, Sequence

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


def lines(column: np.ndarray, number: int) -> list[str]:
    """Return the texts of a column of lines (uint8, UTF-8), of which there are so many."""
    return column.tobytes().decode().split("\n") if number else []


def lines_at(column: np.ndarray, rows: np.ndarray) -> list[str]:
    """Return the texts of some rows (ascending or not) of a column of lines, without reading the others as text."""
    if not len(rows):
        return []
    ends = np.append(np.flatnonzero(column == ord("\n")), len(column))
    starts = np.concatenate([np.zeros(1, np.int64), ends[:-1] + 1])
    data = column.tobytes()
    cuts = zip(starts[rows].tolist(), ends[rows].tolist(), strict=True)
    return [data[start:end].decode() for start, end in cuts]


def filled(column: np.ndarray) -> dict[int, str]:
    """Return the texts of a column of lines that are not empty, by their rows."""
    ends = np.append(np.flatnonzero(column == ord("\n")), len(column))
    rows = np.flatnonzero(np.diff(ends, prepend=-1) > 1)
    return dict(zip(rows.tolist(), lines_at(column, rows), strict=True))


def as_lines(texts: Sequence[str]) -> np.ndarray:
    """Return texts without line ends as a column of lines."""
    return np.frombuffer("\n".join(texts).encode(), np.uint8)

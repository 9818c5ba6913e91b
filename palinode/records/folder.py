"""The folder of one move in the evidence storage: the only way to its files, and to no other's.

A name that a row holds is never believed: what does not lie below the move's own folder is not there.
"""

import io
from datetime import datetime
from pathlib import PurePosixPath

import numpy as np
from django.core.files.base import File
from django.core.files.storage import Storage, storages
from django.utils import timezone


class Elsewhere(FileNotFoundError):
    """A name leads out of the folder of its move; nothing is opened or deleted."""


class Folder:
    """The stored files of a move. Names are those of the storage, with the folder's own at their beginning."""

    def __init__(self, move: int) -> None:
        self.name = f"move-{int(move)}"

    def save(self, path: str, content: "File[bytes]") -> str:
        """Store a file at a path below the folder; return its name. A name that is taken is made another."""
        return self._storage.save(self._ours(f"{self.name}/{path}"), content)

    def open(self, name: str) -> "File[bytes]":
        """Open a stored file for reading. Raises FileNotFoundError if it is not there, or is not the move's."""
        return self._storage.open(self._ours(name))

    def array(self, name: str) -> np.ndarray:
        """Return a stored NumPy file, mapped into memory where the storage lies on a disk of this machine.

        Raises FileNotFoundError if it is not there, and EOFError or ValueError if it is none, or not whole.
        """
        try:
            found: np.ndarray = np.load(self._storage.path(self._ours(name)), mmap_mode="r", allow_pickle=False)
        except NotImplementedError:
            with self.open(name) as file:
                found = np.load(io.BytesIO(file.read()), allow_pickle=False)
        return found

    def exists(self, name: str) -> bool:
        """Whether a stored file is there and is the move's."""
        return self._is_ours(name) and self._storage.exists(name)

    def delete(self, name: str) -> None:
        """Delete a stored file; one that is not there is gone already, and another move's stays."""
        if self._is_ours(name):
            self._storage.delete(name)

    def stored_at(self, name: str) -> datetime:
        """Return when a file was stored; now, if it is gone meanwhile."""
        try:
            return self._storage.get_modified_time(self._ours(name))
        except FileNotFoundError:
            return timezone.now()

    def names(self) -> list[str]:
        """Return the names of all files of the folder."""
        return _below(self._storage, self.name)

    def clear(self) -> None:
        """Delete the folder with all that is in it."""
        for name in self.names():
            self._storage.delete(name)
        _delete_folders(self._storage, self.name)

    @property
    def _storage(self) -> Storage:
        return storages["evidence"]

    def _is_ours(self, name: str) -> bool:
        parts = PurePosixPath(name).parts
        return len(parts) > 1 and parts[0] == self.name and ".." not in parts and "\0" not in name

    def _ours(self, name: str) -> str:
        if not self._is_ours(name):
            raise Elsewhere(f"{name[:100]!r} does not lie in {self.name}")
        return name


def moves() -> list[int]:
    """Return the numbers of the moves that have a folder."""
    try:
        folders, _ = storages["evidence"].listdir("")
    except FileNotFoundError:
        return []
    return [int(one[5:]) for one in folders if one.startswith("move-") and one[5:].isdecimal()]


def _below(storage: Storage, name: str) -> list[str]:
    try:
        folders, files = storage.listdir(name)
    except FileNotFoundError:
        return []
    found = [f"{name}/{file}" for file in files]
    for folder in folders:
        found += _below(storage, f"{name}/{folder}")
    return found


def _delete_folders(storage: Storage, name: str) -> None:
    """Delete empty folders; a storage that has none does not mind."""
    try:
        folders, _ = storage.listdir(name)
    except FileNotFoundError:
        return
    for folder in folders:
        _delete_folders(storage, f"{name}/{folder}")
    try:
        storage.delete(name)
    except OSError:
        # Something was stored there meanwhile; the sweep of the night finds it.
        return

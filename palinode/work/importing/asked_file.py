"""What was asked of a side, kept as the file of an import while it comes."""

import hashlib
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager

from django.core.files.base import File

from palinode.records import disk
from palinode.records.folder import Folder
from palinode.records.models import Import
from palinode.work.importing.import_progress import ImportProgress

_MEGABYTE = 1_000_000
_IN_MEMORY = 8_000_000


class AskedFile:
    """A file that is being written, outside the evidence until it is whole."""

    def __init__(self, progress: ImportProgress) -> None:
        self._progress = progress
        self._digest = hashlib.sha256()
        self._file = tempfile.SpooledTemporaryFile(_IN_MEMORY)  # noqa: SIM115 (closed by writing)

    def write(self, data: bytes) -> None:
        """Add to it."""
        self._digest.update(data)
        self._file.write(data)

    def count(self, size: int) -> None:
        """Note that so many bytes were read. Raises ImportRefused for one that was stopped, and DiskFull."""
        self._progress.read = size // _MEGABYTE
        self._progress.mind()
        disk.mind()

    def keep(self, imported: Import) -> None:
        """Store it; the import names it then."""
        digest = self._digest.hexdigest()
        imported.bytes, imported.sha256 = self._file.tell(), digest
        self._file.seek(0)
        imported.stored = Folder(imported.move_id).save(f"imports/{digest[:16]}", File(self._file))
        imported.save(update_fields=["bytes", "sha256", "stored"])

    def close(self) -> None:
        """Delete what is not stored."""
        self._file.close()


@contextmanager
def writing(imported: Import, progress: ImportProgress) -> Iterator[AskedFile]:
    """Give a file to write to, which is stored when all went well, and nothing of it otherwise."""
    file = AskedFile(progress)
    try:
        yield file
        file.keep(imported)
    finally:
        file.close()

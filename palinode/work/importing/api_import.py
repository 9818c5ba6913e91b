"""Asks the public API of a side, and keeps what it says as the file of an import."""

import asyncio
import hashlib
import tempfile
from contextlib import closing
from typing import IO

from django.core.files.base import File

from palinode.gather import platform_api
from palinode.records import disk
from palinode.records.folder import Folder
from palinode.records.models import Import
from palinode.work import side_access
from palinode.work.importing import json_mappings
from palinode.work.importing.import_progress import ImportProgress

_MEGABYTE = 1_000_000
_IN_MEMORY = 8_000_000


def fetch(imported: Import, progress: ImportProgress) -> None:
    """Ask the API, and store what it says; the import names the file then.

    Raises ApiRefusedError, ImportRefused and DiskFull; then nothing is stored.
    """
    with closing(tempfile.SpooledTemporaryFile(_IN_MEMORY)) as file:
        digest = asyncio.run(_fetched(imported, progress, file))
        imported.bytes, imported.sha256 = file.tell(), digest
        file.seek(0)
        imported.stored = Folder(imported.move_id).save(f"imports/{digest[:16]}", File(file))
    imported.save(update_fields=["bytes", "sha256", "stored"])


async def _fetched(imported: Import, progress: ImportProgress, file: IO[bytes]) -> str:
    access, _ = await asyncio.to_thread(side_access.side_of, imported.move, imported.which)
    digest = hashlib.sha256()

    def count(size: int) -> None:
        progress.read = size // _MEGABYTE
        progress.mind()
        disk.mind()

    mappings = await asyncio.to_thread(json_mappings.of, imported.move)
    async for line in platform_api.lines(access, side_access.guard(), side_access.agent(), mappings, count):
        digest.update(line)
        file.write(line)
    return digest.hexdigest()

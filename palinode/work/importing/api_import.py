"""Asks the public APIs of a side, and keeps what they say as the file of an import."""

import asyncio
import hashlib
import tempfile
from collections.abc import Sequence
from contextlib import closing
from typing import IO

from django.core.files.base import File

from palinode.core.exports.json_listing import JsonMapping
from palinode.gather import platform_api
from palinode.gather.access import Access
from palinode.records import disk
from palinode.records.folder import Folder
from palinode.records.models import Import
from palinode.work import side_access
from palinode.work.importing import json_mappings
from palinode.work.importing.import_progress import ImportProgress

_MEGABYTE = 1_000_000
_IN_MEMORY = 8_000_000


def fetch(imported: Import, progress: ImportProgress) -> None:
    """Ask the APIs, and store what they say; the import names the file then.

    Raises ApiRefusedError, ImportRefused and DiskFull; then nothing is stored.
    """
    access, _ = side_access.side_of(imported.move, imported.which)
    mappings = json_mappings.of(imported.move)
    with closing(tempfile.SpooledTemporaryFile(_IN_MEMORY)) as file:
        digest = asyncio.run(_fetched(access, mappings, progress, file))
        imported.bytes, imported.sha256 = file.tell(), digest
        file.seek(0)
        imported.stored = Folder(imported.move_id).save(f"imports/{digest[:16]}", File(file))
    imported.save(update_fields=["bytes", "sha256", "stored"])


async def _fetched(access: Access, mappings: Sequence[JsonMapping], progress: ImportProgress, file: IO[bytes]) -> str:
    digest = hashlib.sha256()

    def count(size: int) -> None:
        progress.read = size // _MEGABYTE
        progress.mind()
        disk.mind()

    async for line in platform_api.lines(access, side_access.guard(), side_access.agent(), mappings, count):
        digest.update(line)
        file.write(line)
    return digest.hexdigest()

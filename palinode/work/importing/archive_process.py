"""An archive imported by a process of its own, so that the web server never reads what a stranger wrote."""

from typing import BinaryIO

import django
from django.conf import settings
from django.db import connection

from palinode.work import readers
from palinode.work.importing import on_disk

_SECONDS = 120.0
_BYTES_A_SECOND = 4_000_000
"""That an archive is read with at least, besides."""


def import_move(file: BinaryIO, name: str, size: int, owner: int) -> int:
    """Make a move of an archive of so many bytes for the account of this number; return the move's.

    Raises ArchiveRefused, and Unreadable if it takes too long.
    """
    seconds = _SECONDS + size / _BYTES_A_SECOND
    database = str(connection.settings_dict["NAME"])
    with on_disk.path_of(file) as path, readers.Readers(1) as one:
        return one.run_for(seconds, _import, database, path, name, owner)


def _import(database: str, path: str, name: str, owner: int) -> int:
    """Import it; run in a process that begins without Django set up."""
    settings.DATABASES["default"]["NAME"] = database
    django.setup()
    from django.contrib.auth.models import User

    from palinode.work.importing import archives

    with open(path, "rb") as file:
        return archives.import_move(file, name, User.objects.get(pk=owner)).pk

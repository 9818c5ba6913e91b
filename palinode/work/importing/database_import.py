"""Reads the live database of a side, and keeps it as the file of an import: a dump, packed by gzip."""

from typing import Any

from django.conf import settings
from isal import isal_zlib

from palinode.gather.databases import live
from palinode.gather.databases.account import Account, Server
from palinode.records.models import DatabaseSignIn, Import
from palinode.work import readers, side_access
from palinode.work.importing import asked_file
from palinode.work.importing.import_progress import ImportProgress, ImportRefused

_GZIP = 31
"""Window bits that stand for gzip's own head and end."""


def fetch(imported: Import, progress: ImportProgress) -> None:
    """Read the database, and store it; the import names the file then.

    Raises DatabaseRefusedError, Unreadable, ImportRefused and DiskFull; then nothing is stored.
    """
    sign_in = DatabaseSignIn.objects.filter(imported=imported).first()
    if sign_in is None:
        raise ImportRefused("with what the database is reached is not known any more; type it again")
    packer, taken = isal_zlib.compressobj(wbits=_GZIP), 0
    with asked_file.writing(imported, progress) as file:
        # In a process of its own: what a server sends is no more to be trusted than what a site does.
        for piece in readers.stream(None, live.pieces, _account(sign_in), list(settings.PALINODE_ALLOW_NETWORKS)):
            taken += len(piece)
            file.write(packer.compress(piece))
            file.count(taken)
        file.write(packer.flush())


def sign_in_with(imported: Import, account: Account) -> None:
    """Note with what the database of an import is reached."""
    DatabaseSignIn.objects.create(
        imported=imported,
        server=account.server,
        host=account.host,
        port=account.port,
        database=account.database,
        user_name=account.user_name,
        password=account.password,
        certified=account.certified,
    )


def forget(imported: Import) -> None:
    """Forget with what the database of an import was reached."""
    DatabaseSignIn.objects.filter(imported=imported).delete()


def _account(sign_in: DatabaseSignIn) -> Account:
    told: dict[str, Any] = {
        name: getattr(sign_in, name) for name in ("host", "port", "database", "user_name", "password", "certified")
    }
    return Account(Server(sign_in.server), authorities=side_access.authorities(), **told)

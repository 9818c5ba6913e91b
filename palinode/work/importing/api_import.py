"""Asks the public APIs of a side, and keeps what they say as the file of an import."""

import asyncio
from collections.abc import Sequence
from dataclasses import replace

from palinode.core.exports.json_listing import JsonMapping
from palinode.gather import platform_api
from palinode.gather.access import Access, Credentials
from palinode.records.models import ApiSignIn, Import
from palinode.work import side_access
from palinode.work.importing import asked_file, json_mappings
from palinode.work.importing.asked_file import AskedFile
from palinode.work.importing.import_progress import ImportProgress, ImportRefused


def fetch(imported: Import, progress: ImportProgress) -> None:
    """Ask the APIs, and store what they say; the import names the file then.

    Raises ApiRefusedError, ImportRefused and DiskFull; then nothing is stored.
    """
    access, _ = side_access.side_of(imported.move, imported.which)
    sign_in = ApiSignIn.objects.filter(imported=imported).first()
    if sign_in is not None:
        if sign_in.reached != reached(access):
            raise ImportRefused("the side was described anew since the password was typed; type it again")
        access = replace(access, credentials=(_credentials(access, sign_in),))
    mappings = json_mappings.of(imported.move)
    with asked_file.writing(imported, progress) as file:
        asyncio.run(_fetched(access, mappings, sign_in is not None, file))


def sign_in_with(imported: Import, user_name: str, password: str) -> None:
    """Note the account with which an import is to be made. Raises ImportRefused where none can be sent."""
    access, _ = side_access.side_of(imported.move, imported.which)
    ours = access.credentials_for(access.base)
    if ours and ours.user_name:
        raise ImportRefused(
            "This side is behind a user name and password of its own, and a request carries one of them only. Open the "
            "folder wp-json for this machine, or leave both empty."
        )
    ApiSignIn.objects.create(imported=imported, user_name=user_name, password=password, reached=reached(access))


def forget(imported: Import) -> None:
    """Forget the account with which an import was made."""
    ApiSignIn.objects.filter(imported=imported).delete()


def reached(access: Access) -> dict[str, object]:
    """Return how a side is reached, by which an account that was typed for it is sent there and nowhere else."""
    return side_access.told(access, honours=True)


def _credentials(access: Access, sign_in: ApiSignIn) -> Credentials:
    """Return what lets us in at the API: the account, beside what lets us in at the side's main host."""
    ours = access.credentials_for(access.base) or Credentials(access.base)
    return replace(ours, user_name=sign_in.user_name, password=sign_in.password, sign_in="basic")


async def _fetched(access: Access, mappings: Sequence[JsonMapping], signed_in: bool, file: AskedFile) -> None:
    agent = side_access.agent()
    async for line in platform_api.lines(access, side_access.guard(), agent, mappings, signed_in, file.count):
        file.write(line)

"""Captures made of files that a person imports: a WARC file made elsewhere, an archive of static pages, a site file.

All of a file becomes one, or nothing with the reason.
"""

import hashlib
import io
from typing import BinaryIO

from django.contrib.auth.models import User
from django.core.files.base import File
from django.db import transaction
from django.utils import timezone

from palinode.core import address as addresses
from palinode.core.exports import typed_numbers
from palinode.core.exports.typed_numbers import NumbersError
from palinode.gather import pages
from palinode.gather.databases.account import Account, DatabaseRefusedError
from palinode.gather.packed import PackedError
from palinode.gather.platform_api import ApiRefusedError
from palinode.gather.site_files import NotSiteFileError
from palinode.gather.warc import reader
from palinode.gather.warc.reader import Damaged
from palinode.records import disk, plans
from palinode.records.folder import Folder
from palinode.records.models import Capture, Import, Move
from palinode.work import job_queue, readers, side_access
from palinode.work.importing import (
    api_import,
    containers,
    database_import,
    page_import,
    site_file_import,
    site_file_reading,
)
from palinode.work.importing.import_progress import ImportProgress, ImportRefused
from palinode.work.readers import Unreadable

__all__ = ["IMPORT", "ImportRefused", "order", "order_api", "order_database", "read", "stop", "take_up"]

IMPORT = "import_capture"
"""Name of the task that reads an import (tasks.py)."""
_ASKED = {str(Import.Kind.API): api_import.fetch, str(Import.Kind.DUMP): database_import.fetch}
"""What asks for the file of an import that has none yet."""


def order(move: Move, which: str, file: BinaryIO, name: str, author: User, listed: bool = False) -> Import:
    """Keep a file, and order that it be read as a capture of a side.

    ``listed``: of an archive only the list of its files is wanted. Raises ImportRefused for a file that becomes none,
    and where there is no room for it.
    """
    if shortage := disk.shortage():
        raise ImportRefused(shortage)
    packed = _is_zip(file)
    kind = "" if packed or not _is_warc(file, name) else str(Import.Kind.WARC)
    digest, size = hashlib.sha256(), 0
    while chunk := file.read(1 << 20):
        digest.update(chunk)
        size += len(chunk)
    file.seek(0)
    stored = Folder(move.pk).save(f"imports/{digest.hexdigest()[:16]}", File(file))
    wanted = str(Import.Kind.LISTING) if listed else ""
    kind = kind or _site_file_kind(move, stored, name, wanted) or str(Import.Kind.PAGES)
    with transaction.atomic():
        imported = Import.objects.create(
            move=move,
            which=which,
            kind=kind,
            name=name[-255:],
            stored=stored,
            bytes=size,
            sha256=digest.hexdigest(),
            author=author,
        )
        _offer(imported)
    return imported


def order_api(move: Move, which: str, author: User, user_name: str = "", password: str = "") -> Import:
    """Order that the public API of a side be asked, and what it says be kept as a capture.

    ``user_name`` and ``password`` are of an account of WordPress, an application password; they are kept until it was
    asked. Raises ImportRefused where there is no room for it, and where the side is being asked already.
    """
    host = addresses.split(side_access.base(move, which)).host
    with transaction.atomic():
        imported = _asked(move, which, str(Import.Kind.API), f"api-of-{host}.jsonl", author)
        if user_name or password:
            api_import.sign_in_with(imported, user_name, password)
        _offer(imported)
    return imported


def order_database(move: Move, which: str, author: User, account: Account) -> Import:
    """Order that the live database of a side be read, and kept as a capture of its dump.

    The account is kept until it was read. Raises ImportRefused where there is no room for it, and where one of this
    side is being read already.
    """
    with transaction.atomic():
        imported = _asked(move, which, str(Import.Kind.DUMP), f"{account.database}-live.sql.gz", author)
        database_import.sign_in_with(imported, account)
        _offer(imported)
    return imported


def _asked(move: Move, which: str, kind: str, name: str, author: User) -> Import:
    """Return an import whose file is still to be asked for. Raises ImportRefused."""
    if shortage := disk.shortage():
        raise ImportRefused(shortage)
    if move.imports.filter(which=which, kind=kind, stored="", state=Import.State.WAITING).exists():
        raise ImportRefused("This side is being asked already: wait until it is done, or stop that.")
    return Import.objects.create(
        move=move,
        which=which,
        kind=kind,
        name=name[-255:],
        bytes=0,
        sha256=hashlib.sha256().hexdigest(),
        author=author,
    )


def keep_numbers(move: Move, which: str, text: str, author: User) -> Import:
    """Keep numbers that a person typed for a side, as a capture.

    Raises ImportRefused for a table that cannot be read.
    """
    try:
        typed_numbers.read(text)
    except NumbersError as error:
        raise ImportRefused(str(error)) from None
    data = f"{typed_numbers.HEAD}\n{text.strip()}\n".encode()
    return order(move, which, io.BytesIO(data), "numbers.txt", author)


def take_up() -> None:
    """Offer imports again whose reader died."""
    lost = Import.objects.filter(state=Import.State.WAITING, seen_at__lt=job_queue.late(2))
    job_queue.take_up(IMPORT, "import_id", lost.values_list("pk", flat=True), _seen)


def _seen(number: int) -> None:
    Import.objects.filter(pk=number).update(seen_at=timezone.now())


def _offer(imported: Import) -> None:
    job_queue.offer(IMPORT, import_id=imported.pk)


def _is_zip(file: BinaryIO) -> bool:
    first = file.read(4)
    file.seek(0)
    return first == b"PK\x03\x04"


def _is_warc(file: BinaryIO, name: str) -> bool:
    """Whether a file begins like a WARC file. Raises ImportRefused for one that is empty."""
    try:
        if reader.begins(file):
            return True
        raise ImportRefused(f"{name} is empty.")
    except Damaged:
        return False
    finally:
        file.seek(0)


def _site_file_kind(move: Move, stored: str, name: str, wanted: str) -> str:
    """Return which kind of site file a stored one is; empty for pages in a ZIP."""
    try:
        return readers.ours().run(containers.site_file_kind, move.pk, stored, name, wanted)
    except NotSiteFileError:
        said = f"{name} is neither a WARC file nor a ZIP archive of pages, and no dump, export or list of files."
    except PackedError as error:
        said = str(error)
    except Unreadable as error:
        said = f"{name}: what it is {error}. Unpack what is wanted of it, and import that by itself."
    Folder(move.pk).delete(stored)
    raise ImportRefused(said)


def stop(imported: Import, author: User) -> bool:
    """Stop an import that waits or is being read; False where it has ended already. Its reader gives it up."""
    waiting = Import.objects.filter(pk=imported.pk, state=Import.State.WAITING)
    said = f"{imported.name}: stopped by {author.username}. Nothing of it was kept."
    return bool(waiting.update(state=Import.State.FAILED, said=said))


def read(imported: Import) -> None:
    """Make a capture of an import that waits; one that cannot be made says why, and leaves nothing behind."""
    if imported.state != Import.State.WAITING:
        Folder(imported.move_id).delete(imported.stored)
        _forget(imported)
        return
    stored: list[str] = []
    try:
        with ImportProgress(imported).told() as progress:
            if imported.kind in Import.SITE_FILES:
                if not imported.stored:
                    _ASKED[imported.kind](imported, progress)
                found = site_file_import.read(imported, progress)
                with transaction.atomic():
                    _end(imported, *site_file_import.keep(imported, *found))
            else:
                with transaction.atomic():
                    _end(imported, *page_import.read(imported, stored, progress))
    except (
        ApiRefusedError,
        DatabaseRefusedError,
        Damaged,
        pages.ArchiveError,
        ImportRefused,
        Unreadable,
        disk.DiskFull,
        *site_file_reading.ERRORS,
    ) as error:
        _fail(imported, stored, str(error))
    except Exception as error:
        # Whatever it is, trying again would not mend it.
        _fail(imported, stored, f"it could not be read ({type(error).__name__}: {str(error)[:200]})")
        raise
    else:
        plans.analyse()
        if imported.kind not in Import.SITE_FILES:
            Folder(imported.move_id).delete(imported.stored)
    finally:
        _forget(imported)


def _forget(imported: Import) -> None:
    """Forget with what a side was asked."""
    api_import.forget(imported)
    database_import.forget(imported)


def _end(imported: Import, capture: Capture, said: str) -> None:
    """Note the capture that was made of an import, unless that was stopped meanwhile. Raises ImportRefused."""
    waiting = Import.objects.filter(pk=imported.pk, state=Import.State.WAITING)
    if not waiting.update(state=Import.State.DONE, said=said, capture=capture, stored=""):
        raise ImportRefused("stopped")


def _fail(imported: Import, stored: list[str], why: str) -> None:
    """Say why an import failed, and delete what was stored of it; what another reader made a capture of stays."""
    mine = Import.objects.filter(pk=imported.pk)
    if mine.filter(state=Import.State.DONE).exists():
        return
    for name in (*stored, imported.stored):
        Folder(imported.move_id).delete(name)
    mine.update(stored="")
    said = f"{imported.name}: {why}. Nothing of it was kept."
    mine.filter(state=Import.State.WAITING).update(state=Import.State.FAILED, said=said)

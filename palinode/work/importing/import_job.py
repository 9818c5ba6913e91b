"""Captures made of files that a person imports: a WARC file made elsewhere, an archive of static pages, a dump of a
database, an export, a list of files.

Pages are read, stored and judged as if they had just been fetched; all of a file, or nothing with the reason. What
tells of a site from behind it is read, and kept as it is.
"""

import hashlib
import threading
from collections import Counter, deque
from collections.abc import Iterator
from concurrent.futures import Future
from contextlib import contextmanager
from dataclasses import replace
from typing import BinaryIO

from django.conf import settings
from django.contrib.auth.models import User
from django.core.files.base import File
from django.db import connections, transaction
from django.utils import timezone

from palinode.core import address as addresses
from palinode.core.discovery import Discovery
from palinode.core.scope import AskedFor, Scope
from palinode.core.wording import number
from palinode.gather import pages
from palinode.gather.access import Access
from palinode.gather.exchange import Exchange
from palinode.gather.packed import PackedError
from palinode.gather.told_files import NotTold
from palinode.gather.warc import reader
from palinode.gather.warc.reader import Damaged
from palinode.records import capture_sets, captures, disk, frontier, plans
from palinode.records.folder import Folder
from palinode.records.models import Capture, CaptureFile, Import, Move, Share
from palinode.records.rows import Batch, Found, Leased
from palinode.work import evidence, job_queue, readers, side_access
from palinode.work.capturing import capture_end, extraction, sealing
from palinode.work.capturing.extraction import Follows
from palinode.work.capturing.policy import Policy
from palinode.work.importing import containers, media_types, told_contents
from palinode.work.importing.containers import Item
from palinode.work.importing.told_contents import Told
from palinode.work.readers import Readers, Unreadable

IMPORT = "import_capture"
"""Name of the task that reads an import (tasks.py)."""
_TOGETHER = 8
_AHEAD = 8
"""Hand-overs to reading processes at once."""
_BEAT = 1.0
_NO_BODY = "its body is not in the file"


class ImportRefused(ValueError):
    """A file cannot be imported; the message is for a person."""


def order(move: Move, which: str, file: BinaryIO, name: str, author: User) -> Import:
    """Keep a file, and order that it be read as a capture of a side.

    Raises ImportRefused for a file that becomes none, and where there is no room for it.
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
    kind = kind or _told_kind(move, stored, name) or str(Import.Kind.PAGES)
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


def _told_kind(move: Move, stored: str, name: str) -> str:
    """Return which kind of file a stored one is that tells of a site from behind it; empty for pages in a ZIP."""
    try:
        return readers.ours().run(containers.told_kind, move.pk, stored, name)
    except NotTold:
        said = f"{name} is neither a WARC file nor a ZIP archive of pages, and no dump, export or list of files."
    except PackedError as error:
        said = str(error)
    except Unreadable as error:
        said = f"{name}: what it is {error}. Unpack what is wanted of it, and import that by itself."
    Folder(move.pk).delete(stored)
    raise ImportRefused(said)


def read(imported: Import) -> None:
    """Make a capture of an import that waits; one that cannot be made says why, and leaves nothing behind."""
    if imported.state != Import.State.WAITING:
        return
    stored: list[str] = []
    try:
        with _beating(imported) as beat, transaction.atomic():
            if imported.kind in Import.TOLD:
                capture, said = _read_told(imported, beat)
            else:
                capture, said = _read(imported, stored, beat)
                capture_end.close(capture)
            Import.objects.filter(pk=imported.pk).update(state=Import.State.DONE, said=said, capture=capture, stored="")
    except (Damaged, pages.ArchiveError, ImportRefused, Unreadable, disk.DiskFull, *told_contents.ERRORS) as error:
        _fail(imported, stored, str(error))
    except Exception as error:
        # Whatever it is, trying again would not mend it.
        _fail(imported, stored, f"it could not be read ({type(error).__name__}: {str(error)[:200]})")
        raise
    else:
        plans.analyse()
        if imported.kind not in Import.TOLD:
            Folder(imported.move_id).delete(imported.stored)


def _fail(imported: Import, stored: list[str], why: str) -> None:
    """Say why an import failed, and delete what was stored of it."""
    for name in (*stored, imported.stored):
        Folder(imported.move_id).delete(name)
    said = f"{imported.name}: {why}. Nothing of it was kept."
    Import.objects.filter(pk=imported.pk).update(state=Import.State.FAILED, said=said, stored="")


class _Beat:
    """How far a reader is, told from a thread of its own, since what it writes is not seen before its end."""

    def __init__(self, imported: Import) -> None:
        self.imported, self.read = imported, 0
        self.done = threading.Event()

    def run(self) -> None:
        try:
            while True:
                Import.objects.filter(pk=self.imported.pk).update(read=self.read, seen_at=timezone.now())
                if self.done.wait(_BEAT):
                    return
        finally:
            connections.close_all()


@contextmanager
def _beating(imported: Import) -> Iterator[_Beat]:
    beat = _Beat(imported)
    thread = threading.Thread(target=beat.run)
    thread.start()
    try:
        yield beat
    finally:
        beat.done.set()
        thread.join()


def _read(imported: Import, stored: list[str], beat: _Beat) -> tuple[Capture, str]:
    """Read all answers of an import into a new capture; return it, and in words what came of it."""
    move, bases = imported.move, side_access.bases(imported.move, imported.which)
    access = side_access.told(Access(bases), honours=False)
    capture = captures.begin(move, imported.which, Policy().plain(), access)
    capture.kind = Capture.Kind.COPY
    capture.save(update_fields=["kind"])
    taking = _Taking(captures.join(capture), Scope(bases), stored, beat)
    with Readers(settings.PALINODE_READERS) as taking.readers:
        _take(imported, bases[0], taking)
        taking.finish()
    frontier.give_back(taking.share)
    if not taking.taken:
        hosts = " or ".join(addresses.split(base).host for base in bases)
        raise ImportRefused(f"it holds no answer of {hosts}{taking.elsewhere_said()}")
    capture.refresh_from_db()
    return capture, taking.said()


def _read_told(imported: Import, beat: _Beat) -> tuple[Capture, str]:
    """Make a closed capture of a file that tells of a site from behind it, and put it into the set it belongs to."""
    told: Told = {}
    for step in readers.stream(None, containers.told, imported.move_id, imported.stored, imported.name):
        disk.mind()
        if isinstance(step, dict):
            told = step
        else:
            beat.read = step // 1_000_000
    what, summary, ends_early = (str(told.pop(name)) for name in ("what", "summary", "ends_early"))
    capture = Capture.objects.create(
        move=imported.move,
        which=imported.which,
        kind=imported.kind,
        state=Capture.State.CLOSED,
        complete=not ends_early,
        limits=[ends_early] if ends_early else [],
        ended_at=timezone.now(),
    )
    CaptureFile.objects.create(
        capture=capture,
        name=imported.name,
        stored=imported.stored,
        bytes=imported.bytes,
        sha256=imported.sha256,
        what=what,
        summary=summary,
        ends_early=ends_early,
        contents=told,
    )
    if head := _head(imported.move, imported.which):
        capture_sets.add(head, capture)
    return capture, f"{what} {summary} {ends_early}".strip()


def _head(move: Move, which: str) -> Capture | None:
    """Return the capture of pages to whose set an import of now belongs: the baseline, or the latest round."""
    return move.baseline if which == "source" and move.baseline else captures.latest(move, which)


class _Taking:
    """What takes exchanges into a capture, a few at a time."""

    def __init__(self, share: Share, scope: Scope, stored: list[str], beat: _Beat) -> None:
        self.share, self.scope, self.beat, self.stored = share, scope, beat, stored
        self.site = extraction.Site(share.capture.move_id, share.capture_id, scope, 1, Follows.NOTHING)
        self.readers: Readers
        self.some: list[tuple[Leased, Exchange]] = []
        self.ahead: deque[Future[Batch]] = deque()
        self.batch = Batch()
        self.taken: set[int] = set()
        self.again = 0
        self.elsewhere: Counter[str] = Counter()

    def take(self, exchange: Exchange) -> None:
        """Take an exchange; a second one of an address, and one of another host, are counted and left."""
        address = addresses.normal(exchange.address)
        if address is None or not self.scope.on_host(address):
            self.elsewhere[addresses.split(address).host if address else "no host"] += 1
            return
        ident = addresses.ident(address)
        if ident in self.taken:
            self.again += 1
            return
        self.taken.add(ident)
        asked_for = AskedFor.PAGE if self.scope.holds(address) else AskedFor.FILE
        known = Discovery.HOME if address in self.scope.bases else Discovery.IMPORT
        self.some.append((Leased(ident, address, 0, int(known), int(asked_for)), exchange))
        if len(self.some) >= _TOGETHER:
            self._hand_over()

    def finish(self) -> None:
        """Store all that was taken."""
        self._hand_over()
        while self.ahead:
            self._gather()
        self.flush()

    def flush(self) -> None:
        """Store what was read."""
        if self.batch.answers:
            batch, self.batch = self.batch, Batch()
            if name := sealing.seal(self.share, batch):
                self.stored.append(name)

    def said(self) -> str:
        """Say what came of the file."""
        told = [number(len(self.taken), "answer")]
        if self.again:
            told.append(f"{self.again:,} more of the same addresses left out")
        return f"{', '.join(told)}{self.elsewhere_said()}."

    def elsewhere_said(self) -> str:
        """Say which other hosts the file holds."""
        if not self.elsewhere:
            return ""
        hosts = ", ".join(host for host, _ in self.elsewhere.most_common(3))
        return f"; {self.elsewhere.total():,} of other hosts left out, most of {hosts}"

    def _hand_over(self) -> None:
        if not self.some:
            return
        some, self.some = self.some, []
        frontier.add(self.share.capture, [Found(one.ident, one.text, 0, one.known, one.asked_for) for one, _ in some])
        frontier.hold(self.share, [one.ident for one, _ in some])
        self.ahead.append(self.readers.later(self.site, some))
        while len(self.ahead) > _AHEAD:
            self._gather()

    def _gather(self) -> None:
        self.batch.add(self.ahead.popleft().result())
        self.beat.read = len(self.taken)
        if len(self.batch.records) >= sealing.SEAL_BYTES:
            self.flush()

    def body_of(self, blake: bytes) -> bytes:
        """Return a body that was taken before."""
        self._hand_over()
        while self.ahead:
            self._gather()
        self.flush()
        return evidence.body(self.site.move, blake)


def _items(imported: Import, base: str, own: Readers) -> Iterator[Item]:
    """Yield the answers that a file holds; what only its name makes a page is what its host calls it, if it says so."""
    held = (imported.move_id, imported.stored, base)
    if imported.kind != Import.Kind.PAGES:
        return readers.stream(None, containers.warc, *held)
    asked = own.run(containers.pages_by_name, *held)
    return readers.stream(None, containers.archive, *held, media_types.of(imported.move, imported.which, asked, own))


def _take(imported: Import, base: str, taking: _Taking) -> None:
    """Take all that a file holds; a revisit has the body of the answer that it names."""
    bodies: dict[str, bytes] = {}
    for exchange, payload, digest in _items(imported, base, taking.readers):
        disk.mind()
        if digest is not None:
            bodies[payload] = digest
        elif payload in bodies:
            # As it is kept, so that the coding, which is undone there, must not be told again.
            fields = {name: value for name, value in (exchange.headers or {}).items() if name != "content-encoding"}
            exchange = replace(exchange, body=taking.body_of(bodies[payload]), headers=fields)
        elif imported.kind == Import.Kind.WARC:
            exchange = Exchange(exchange.address, exchange.asked_at, 0, reason=_NO_BODY)
        taking.take(exchange)

"""Pages of a file that a person imported, as a capture: of a WARC file made elsewhere, of an archive of static pages.

They are read, stored and judged as if they had just been fetched.
"""

from collections import Counter, deque
from collections.abc import Iterator
from concurrent.futures import Future
from dataclasses import replace

from django.conf import settings

from palinode.core import address as addresses
from palinode.core.discovery import Discovery
from palinode.core.scope import AskedFor, Scope
from palinode.core.wording import number
from palinode.gather.access import Access
from palinode.gather.exchange import Exchange
from palinode.records import captures, disk, frontier
from palinode.records.models import Capture, Import, Share
from palinode.records.rows import Batch, Found, Leased
from palinode.work import evidence, readers, side_access
from palinode.work.capturing import capture_end, extraction, sealing
from palinode.work.capturing.extraction import Follows
from palinode.work.capturing.policy import Policy
from palinode.work.importing import containers, media_types
from palinode.work.importing.containers import Item
from palinode.work.importing.import_progress import ImportProgress, ImportRefused
from palinode.work.readers import Readers

_TOGETHER = 8
_AHEAD = 8
"""Hand-overs to reading processes at once."""
_NO_BODY = "its body is not in the file"


def read(imported: Import, stored: list[str], progress: ImportProgress) -> tuple[Capture, str]:
    """Read all answers of an import into a new capture, and close it; return it, and in words what came of it.

    ``stored`` is told the names of the files that were stored meanwhile. Raises ImportRefused. Needs a transaction.
    """
    move, bases = imported.move, side_access.bases(imported.move, imported.which)
    access = side_access.told(Access(bases), honours=False)
    capture = captures.begin(move, imported.which, Policy().plain(), access)
    capture.kind = Capture.Kind.COPY
    capture.save(update_fields=["kind"])
    taking = _Taking(captures.join(capture), Scope(bases), stored, progress)
    with Readers(settings.PALINODE_READERS) as taking.readers:
        _take(imported, bases[0], taking)
        taking.finish()
    frontier.give_back(taking.share)
    if not taking.taken:
        hosts = " or ".join(addresses.split(base).host for base in bases)
        raise ImportRefused(f"it holds no answer of {hosts}{taking.elsewhere_said()}")
    capture.refresh_from_db()
    capture_end.close(capture)
    return capture, taking.said()


class _Taking:
    """What takes exchanges into a capture, a few at a time."""

    def __init__(self, share: Share, scope: Scope, stored: list[str], progress: ImportProgress) -> None:
        self.share, self.scope, self.progress, self.stored = share, scope, progress, stored
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
        self.progress.read = len(self.taken)
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
        taking.progress.mind()
        if digest is not None:
            bodies[payload] = digest
        elif payload in bodies:
            # As it is kept, so that the coding, which is undone there, must not be told again.
            fields = {name: value for name, value in (exchange.headers or {}).items() if name != "content-encoding"}
            exchange = replace(exchange, body=taking.body_of(bodies[payload]), headers=fields)
        elif imported.kind == Import.Kind.WARC:
            exchange = Exchange(exchange.address, exchange.asked_at, 0, reason=_NO_BODY)
        taking.take(exchange)

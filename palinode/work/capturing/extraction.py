"""Reads what was fetched, in a process of its own: facts, WARC records, addresses found.

The event loop that fetches must not wait for this; it takes most of a page's time.
"""

import gc
import os
import resource
import threading
import time
from array import array
from collections import OrderedDict
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import UTC, datetime
from enum import StrEnum

from palinode.core import address as addresses
from palinode.core import documents, encoding, file_family, header_set, novelty, page, pattern
from palinode.core import facts as core_facts
from palinode.core.discovery import Discovery
from palinode.core.documents import Document, css, feed, manifest, sitemap
from palinode.core.facts import Facts
from palinode.core.markup import Reference
from palinode.core.novelty import Content
from palinode.core.pattern import Pattern
from palinode.core.resolver import Resolver
from palinode.core.scope import AskedFor, Scope
from palinode.gather.exchange import Exchange
from palinode.gather.warc import record
from palinode.gather.warc.record import Stored
from palinode.records import rows
from palinode.records.rows import AnswerRow, Batch, Earlier, Found, Leased

_REMEMBERED = 10_000
_SLOTS = 1 << 20
"""Slots of the table of addresses sent on: 8 MB."""
_MOST_MEMORY = 4_000_000_000
"""Bytes of addresses that a reading process may take; what asks for more has a reason, and the machine is spared."""
_MAPS = 5
"""Sitemaps below one another; an index names none that is an index again (sitemaps.org)."""
_GARBAGE = 50_000
"""Objects between two looks for garbage."""


class Follows(StrEnum):
    """Which of the addresses that are found are asked for too."""

    ALL = "all"
    REDIRECTS = "redirects"
    NOTHING = "nothing"


@dataclass(frozen=True)
class Site:
    """What a reading process must know of its capture."""

    move: int
    capture: int
    scope: Scope
    """What it finds is asked for if it belongs there: to the side, or to a section."""
    max_depth: int
    follows: Follows = Follows.ALL


class _Sent:
    """Identities of addresses that were sent on already: a table of one size, in which a later one may push one out.

    It stays as large as it begins, and what was pushed out is only sent again.
    """

    def __init__(self) -> None:
        self._table = array("q", bytes(8 * _SLOTS))

    def new(self, references: Iterable[Reference]) -> list[Reference]:
        """Return the references whose addresses are not noted."""
        table = self._table
        return [one for one in references if table[one.ident & (_SLOTS - 1)] != one.ident]

    def add(self, ident: int) -> None:
        """Note an address."""
        self._table[ident & (_SLOTS - 1)] = ident

    def forget(self, ident: int) -> None:
        """Let an address be sent again."""
        self._table[ident & (_SLOTS - 1)] = 0


@dataclass(slots=True)
class _Memory:
    """What one reading process remembers, so that nothing is read or sent twice."""

    resolver: Resolver
    stored: OrderedDict[bytes, Stored]
    sent: "_Sent"


_memory: _Memory | None = None


def start(parent: int) -> None:
    """Set a reading process up; it ends when its worker does, however that ends."""
    global _memory
    resource.setrlimit(resource.RLIMIT_AS, (_MOST_MEMORY, _MOST_MEMORY))
    _memory = _Memory(Resolver(), OrderedDict(), _Sent())
    # What reading makes is let go of by its counts; looking for circles in all that is remembered takes a sixth of it.
    gc.freeze()
    gc.set_threshold(_GARBAGE, 50, 100)

    def watch() -> None:
        while os.getppid() == parent:
            time.sleep(0.5)
        os._exit(1)

    threading.Thread(target=watch, daemon=True).start()


def read(site: Site, fetched: list[tuple[Leased, Exchange]]) -> Batch:
    """Return the batch of a few exchanges."""
    assert _memory is not None, "start() runs first in each reading process"
    batch = Batch()
    for leased, exchange in fetched:
        _Reading(site, _memory, batch, leased, exchange).run()
    return batch


def facts(address: str, exchange: Exchange) -> Facts:
    """Return the facts of what answered, read as a page of an address."""
    return core_facts.read(address, exchange.headers or {}, exchange.decoded()[0])


def unread(site: Site, leased: Leased, exchange: Exchange, why: str) -> Batch:
    """Return the batch of an exchange that cannot be read: stored as it came, and told as not fetched, with why."""
    assert _memory is not None, "start() runs first in each reading process"
    batch = Batch()
    _Reading(site, _memory, batch, leased, exchange).store_unread(why)
    return batch


class _Reading:
    """The reading of one exchange into a batch."""

    def __init__(self, site: Site, memory: _Memory, batch: Batch, leased: Leased, exchange: Exchange) -> None:
        self.site, self.scope, self.memory, self.batch = site, site.scope, memory, batch
        self.leased, self.exchange = leased, exchange
        self.said: list[str] = []
        """Title and main blocks of a page, if what it says counts for its patterns."""

    def run(self) -> None:
        exchange, leased = self.exchange, self.leased
        if leased.earlier and exchange.status == page.NOT_MODIFIED:
            self._unchanged(leased.earlier)
            return
        headers = exchange.headers or {}
        media = page.media_type(headers.get("content-type", ""))
        body, fault = exchange.decoded()
        digest = page.body_digest(body) if exchange.status else None
        asked_for, document = self._told(media, body)
        is_page = (
            asked_for <= AskedFor.FILE and not document and exchange.has_body and page.is_page(exchange.status, media)
        )
        target = self._redirect(headers)
        facts_key = None
        if is_page or self._is_markup(media, target):
            facts_key, cut = self._facts(headers, body, digest or b"", is_page)
            fault = fault or (core_facts.READ_IN_PART if cut and exchange.status == 200 else "")
        if asked_for == AskedFor.SITEMAP and exchange.status == 200:
            self._sitemap(body)
        elif document:
            self._document(document, body, headers.get("content-type", ""))
        offset, stored_here = self._store(digest)
        kind = ""
        if exchange.status is None:
            kind = "not_fetched"
        elif is_page:
            kind = "pages"
        elif target is not None:
            kind = "redirects"
        elif exchange.status == 200 and asked_for <= AskedFor.FILE:
            kind = "files"
        shown = media if is_page else file_family.shown_type(media, exchange.address, body)
        line = self._line(
            (exchange.status, exchange.reason or fault or None, is_page, shown or None, target),
            (len(body), digest, facts_key),
            (headers.get("etag"), headers.get("last-modified"), headers.get("content-encoding"), None),
        )
        self.batch.answers.append(
            AnswerRow(
                leased.ident,
                line,
                offset,
                stored_here,
                len(body),
                kind,
                variant=leased.variant,
                why=int(exchange.why),
                header_set=self._header_set(),
                patterns=self._patterns(),
                asked_for=int(asked_for) if asked_for != leased.asked_for else None,
                content=self._content(kind, digest),
                # A redirect brings nothing itself; where it leads may.
                fresh=False if kind == "redirects" else None,
            )
        )

    def _told(self, media: str, body: bytes) -> tuple[AskedFor, Document | None]:
        """Return what an answer is read as, by what it is: a page that is a sitemap, a sitemap that is a page."""
        asked_for = AskedFor(self.leased.asked_for)
        if self.exchange.status != 200 or not self.exchange.has_body or asked_for > AskedFor.SITEMAP:
            return asked_for, None
        document = documents.told(media, body)
        if document is Document.SITEMAP:
            return AskedFor.SITEMAP, None
        if asked_for == AskedFor.SITEMAP and page.is_html(media) and self.leased.known & Discovery.LINK:
            return AskedFor.PAGE, None
        return asked_for, document if asked_for <= AskedFor.FILE else None

    def _patterns(self) -> tuple[Pattern, ...]:
        """Return the patterns from whose budgets the address is asked."""
        leased = self.leased
        bounded = leased.turn and leased.asked_for == AskedFor.PAGE and not leased.variant
        return pattern.of(leased.text) if bounded else ()

    def _content(self, kind: str, digest: bytes | None) -> Content | None:
        """Return what the answer says, if that counts."""
        content = None
        if kind == "pages" and self.said:
            content = novelty.of_texts(self.said)
        elif kind in ("pages", "files") and digest:
            content = novelty.of_bytes(digest)
        return content.at(self.leased.text) if content else None

    def store_unread(self, why: str) -> None:
        """Store the answer as it came, unread, so that a later version may read it."""
        media = page.media_type((self.exchange.headers or {}).get("content-type", ""))
        offset, _ = self._append(None)
        line = self._line((None, why, False, media or None, None), (0, None, None), (None, None, None, None))
        self.batch.answers.append(
            AnswerRow(
                self.leased.ident,
                line,
                offset,
                None,
                0,
                "not_fetched",
                variant=self.leased.variant,
                header_set=self._header_set(),
            )
        )

    def _header_set(self) -> int | None:
        """Note what the host says with its answers alike; None where nothing answered."""
        if not self.exchange.response_head:
            return None
        found = header_set.of(self.exchange.response_head)
        self.batch.header_sets[found.key] = rows.header_set_line(self.site.move, found)
        return found.key

    def _unchanged(self, earlier: Earlier) -> None:
        """Note an answer that still holds: a row that points to the record that is there, and a record of the 304."""
        offset, _ = self._append(Stored.earlier(self.exchange.address, earlier.recorded_at))
        line = self._line(
            (200, earlier.reason, earlier.is_page, earlier.media_type or None, None),
            (earlier.length, earlier.body, earlier.facts),
            (earlier.etag, earlier.modified, earlier.coding, earlier.recorded_at.isoformat()),
        )
        kind = "pages" if earlier.is_page else "files"
        self.batch.answers.append(
            AnswerRow(
                self.leased.ident, line, offset, None, earlier.length, kind, earlier, header_set=earlier.header_set
            )
        )

    def _line(self, said: tuple[object, ...], held: tuple[object, ...], validators: tuple[object, ...]) -> str:
        leased, exchange = self.leased, self.exchange
        asked = (
            leased.known,
            leased.depth,
            datetime.fromtimestamp(exchange.asked_at, UTC).isoformat(),
            exchange.took_ms,
        )
        return rows.answer_line(self.site.capture, (leased.ident, leased.written, *said, *held, *asked), validators)

    def _redirect(self, headers: dict[str, str]) -> int | None:
        if self.exchange.status not in page.REDIRECTS or not headers.get("location"):
            return None
        to = addresses.normal(headers["location"].strip(), self.exchange.address)
        if to is None:
            return None
        ident = addresses.ident(to)
        self.batch.addresses[ident] = to
        asked_for = AskedFor(self.leased.asked_for)
        if self.site.follows is Follows.REDIRECTS:
            # Asked in the same way; each hop is one deeper, so that they end.
            if self.leased.depth < self.site.max_depth:
                known, depth = int(Discovery.REDIRECT | Discovery.CHECK), self.leased.depth + 1
                self.batch.find(Found(ident, to, depth, known, int(asked_for), variant=self.leased.variant))
        else:
            reached_ident, reached = self._reached(ident, to)
            if self.scope.holds(reached) or asked_for != AskedFor.PAGE:
                depth = self.leased.depth
                self._find(reached_ident, reached, headers["location"], depth, Discovery.REDIRECT, asked_for)
        return ident

    def _is_markup(self, media: str, target: int | None) -> bool:
        """Whether an answer that is no page holds markup: an error page, or the answer to an impossible address."""
        exchange, asked_for = self.exchange, self.leased.asked_for
        asked = asked_for <= AskedFor.FILE or asked_for == AskedFor.PROBE
        answered = exchange.status is not None and exchange.has_body and bool(exchange.body) and target is None
        return asked and answered and page.is_html(media)

    def _facts(self, headers: dict[str, str], body: bytes, digest: bytes, is_page: bool) -> tuple[int, bool]:
        """Note the facts of markup, and of a page what it refers to; return their key, and whether it was cut."""
        key = core_facts.key(self.leased.ident, headers, digest)
        facts = core_facts.read(self.exchange.address, headers, body, self.memory.resolver)
        self.batch.facts[key] = rows.facts_line(self.site.move, key, facts)
        if is_page:
            self._links(facts)
            self.said = [facts.title, *(block.text for block in facts.blocks if block.main)]
        return key, facts.cut

    def _links(self, facts: Facts) -> None:
        deep = self.leased.depth >= self.site.max_depth
        sent = self.memory.sent
        for reference in sent.new(facts.references):
            sent.add(reference.ident)
            self.batch.addresses[reference.ident] = reference.address
            ident, address = self._reached(reference.ident, reference.address)
            asked_for = self.scope.asked_for(address, reference.place)
            if asked_for is None:
                # Elsewhere in the pages it may stand in a place that is followed.
                if self.scope.on_host(address):
                    sent.forget(reference.ident)
                continue
            if deep and asked_for == AskedFor.PAGE:
                self.batch.limits.add(f"links deeper than {self.site.max_depth} were not followed")
                continue
            depth = self.leased.depth + 1
            self._find(ident, address, reference.written, depth, Discovery.LINK, asked_for)

    def _reached(self, ident: int, address: str) -> tuple[int, str]:
        """Return an address as it is asked for today: of a copy that names itself by its final one, the temporary."""
        reached = self.scope.reached(address)
        return (ident, address) if reached == address else (addresses.ident(reached), reached)

    def _sitemap(self, body: bytes) -> None:
        named = sitemap.read(body)
        self._named(named.pages, Discovery.SITEMAP, AskedFor.PAGE, 1)
        if self.leased.depth < _MAPS:
            self._named(named.maps, Discovery.SITEMAP, AskedFor.SITEMAP, self.leased.depth + 1)
        self._named(named.files, Discovery.SITEMAP, AskedFor.FILE, 1)

    def _document(self, document: Document, body: bytes, content_type: str) -> None:
        """Note what a document names: a style sheet, a feed, a manifest."""
        depth = self.leased.depth + 1
        if document is Document.STYLE:
            self._named(
                css.read(encoding.decode(body, page.charset(content_type))), Discovery.LINK, AskedFor.FILE, depth
            )
        elif document is Document.FEED:
            named = feed.read(body)
            self._named(named.pages, Discovery.FEED, AskedFor.PAGE, depth)
            # There may be no end of them, so that they are asked as links are.
            self._named(named.feeds, Discovery.LINK, AskedFor.PAGE, depth)
            self._named(named.files, Discovery.FEED, AskedFor.FILE, depth)
        elif document is Document.MANIFEST:
            pages, files = manifest.read(body)
            self._named(pages, Discovery.LINK, AskedFor.PAGE, depth)
            self._named(files, Discovery.LINK, AskedFor.FILE, depth)

    def _named(self, named: list[str], known: Discovery, asked_for: AskedFor, depth: int) -> None:
        for written in named:
            named_address = addresses.normal(written, self.exchange.address)
            if named_address is None:
                continue
            _, address = self._reached(0, named_address)
            ours = self.scope.on_host(address) if asked_for == AskedFor.FILE else self.scope.holds(address)
            if ours:
                self._find(addresses.ident(address), address, written, depth, known, asked_for)

    def _find(self, ident: int, text: str, written: str, depth: int, known: Discovery, asked_for: AskedFor) -> None:
        if self.site.follows is Follows.ALL:
            other = None if text.endswith(written.partition("#")[0]) else written
            source = self.leased.ident if self._is_outside(text, asked_for) else 0
            self.batch.find(Found(ident, text, depth, int(known), int(asked_for), other, source=source))

    def _is_outside(self, text: str, asked_for: AskedFor) -> bool:
        """Whether an address says that more than a trap is here: a file, or a page of another section."""
        elsewhere = asked_for == AskedFor.FILE or addresses.section(text) != addresses.section(self.leased.text)
        return elsewhere and pattern.is_plain(text)

    def _store(self, digest: bytes | None) -> tuple[int | None, bytes | None]:
        """Append the records; return their offset, and the digest of the body if it is in them."""
        if digest is None:
            return None, None
        # A revisit repeats the payload as sent, so the content coding belongs to what is remembered.
        key = digest + (self.exchange.headers or {}).get("content-encoding", "").encode()
        seen = (self.memory.stored.get(key) or self._earlier(digest)) if self.exchange.body else None
        offset, stored = self._append(seen)
        self.memory.stored[key] = stored
        if len(self.memory.stored) > _REMEMBERED:
            self.memory.stored.popitem(last=False)
        return offset, None if seen else digest

    def _earlier(self, digest: bytes) -> Stored | None:
        """Return where the capture before stored this very body, as it came."""
        earlier = self.leased.earlier
        coding = (self.exchange.headers or {}).get("content-encoding")
        if earlier is None or earlier.body != digest or earlier.coding != coding:
            return None
        return Stored.earlier(self.exchange.address, earlier.recorded_at)

    def _append(self, seen: Stored | None) -> tuple[int, Stored]:
        data, stored = record.records(self.exchange, seen)
        offset = len(self.batch.records)
        self.batch.records += data
        self.batch.number += 2
        return offset, stored

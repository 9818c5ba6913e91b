"""Rows on their way into the record: what reading processes hand back. No models, so that these
processes need no Django set up.
"""

from dataclasses import dataclass, field, replace
from datetime import datetime

from palinode.core.documents import names_addresses
from palinode.core.facts import VERSION, Facts, whole
from palinode.core.fields import Place
from palinode.core.header_set import HeaderSet
from palinode.core.novelty import Content
from palinode.core.pattern import Pattern
from palinode.core.scope import AskedFor
from palinode.records import bulk_copy


@dataclass(frozen=True, slots=True)
class Earlier:
    """What the capture before holds for an address that gave a body."""

    status: int
    is_page: bool
    media_type: str
    length: int
    body: bytes
    facts: int | None
    reason: str | None
    etag: str | None
    modified: str | None
    coding: str | None
    segment: int
    offset: int
    recorded_at: datetime
    """When the record at that place was made."""
    header_set: int | None


@dataclass(frozen=True, slots=True)
class Leased:
    """An address that a share holds."""

    ident: int
    text: str
    depth: int
    known: int
    asked_for: int
    written: str | None = None
    variant: int = 0
    """Of the request (core/checks/ask.py); 0 for the plain GET."""
    turn: int = 0
    """Of its pattern; 0 if it is listed, and asked whatever its pattern brings."""
    earlier: Earlier | None = None

    @property
    def condition(self) -> dict[str, str]:
        """The header fields that ask for a body only if it changed (RFC 9110 section 13.1); empty without a ground.

        What names other addresses but is no page is asked for whole, since it is read anew for how they are known.
        """
        earlier = self.earlier
        if earlier is None or earlier.status != 200 or self.asked_for > AskedFor.FILE:
            return {}
        if not earlier.is_page and names_addresses(earlier.media_type):
            return {}
        fields = {"If-None-Match": earlier.etag, "If-Modified-Since": earlier.modified}
        return {name: value for name, value in fields.items() if value}


@dataclass(frozen=True, slots=True)
class Found:
    """An address that became known."""

    ident: int
    text: str
    depth: int
    known: int
    asked_for: int
    written: str | None = None
    """As it was written where it was found first, if the normal form does not end with that."""
    variant: int = 0
    source: int = 0
    """Identity of the page that made it known."""

    @property
    def key(self) -> tuple[int, int]:
        """What tells it apart in a frontier."""
        return self.ident, self.variant


@dataclass(slots=True)
class AnswerRow:
    """One answer, ready to be written but for its place in a segment."""

    ident: int
    line: str
    """COPY text of the columns before the segment's, without line end."""
    offset: int | None
    """Within the batch's records; None if nothing was stored."""
    body: bytes | None
    """Digest of a body that is stored here in full, else None."""
    length: int
    kind: str
    """Counter of the capture that it raises: pages, files, redirects, not_fetched or an empty string."""
    earlier: Earlier | None = None
    """The answer before, if the host said that it still holds; the row points to its record."""
    variant: int = 0
    why: int = 0
    """A Reason of core/reason.py."""
    header_set: int | None = None
    asked_for: int | None = None
    """What it turned out to be, if that is not what it was asked for."""
    patterns: tuple[Pattern, ...] = ()
    """Those whose budgets it is asked from."""
    content: Content | None = None
    """What a page or a file says."""
    fresh: bool | None = None
    """Whether it brought something that no answer before it brought; None where it leads nowhere."""

    @property
    def key(self) -> tuple[int, int]:
        """What tells it apart in a capture."""
        return self.ident, self.variant


@dataclass(slots=True)
class Batch:
    """Answers with their records, facts, and the addresses they made known."""

    records: bytearray = field(default_factory=bytearray)
    number: int = 0
    """Of WARC records."""
    answers: list[AnswerRow] = field(default_factory=list)
    facts: dict[int, str] = field(default_factory=dict)
    """Key to COPY text."""
    header_sets: dict[int, str] = field(default_factory=dict)
    """Key to COPY text."""
    addresses: dict[int, str] = field(default_factory=dict)
    found: dict[tuple[int, int], Found] = field(default_factory=dict)
    limits: set[str] = field(default_factory=set)

    def find(self, found: Found) -> None:
        """Note an address that became known; what is noted already becomes known in one way more."""
        before = self.found.get(found.key)
        if before is None:
            self.found[found.key] = found
        elif before.known | found.known != before.known:
            self.found[found.key] = replace(before, known=before.known | found.known)

    def add(self, other: "Batch") -> None:
        """Append another batch to this one."""
        for answer in other.answers:
            if answer.offset is not None:
                answer.offset += len(self.records)
            self.answers.append(answer)
        self.records += other.records
        self.number += other.number
        self.facts |= other.facts
        self.header_sets |= other.header_sets
        self.addresses |= other.addresses
        for found in other.found.values():
            self.find(found)
        self.limits |= other.limits


_NO_VALIDATORS = (None, None, None, None)


def answer_line(capture: int, values: tuple[object, ...], validators: tuple[object, ...] = _NO_VALIDATORS) -> str:
    """Return the COPY text of an answer: ``values`` from ident to took_ms, then those from etag to recorded_at."""
    return bulk_copy.line((capture, *values, *validators))[:-1]


def header_set_line(move: int, of: HeaderSet) -> str:
    """Return the COPY text of a header set."""
    return bulk_copy.line((move, of.key, of.fields))


def facts_line(move: int, key: int, facts: Facts) -> str:
    """Return the COPY text of a facts row."""
    edges, prints = facts.edges(), facts.fingerprints()
    canonical = next((one.ident for one in facts.at(Place.CANONICAL)), None)
    return bulk_copy.line(
        (
            move,
            key,
            VERSION,
            facts.title,
            facts.description,
            facts.robots,
            facts.language,
            canonical,
            facts.words,
            min(len(facts.headings), 32_000),
            edges.count(Place.IMAGE),
            edges.count(Place.LINK),
            min(sum(form.main for form in facts.forms), 32_000),
            int(facts.recognised.kind),
            edges.compared,
            whole(prints),
            edges.sum,
            facts.template_print(),
            prints.astype("<i8").tobytes(),
            edges.targets.astype("<i8").tobytes(),
            edges.places.tobytes(),
            facts.rest(),
        )
    )

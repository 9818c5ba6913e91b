"""Rows on their way into the record: what reading processes hand back. No models, so that these
processes need no Django set up.
"""

from dataclasses import dataclass, field

from palinode.core.facts import VERSION, Facts, whole
from palinode.core.fields import Place
from palinode.records import copy


@dataclass(frozen=True, slots=True)
class Leased:
    """An address that a share holds."""

    ident: int
    text: str
    depth: int
    known: int
    asked_for: int
    written: str | None = None


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


@dataclass(slots=True)
class Batch:
    """Answers with their records, facts, and the addresses they made known."""

    records: bytearray = field(default_factory=bytearray)
    number: int = 0
    """Of WARC records."""
    answers: list[AnswerRow] = field(default_factory=list)
    facts: dict[int, str] = field(default_factory=dict)
    """Key to COPY text."""
    addresses: dict[int, str] = field(default_factory=dict)
    found: dict[int, Found] = field(default_factory=dict)
    limits: set[str] = field(default_factory=set)

    def add(self, other: "Batch") -> None:
        """Append another batch to this one."""
        for answer in other.answers:
            if answer.offset is not None:
                answer.offset += len(self.records)
            self.answers.append(answer)
        self.records += other.records
        self.number += other.number
        self.facts |= other.facts
        self.addresses |= other.addresses
        for ident, found in other.found.items():
            self.found.setdefault(ident, found)
        self.limits |= other.limits


def answer_line(capture: int, values: tuple[object, ...]) -> str:
    """Return the COPY text of an answer's columns, from ident to took_ms."""
    return copy.line((capture, *values))[:-1]


def facts_line(move: int, key: int, facts: Facts, rest: bytes) -> str:
    """Return the COPY text of a facts row; ``rest`` is already packed."""
    edges, prints = facts.edges(), facts.fingerprints()
    canonical = next((r.ident for r in facts.references if r.place == Place.CANONICAL), None)
    return copy.line(
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
            prints.astype("<i8").tobytes(),
            edges.targets.astype("<i8").tobytes(),
            edges.places.tobytes(),
            rest,
        )
    )

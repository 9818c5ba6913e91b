"""What is kept of the two answers of a pair."""

from dataclasses import dataclass, field
from datetime import datetime

import numpy as np
from django.db import connection

from palinode.core import edges
from palinode.core.packed_facts import PackedFacts
from palinode.core.page import REDIRECTS
from palinode.records.models import Answer, Capture, Frontier

_HOPS = 10


@dataclass(frozen=True)
class Head:
    """Facts with columns of their own."""

    title: str = ""
    description: str = ""
    robots: str = ""
    language: str = ""
    canonical: str = ""
    words: int = 0
    images: int = 0
    links: int = 0
    forms: int = 0
    rest: PackedFacts = field(default_factory=PackedFacts)
    targets: list[int] = field(default_factory=list)
    """Identities of its references, in document order."""


@dataclass(frozen=True)
class Kept:
    """One address in one capture: its answer, the hops that led on from it, the facts at their end."""

    address: str
    answer: Answer | None
    hops: list[tuple[str, int | None]]
    head: Head
    asked_at: datetime | None = None
    known: int = 0
    """How the address became known, by the time the capture closed."""


def kept(capture: Capture, address: str, ident: int) -> Kept:
    """Return what a capture keeps of an address, following recorded redirects to the end."""
    hops: list[tuple[str, int | None]] = []
    text, seen = address, {ident}
    answer = Answer.objects.filter(capture=capture, ident=ident).first()
    while answer and answer.status in REDIRECTS and answer.target and len(hops) < _HOPS:
        hops.append((text, answer.status))
        if answer.target in seen:
            break
        seen.add(answer.target)
        text = _text(capture.move_id, answer.target)
        answer = Answer.objects.filter(capture=capture, ident=answer.target).first()
    known = Frontier.objects.filter(capture=capture, ident=ident).values_list("known", flat=True).first()
    return Kept(text, answer, hops, _head(capture, answer), answer.asked_at if answer else None, known or 0)


def _text(move: int, ident: int | None) -> str:
    if ident is None:
        return ""
    with connection.cursor() as cursor:
        cursor.execute("SELECT text FROM records_address WHERE move_id = %s AND ident = %s", [move, ident])
        row = cursor.fetchone()
    return row[0] if row else ""


def _head(capture: Capture, answer: Answer | None) -> Head:
    if answer is None or answer.facts is None or not answer.is_page:
        return Head()
    with connection.cursor() as cursor:
        cursor.execute(
            "SELECT title, description, robots, language, canonical, words, images, links, forms, targets, rest "
            "FROM records_facts WHERE move_id = %s AND key = %s",
            [capture.move_id, answer.facts],
        )
        row = cursor.fetchone()
    if row is None:
        return Head()
    title, description, robots, language, canonical, words, images, links, forms, targets, packed = row
    rest = PackedFacts(packed)
    in_order = edges.in_document_order(np.frombuffer(targets, "<i8"), [one.place for one in rest.references])
    return Head(
        title,
        description,
        robots,
        language,
        _text(capture.move_id, canonical),
        words,
        images,
        links,
        forms,
        rest,
        in_order.tolist(),
    )


def digests(capture: Capture, idents: set[int]) -> dict[int, int]:
    """Return the first bytes of the digests of what was captured at some addresses, by identity."""
    with connection.cursor() as cursor:
        cursor.execute(
            "SELECT ident, body FROM records_answer WHERE capture_id = %s AND ident = ANY(%s) AND body IS NOT NULL",
            [capture.pk, list(idents)],
        )
        return {ident: int.from_bytes(bytes(body)[:8], "big", signed=True) for ident, body in cursor.fetchall()}

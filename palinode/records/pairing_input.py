"""Loads pages that no address led to, as pairing reads them."""

from collections.abc import Callable
from struct import Struct

import numpy as np
from django.db import connection

from palinode.core import address as addresses
from palinode.core.fields import Field, Place
from palinode.core.packed_facts import PackedFacts
from palinode.core.pairing.pages import Pages
from palinode.core.pairing.reader import Kept, Reader
from palinode.core.rule import Rule
from palinode.core.temporary_address import Forms
from palinode.records import bulk_copy, plans
from palinode.records.models import Capture

_TOGETHER = 500
_DOCUMENT = Struct("<q")
"""One of the fingerprints, as they are kept."""
_SQL = f"""
    SELECT a.ident, d.text, f.title, f.language, f.prints, substr(f.targets, 1, 8 * f.compared), f.places, f.rest
    FROM {plans.ANSWERS} {plans.FACTS} {plans.ADDRESS} WHERE a.is_page
"""
_IMAGES = "SELECT ident, body FROM records_answer WHERE capture_id = %s AND ident = ANY(%s) AND body IS NOT NULL"


class PairingInput:
    """Pages of both sides of one comparison as pairing reads them: each is read once, however often it is asked for."""

    def __init__(self, left: Capture, right: Capture, rule: Rule) -> None:
        self._left = _Side(lambda idents: _source_pages(left, idents, rule))
        self._right = _Side(lambda idents: _destination_pages(right, idents, rule.forms))

    def source(self, idents: np.ndarray) -> Pages:
        """Return pages of the source; what they call themselves is told as the rule maps it."""
        return self._left.of(idents)

    def destination(self, idents: np.ndarray) -> Pages:
        """Return pages of the destination by their final forms."""
        return self._right.of(idents)


class _Side:
    def __init__(self, read: Callable[[np.ndarray], Pages]) -> None:
        self._read = read
        self._asked = np.zeros(0, np.int64)
        self._held: Pages | None = None

    def of(self, idents: np.ndarray) -> Pages:
        new = np.setdiff1d(idents, self._asked)
        if len(new) or self._held is None:
            found = self._read(new)
            self._held = found if self._held is None else self._held.and_more(found)
            self._asked = np.union1d(self._asked, new)
        # All that was ever asked for, or a part of it.
        return self._held if len(idents) == len(self._asked) else self._held.of(idents)


def _source_pages(capture: Capture, idents: np.ndarray, rule: Rule) -> Pages:
    """Load pages of a source; the addresses that they name themselves by are what the rule makes of them."""
    return _pages(capture, idents, rule.expect_many)


def _destination_pages(capture: Capture, idents: np.ndarray, forms: Forms | None) -> Pages:
    """Load pages of a destination; with ``forms`` they are known by their final form."""
    if forms is None:
        return _pages(capture, idents, list)
    final_of = forms.final_of
    texts = bulk_copy.columns_out(
        {"text": "text"},
        "SELECT text FROM records_address WHERE move_id = %(move)s AND ident = ANY(%(idents)s)",
        {"move": capture.move_id, "idents": idents.tolist()},
    )["text"]
    temporary = addresses.idents([forms.temporary_of(text) for text in texts])
    wanted = np.union1d(idents, temporary)
    return _pages(capture, wanted, lambda many: [final_of(text) for text in many], final_of)


def _pages(
    capture: Capture,
    idents: np.ndarray,
    called: Callable[[list[str]], list[str]],
    final_of: Callable[[str], str] | None = None,
) -> Pages:
    reader = Reader(called)
    values = {"idents": idents.tolist(), "move": capture.move_id, "capture": capture.pk}
    with bulk_copy.stream(_SQL, values, _TOGETHER) as batches:
        for batch in batches:
            some = [
                Kept(
                    ident=addresses.ident(final_of(text)) if final_of else ident,
                    address=text,
                    title=title,
                    language=language,
                    document=_DOCUMENT.unpack_from(prints, _DOCUMENT.size * Field.DOCUMENT)[0],
                    images=_images(targets, places),
                    rest=PackedFacts(rest),
                    names_itself=Place.CANONICAL in places or Place.HREFLANG in places,
                )
                for ident, text, title, language, prints, targets, places, rest in batch
            ]
            reader.add(some, digests(capture, {image for kept in some for image in kept.images}))
    return reader.pages()


def _images(targets: bytes, places: bytes) -> list[int]:
    """Return the identities of a page's images among its compared references, which come first."""
    if Place.IMAGE not in places:
        return []
    every = np.frombuffer(targets, "<i8")
    found: list[int] = every[np.frombuffer(places, np.uint8)[: len(every)] == Place.IMAGE].tolist()
    return found


def digests(capture: Capture, images: set[int]) -> dict[int, int]:
    """Return the first bytes of the digests of images that were captured, by identity."""
    if not images:
        return {}
    with connection.cursor() as cursor:
        cursor.execute(_IMAGES, [capture.pk, list(images)])
        return {ident: int.from_bytes(bytes(body)[:8], "big", signed=True) for ident, body in cursor.fetchall()}

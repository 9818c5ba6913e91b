"""Reads pages for pairing from what is kept of their facts."""

from collections.abc import Callable, Sequence
from typing import NamedTuple

import numpy as np

from palinode.core import address as addresses
from palinode.core.fields import Place
from palinode.core.packed_facts import PackedFacts
from palinode.core.pairing.pages import Pages
from palinode.core.pairing.shingles import Shingler

_HEADINGS = frozenset({"h1", "h2"})


class Kept(NamedTuple):
    """What is kept of one page."""

    ident: int
    """Where it stands on its side, as the comparison names it."""
    address: str
    title: str
    language: str
    document: int
    """Digest of a document; 0 for HTML."""
    images: list[int]
    """What tells the contents of the images in its main content, as far as they were captured."""
    names_itself: bool
    """It has references that may be other addresses of its own."""
    rest: PackedFacts


def _first_heading(blocks: list[tuple[str, str]]) -> str:
    for kind, text in blocks:
        if kind in _HEADINGS:
            return text
    return ""


def _own_names(kept: Kept) -> list[str]:
    """Return the addresses that a page says it has: its own, canonical, alternate in its own language."""
    own = [kept.address]
    if not kept.names_itself:
        return own
    for one in kept.rest.at(Place.CANONICAL, Place.HREFLANG):
        if one.place == Place.CANONICAL or (kept.language and one.label == kept.language):
            own.append(addresses.normal(one.written, kept.address) or kept.address)
    return own


class Reader:
    """Makes the pages of one side, a batch at a time, so that only one batch of texts is in memory."""

    def __init__(self, called: Callable[[list[str]], list[str]]) -> None:
        """``called`` maps addresses of the side to their final form at the destination."""
        self._called = called
        self._shingler = Shingler()
        self._ident: list[int] = []
        self._path: list[str] = []
        self._title: list[str] = []
        self._heading: list[str] = []
        self._names: list[frozenset[int]] = []
        self._identifier: list[str] = []
        self._media: list[frozenset[int]] = []

    def add(self, some: Sequence[Kept]) -> None:
        """Read some pages."""
        written = [_own_names(kept) for kept in some]
        called = iter(addresses.idents(self._called([name for names in written for name in names])).tolist())
        self._names += [frozenset(next(called) for _ in names) for names in written]
        texts = []
        for kept in some:
            blocks = kept.rest.main
            self._ident.append(kept.ident)
            self._path.append(addresses.path(kept.address))
            self._title.append(kept.title)
            self._heading.append(_first_heading(blocks))
            self._identifier.append(kept.rest.identifier)
            self._media.append(frozenset([*kept.images, kept.document] if kept.document else kept.images))
            texts.append("\n".join([text for _, text in blocks]))
        self._shingler.add(texts)

    def pages(self) -> Pages:
        """Return all pages read."""
        return Pages(
            np.array(self._ident, np.int64),
            self._path,
            self._title,
            self._heading,
            self._names,
            self._identifier,
            self._media,
            self._shingler.made(),
        )

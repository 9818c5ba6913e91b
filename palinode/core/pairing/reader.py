"""Reads pages for pairing from what is kept of their facts."""

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass
from functools import cached_property
from typing import Any

import numpy as np

from palinode.core import address as addresses
from palinode.core.fields import Place
from palinode.core.pairing.pages import Pages
from palinode.core.pairing.shingles import Shingler

_HEADINGS = frozenset({"h1", "h2"})
_IMAGE, _CANONICAL, _HREFLANG = int(Place.IMAGE), int(Place.CANONICAL), int(Place.HREFLANG)


@dataclass(frozen=True)
class Kept:
    """What is kept of one page."""

    ident: int
    """Where it stands on its side, as the comparison names it."""
    address: str
    title: str
    language: str
    document: int
    """Digest of a document; 0 for HTML."""
    rest: Mapping[str, Any]
    """Extractor name to version and output (facts.py)."""

    @cached_property
    def images(self) -> list[int]:
        """Identities of the images in its main content."""
        return [int(ident) for place, ident, _, _ in self.references if place == _IMAGE]

    @property
    def references(self) -> list[list[Any]]:
        """Place, identity, as written, label of all it refers to."""
        found: list[list[Any]] = self.rest.get("references", [1, []])[1]
        return found


def _own_names(kept: Kept) -> list[str]:
    """Return the addresses that a page says it has: its own, canonical, alternate in its own language."""
    own = [kept.address]
    for place, _, written, label in kept.references:
        if place == _CANONICAL or (place == _HREFLANG and kept.language and label == kept.language):
            own.append(addresses.normal(written, kept.address) or kept.address)
    return own


class Reader:
    """Makes pages of one side, some at a time, so that no more texts are held than those."""

    def __init__(self, called: Callable[[list[str]], list[str]]) -> None:
        """``called`` says what addresses are at the destination, in its final form."""
        self._called = called
        self._shingler = Shingler()
        self._ident: list[int] = []
        self._path: list[str] = []
        self._title: list[str] = []
        self._heading: list[str] = []
        self._names: list[frozenset[int]] = []
        self._identifier: list[str] = []
        self._media: list[frozenset[int]] = []

    def add(self, some: Iterable[Kept], digests: Mapping[int, int]) -> None:
        """Read some pages; ``digests`` tells the contents of images by their identities."""
        some = list(some)
        written = [_own_names(kept) for kept in some]
        called = iter(addresses.idents(self._called([name for names in written for name in names])).tolist())
        self._names += [frozenset(next(called) for _ in names) for names in written]
        for kept in some:
            blocks = [(kind, text) for kind, text, _, main in kept.rest.get("blocks", [1, []])[1] if main]
            self._ident.append(kept.ident)
            self._path.append(addresses.path(kept.address))
            self._title.append(kept.title)
            self._heading.append(next((text for kind, text in blocks if kind in _HEADINGS), ""))
            self._identifier.append(kept.rest.get("identifier", [1, ""])[1])
            media = {digests[image] for image in kept.images if image in digests}
            self._media.append(frozenset(media | {kept.document} if kept.document else media))
            self._shingler.add("\n".join(text for _, text in blocks))

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

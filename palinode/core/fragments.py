"""Fragments: the anchors that pages have, and those that links lead to (HTML, scroll to the fragment)."""

import re
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from html import unescape
from typing import NamedTuple
from urllib.parse import unquote

import numpy as np
import orjson

from palinode.core import address as addresses
from palinode.core.columns import find
from palinode.core.edges import mixed
from palinode.core.resolver import Resolver

VERSION = 1
"""Raised when the same answers give others."""
_LINK = re.compile(
    r"<a\b[^<>]{0,2000}?\shref\s*=\s*(?:\"([^\"<>#]{0,2000}#[^\"<>]{1,500})\"|'([^'<>#]{0,2000}#[^'<>]{1,500})')",
    re.IGNORECASE,
)
_ANCHOR = re.compile(
    r"\s(?:id|name)\s*=\s*(?:\"([^\"<>]{1,500})\"|'([^'<>]{1,500})'|([^\s\"'<>=`]{1,500}))", re.IGNORECASE
)
_BASE = re.compile(r"<base\b[^<>]{0,500}?\shref\s*=\s*[\"']?([^\"'\s<>]{1,2000})", re.IGNORECASE)
_NO_ANCHOR = ("!", "/", ":~:")
"""How fragments begin that scripts, or the browser itself, make something of."""
_MOST = 2_000


class PageFragments(NamedTuple):
    """What one page has, and where its links lead."""

    anchors: list[str]
    links: list[tuple[int, str]]
    """Identity of the address without its fragment, and the fragment."""


def read(text: str, address: str, resolver: Resolver) -> PageFragments:
    """Return the anchors of a page, and its links to anchors, each once."""
    found = _BASE.search(text)
    base = (addresses.normal(unescape(found[1]), address) if found else None) or address
    links = dict.fromkeys(_links(text, base, resolver))
    anchors = dict.fromkeys(unescape(next(filter(None, one))) for one in _ANCHOR.findall(text))
    return PageFragments(list(anchors)[:_MOST], list(links)[:_MOST])


def _links(text: str, base: str, resolver: Resolver) -> Iterator[tuple[int, str]]:
    own = addresses.ident(base)
    for quoted, other in _LINK.findall(text):
        written, _, fragment = unescape(quoted or other).partition("#")
        fragment = fragment.strip()
        # Every page has its top.
        if not fragment or fragment.lower() == "top" or fragment.startswith(_NO_ANCHOR) or "=" in fragment:
            continue
        if not written.strip():
            yield own, fragment
        elif found := resolver.resolve(base, written.strip()):
            yield found[1], fragment


@dataclass(frozen=True)
class Fragments:
    """m links to anchors of a capture's pages, and which of them are there."""

    page: np.ndarray
    """int64 (m,): identities of the pages that link."""
    target: np.ndarray
    """int64 (m,): identities of the pages to which they lead."""
    fragment: np.ndarray
    """int32 (m,): places in ``texts``."""
    texts: list[str]
    anchor_page: np.ndarray
    """int64 (k,): identities of pages, ascending …"""
    anchor: np.ndarray
    """int64 (k,): … with digests of the anchors that each has."""

    def arrays(self) -> dict[str, np.ndarray]:
        """Return it as arrays, as they are kept."""
        told = {name: getattr(self, name) for name in ARRAYS if name != "texts"}
        return told | {"texts": np.frombuffer(orjson.dumps(self.texts), np.uint8)}

    @classmethod
    def of(cls, arrays: Mapping[str, np.ndarray]) -> "Fragments":
        """Return what was kept as arrays."""
        return cls(**{**arrays, "texts": orjson.loads(arrays["texts"].tobytes())})

    def has(self, page: int, fragment: str) -> bool | None:
        """Whether a page has an anchor; None for a page that was not read."""
        start, end = np.searchsorted(self.anchor_page, [page, page + 1])
        if start == end:
            return None
        wanted = addresses.idents([fragment, unquote(fragment)])
        return bool(np.isin(wanted, self.anchor[start:end]).any())

    def missing(self) -> np.ndarray:
        """Return int64: the links, by their order, that lead to a page which was read and has no such anchor."""
        there = np.sort(mixed(self.anchor_page, self.anchor))
        is_missing = find(np.unique(self.anchor_page), self.target) >= 0
        # As it is written, and decoded, as browsers look for it.
        for texts in (self.texts, [unquote(one) for one in self.texts]):
            wanted = mixed(self.target, addresses.idents(texts)[self.fragment])
            is_missing &= find(there, wanted) < 0
        found: np.ndarray = np.flatnonzero(is_missing)
        return found


ARRAYS = ("page", "target", "fragment", "texts", "anchor_page", "anchor")
_READ = ""
"""Every page that was read has this anchor, so that one without any is known."""


class Gathering:
    """Gathers the fragments of pages, one after the other."""

    def __init__(self) -> None:
        self._links: list[tuple[int, int, int]] = []
        self._texts: dict[str, int] = {}
        self._anchors: list[tuple[int, np.ndarray]] = []

    def add(self, page: int, found: PageFragments) -> None:
        """Add those of one page, by its identity."""
        self._anchors.append((page, addresses.idents([_READ, *found.anchors])))
        for target, fragment in found.links:
            self._links.append((page, target, self._texts.setdefault(fragment, len(self._texts))))

    def made(self) -> Fragments:
        """Return all that were added."""
        page, target, fragment = np.array(self._links, np.int64).reshape(-1, 3).T
        self._anchors.sort(key=lambda one: one[0])
        nothing = np.zeros(0, np.int64)
        return Fragments(
            page.copy(),
            target.copy(),
            fragment.astype(np.int32),
            list(self._texts),
            np.repeat(np.array([one for one, _ in self._anchors], np.int64), [len(some) for _, some in self._anchors]),
            np.concatenate([nothing, *(some for _, some in self._anchors)]),
        )

"""Facts: what can be read from an answer, and only from it.

A pure function of the address, the headers that count, and the body; it knows of no rule and no
other page. Facts are kept once for each :func:`key`, however many captures find the page unchanged.
"""

import hashlib
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from palinode.core import edges, encoding, markup, packed_facts, page
from palinode.core.documents import link_header
from palinode.core.edges import Edges
from palinode.core.fields import Field, Place
from palinode.core.markup import Block, Form, Reference
from palinode.core.recognition import ORDINARY, Recognised, recognise
from palinode.core.recognition.look import Look
from palinode.core.resolver import Resolver

VERSION = 8
"""Raised whenever the same answer would give other facts."""

MARKUP_LIMIT = 5_000_000
"""Bytes of HTML that are read; what comes after them is kept, and not looked at."""

READ_IN_PART = (
    f"read in part: more than {MARKUP_LIMIT // 1_000_000} MB, {markup.NODES_READ:,} elements or "
    f"{markup.attributes.MOST} attributes of one"
)

COUNTING_HEADERS = ("content-type", "content-language", "x-robots-tag", "link")
"""Response headers, in lower case, that facts are read from."""

_HEADINGS = frozenset({"h1", "h2", "h3", "h4", "h5", "h6"})
_DEFAULT_DIRECTIVES = frozenset({"index", "follow", "all", ""})
_LINKED = {
    "next": Place.TEMPLATE_LINK,
    "prev": Place.TEMPLATE_LINK,
    "alternate": Place.TEMPLATE_LINK,
    "shortlink": Place.TEMPLATE_LINK,
    "stylesheet": Place.STYLE,
    "icon": Place.STYLE,
    "preload": Place.MEDIA,
}
"""Relation of a Link header to the place that it counts as."""


@dataclass(frozen=True, slots=True)
class Facts:
    """The facts of one page."""

    title: str = ""
    description: str = ""
    robots: str = ""
    """Directives that depart from the default, sorted, from markup and header; empty is index, follow."""
    language: str = ""
    words: int = 0
    """Words of the main blocks."""
    blocks: tuple[Block, ...] = ()
    references: tuple[Reference, ...] = ()
    forms: tuple[Form, ...] = ()
    structured: tuple[str, ...] = ()
    open_graph: tuple[tuple[str, str], ...] = ()
    identifier: str = ""
    """What the platform itself calls the page, as ``post 123``."""
    document: int = 0
    """Digest of the bytes of a document that is not HTML; 0 for HTML."""
    cut: bool = False
    """Read in part only."""
    recognised: Recognised = ORDINARY
    """What it is besides being the page."""

    @property
    def canonical(self) -> str:
        """The canonical address, or an empty string."""
        return next((one.address for one in self.at(Place.CANONICAL)), "")

    @property
    def headings(self) -> tuple[tuple[str, str], ...]:
        """Kind and text of each heading of the main content."""
        return tuple((b.kind, b.text) for b in self.blocks if b.main and b.kind in _HEADINGS)

    def at(self, place: Place) -> list[Reference]:
        """Return the references that stand at a place."""
        return [one for one in self.references if one.place is place]

    def fingerprints(self) -> np.ndarray:
        """Return int64 of shape (14,): for each Field a digest of what in it is no address.

        Zero stands for a field that is not there.
        """
        prints = np.zeros(len(Field), np.int64)
        prints[Field.TITLE] = _digest(self.title)
        prints[Field.DESCRIPTION] = _digest(self.description)
        prints[Field.ROBOTS] = _digest(self.robots)
        prints[Field.LANGUAGE] = _digest(self.language)
        prints[Field.HEADINGS], prints[Field.TEXT] = block_prints(self.blocks)
        prints[Field.IMAGES] = _digest(*sorted(one.label for one in self.at(Place.IMAGE)))
        prints[Field.FORMS] = _digest(*(f"{f.method} {' '.join(f.fields)}" for f in self.forms if f.main))
        prints[Field.STRUCTURED] = _digest(*sorted(self.structured))
        prints[Field.HREFLANG] = _digest(*sorted(one.label for one in self.at(Place.HREFLANG)))
        prints[Field.OPEN_GRAPH] = _digest(*sorted(f"{name} {content}" for name, content in self.open_graph))
        prints[Field.DOCUMENT] = self.document
        return prints

    def template_print(self) -> int:
        """Return the fingerprint of what stands around the main content: its texts, its links, its style sheets.

        It is the same on all pages of one side that stand in one template.
        """
        around = [block.text for block in self.blocks if not block.main]
        # A link of the head has its relation beside it, and is the page's own.
        around += [str(one.ident) for one in self.references if one.place is Place.TEMPLATE_LINK and not one.label]
        return _digest(*around, *(one.written.rpartition("/")[2] for one in self.at(Place.STYLE)))

    def edges(self) -> Edges:
        """Return the addresses in the page and where they stand."""
        return edges.arranged([r.ident for r in self.references], [r.place for r in self.references])

    def rest(self) -> bytes:
        """Return what has no column of its own, packed (core/packed_facts.py)."""
        return packed_facts.pack(
            self.blocks,
            self.references,
            self.forms,
            self.structured,
            self.open_graph,
            self.identifier,
            self.recognised,
        )


def text_print(text: str) -> int:
    """Return the fingerprint of a title or a description."""
    return _digest(text)


def block_prints(blocks: Sequence[Block]) -> tuple[int, int]:
    """Return the fingerprints of the headings and of the text among blocks."""
    main = [block for block in blocks if block.main]
    headings = (f"{block.kind} {block.text}" for block in main if block.kind in _HEADINGS)
    return _digest(*headings), _digest(*(block.text for block in main))


def whole(prints: np.ndarray) -> int:
    """Return one digest over all fingerprints: where two pages share it, no field differs but in addresses."""
    return _digest_bytes(prints.tobytes())


def key(address: int, headers: Mapping[str, str], body_digest: bytes) -> int:
    """Return the signed 64-bit key of the facts of an answer.

    ``headers`` has lower-case names; ``body_digest`` is the body's digest in this record.
    """
    counting = "\n".join(headers.get(name, "") for name in COUNTING_HEADERS)
    data = b"%d\n%d\n%b\n%b" % (VERSION, address, counting.encode(), body_digest)
    return _digest_bytes(data)


def read(address: str, headers: Mapping[str, str], body: bytes, resolver: Resolver | None = None) -> Facts:
    """Read the facts of a page found at ``address``; ``headers`` has lower-case names."""
    content_type = headers.get("content-type", "")
    resolver = resolver or Resolver()
    if not page.is_html(page.media_type(content_type)):
        robots = _robots(headers.get("x-robots-tag", ""))
        return Facts(robots=robots, document=_digest_bytes(body))
    text = encoding.decode(body[:MARKUP_LIMIT], page.charset(content_type))
    read_markup = markup.read(text, address, resolver)
    references = read_markup.references
    if "link" in headers:
        references += _of_header(
            headers["link"], address, resolver, any(r.place == Place.CANONICAL for r in references)
        )
    title, blocks, forms = read_markup.title[:1000], tuple(read_markup.blocks), tuple(read_markup.forms)
    robots = _robots(read_markup.robots, headers.get("x-robots-tag", ""))[:500]
    cut = read_markup.cut or len(body) > MARKUP_LIMIT
    return Facts(
        title=title,
        description=read_markup.description[:4000],
        robots=robots,
        language=(read_markup.language or headers.get("content-language", "").strip().lower())[:35],
        words=markup.words([block for block in blocks if block.main]),
        blocks=blocks,
        references=tuple(references),
        forms=forms,
        structured=tuple(read_markup.structured),
        open_graph=tuple(read_markup.open_graph),
        identifier=read_markup.identifier,
        cut=cut,
        recognised=recognise(Look(address, title, blocks, tuple(references), forms, robots, text, cut)),
    )


def _of_header(header: str, address: str, resolver: Resolver, has_canonical: bool) -> Iterator[Reference]:
    for link in link_header.read(header):
        places = [_LINKED[relation] for relation in link.relations if relation in _LINKED]
        if "canonical" in link.relations and not has_canonical:
            places, has_canonical = [Place.CANONICAL], True
        found = resolver.resolve(address, link.target)
        if places and found:
            yield Reference(places[0], found[0], found[1], link.target)


def _robots(*written: str) -> str:
    words = {word.strip().lower() for text in written for word in text.split(",")}
    if "none" in words:
        words = (words - {"none"}) | {"noindex", "nofollow"}
    return ", ".join(sorted(words - _DEFAULT_DIRECTIVES))


def _digest(*texts: str) -> int:
    joined = "\n".join(texts)
    return _digest_bytes(joined.encode("utf-8", "surrogatepass")) if joined else 0


def _digest_bytes(data: bytes) -> int:
    # Many processors have instructions for this one, so that it takes half the time of others.
    return int.from_bytes(hashlib.sha256(data).digest()[:8], "big", signed=True)

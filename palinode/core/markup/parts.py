"""What an HTML document says: blocks of text, references, forms."""

from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import NamedTuple

from palinode.core.fields import Place

PLACEHOLDER = "\N{OBJECT REPLACEMENT CHARACTER}"
"""Stands in a block's text where an address stood; the address is beside it."""

_OTHER_SPACE = "\n\t\r\f\v\x1c\x1d\x1e\x1f\0"


class Block(NamedTuple):
    """One block of text in document order."""

    kind: str
    """Name of the element that holds it: ``p``, ``h2``, ``li`` …"""
    text: str
    """White space folded; addresses are placeholders."""
    path: str
    """The last few element names down to the block."""
    main: bool
    """Whether it stands in the main content, not in the template."""


class Reference(NamedTuple):
    """An address in a page: where, which, and how it was written."""

    place: Place
    address: str
    ident: int
    written: str
    label: str = ""
    """A link's text, an image's alternative, a language of hreflang."""


@dataclass(frozen=True, slots=True)
class Form:
    """A form: its method, its fields' names, and whether it stands in the main content."""

    method: str
    fields: tuple[str, ...]
    main: bool
    password: bool = False
    """Whether it asks for a password."""


@dataclass(slots=True)
class Markup:
    """What one HTML document says. Built by :func:`read`, not changed afterwards."""

    title: str = ""
    description: str = ""
    robots: str = ""
    language: str = ""
    blocks: list[Block] = field(default_factory=list)
    references: list[Reference] = field(default_factory=list)
    forms: list[Form] = field(default_factory=list)
    structured: list[str] = field(default_factory=list)
    """Types of structured data, as named in JSON-LD and microdata."""
    open_graph: list[tuple[str, str]] = field(default_factory=list)
    identifier: str = ""
    """What the platform itself calls the page, as ``post 123``."""
    cut: bool = False
    """More than NODES_READ elements and texts: the rest was not looked at."""


def words(blocks: Sequence[Block]) -> int:
    """Return how many words blocks have."""
    return sum([block.text.count(" ") for block in blocks]) + len(blocks)


def fold(text: str) -> str:
    """Return ``text`` with each run of white space made one blank, and none at its ends."""
    if (_has_no_other_space(text) if text.isascii() else text.isprintable()) and "  " not in text:
        # Most texts are folded as they stand.
        return text.strip(" ")
    return " ".join(text.replace("\0", "").split())


def _has_no_other_space(text: str) -> bool:
    """Whether ASCII text has no white space but blanks, and no NUL; a look for each is faster than one at all."""
    for one in _OTHER_SPACE:  # noqa: SIM110
        if one in text:
            return False
    return True

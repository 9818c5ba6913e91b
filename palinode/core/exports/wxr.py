"""WordPress's export (WXR, an extension of RSS 2.0): items, terms, comments, authors, of one file or of its parts."""

import xml.etree.ElementTree as ElementTree
from collections.abc import Callable, Iterator, Mapping

import numpy as np
from defusedxml.common import DefusedXmlException
from defusedxml.ElementTree import DefusedXMLParser

from palinode.core.platforms import wordpress
from palinode.core.platforms.items import Installation, Items
from palinode.core.platforms.platform import Field, ItemTable

PIECE = 1 << 18
LONGEST = 32 << 20
"""Bytes of one element's text; a longer one is an error that is said."""
_TOGETHER = 1_000
_MARK = b':wp="http'
_POSTS, _TERMS, _COMMENTS, _ACCOUNTS = wordpress.PLATFORM.items
_KINDS: dict[str, tuple[ItemTable, dict[str, Field]]] = {
    "item": (
        _POSTS,
        {
            "post_id": Field.IDENTITY,
            "post_type": Field.TYPE,
            "status": Field.STATUS,
            "title": Field.TITLE,
            "post_name": Field.SLUG,
            "post_date_gmt": Field.DATE,
            "creator": Field.AUTHOR,
            "post_parent": Field.PARENT,
            "content/encoded": Field.TEXT,
        },
    ),
    "comment": (
        _COMMENTS,
        {
            "comment_id": Field.IDENTITY,
            "comment_approved": Field.STATUS,
            "comment_author": Field.AUTHOR,
            "comment_date_gmt": Field.DATE,
            "comment_parent": Field.PARENT,
            "comment_content": Field.TEXT,
        },
    ),
    "author": (
        _ACCOUNTS,
        {"author_id": Field.IDENTITY, "author_display_name": Field.TITLE, "author_login": Field.SLUG},
    ),
    "term": (_TERMS, {"term_id": Field.IDENTITY, "term_taxonomy": Field.TYPE, "term_parent": Field.PARENT}),
    "category": (_TERMS, {"term_id": Field.IDENTITY, "category_parent": Field.PARENT}),
    "tag": (_TERMS, {"term_id": Field.IDENTITY}),
}
"""What an element is a row of, with what the elements in it say. An item's own ``category`` is no such row."""
_TAXONOMIES = {"category": "category", "tag": "post_tag"}
"""Terms whose element says what they are."""


class ExportError(ValueError):
    """An export cannot be read; the message is for a person, and names the line."""


def recognise(beginning: bytes) -> bool:
    """Whether a file begins like an export of this kind."""
    return b"<rss" in beginning and _MARK in beginning.replace(b"'", b'"')


class Export:
    """What the parts of an export hold, together; what two parts name is counted once."""

    def __init__(self) -> None:
        self._gathering = {one.name: _Gathering(one) for one in wordpress.PLATFORM.items}
        self.ends_early = ""
        """Why a part is taken for cut off, in words; empty where each ends as it should."""

    def steps(self, read: Callable[[int], bytes]) -> Iterator[None]:
        """Read a part to its end, a piece with each step; ``read`` returns so many further bytes or fewer.

        Raises ExportError.
        """
        target = _Target(self._take)
        parser = DefusedXMLParser(target=target, forbid_dtd=True)
        try:
            while piece := read(PIECE):
                parser.feed(piece)
                yield
        except ElementTree.ParseError as error:
            line, column = error.position
            raise ExportError(f"Line {line:,}: it is not well-formed from character {column + 1:,} on.") from None
        except DefusedXmlException:
            raise ExportError("It defines entities or a document type of its own, which no export does.") from None
        try:
            parser.close()
        except ElementTree.ParseError as error:
            self.ends_early = f"It ends too early, in line {error.position[0]:,}: the export is not closed."

    @property
    def installation(self) -> Installation:
        """What was read so far."""
        return Installation(wordpress.PLATFORM, tuple(one.items for one in self._gathering.values()))

    def _take(self, kind: str, said: Mapping[Field, str], size: int) -> None:
        self._gathering[_KINDS[kind][0].name].take(said, size)


class _Gathering:
    """Items of one table, gathered one by one and packed a thousand at a time."""

    def __init__(self, table: ItemTable) -> None:
        self._items, self._known = Items(table), set[str]()
        self._waiting: list[tuple[Mapping[Field, str], int]] = []

    @property
    def items(self) -> Items:
        """All that were taken."""
        self._pack()
        return self._items

    def take(self, said: Mapping[Field, str], size: int) -> None:
        """Take an item, unless it was taken before: accounts and terms stand in each part."""
        identity = said.get(Field.IDENTITY, "")
        if identity and identity in self._known:
            return
        self._known.add(identity)
        self._waiting.append((said, size))
        if len(self._waiting) >= _TOGETHER:
            self._pack()

    def _pack(self) -> None:
        some, self._waiting = self._waiting, []
        if some:
            packed: dict[Field, bytes] = {
                one: b"\0".join([said.get(one, "").replace("\0", "").encode() for said, _ in some])
                for one in self._items.table.columns
                if one is not Field.TEXT
            }
            self._items.add(len(some), packed, np.array([size for _, size in some]))


class _Target:
    """What the parser tells of an export: a row is told as its element closes."""

    def __init__(self, take: Callable[[str, Mapping[Field, str], int], None]) -> None:
        self._take = take
        self._open: list[tuple[str, dict[Field, str]]] = []
        """Rows that are open, a comment within its item."""
        self._path: list[str] = []
        self._text: list[str] = []
        self._size = 0
        self._sizes: list[int] = []

    def start(self, tag: str, attributes: Mapping[str, str]) -> None:
        """Begin an element."""
        name = _name(tag)
        self._path.append(name)
        self._text, self._size = [], 0
        if name in _KINDS and not (name == "category" and self._open):
            self._open.append((name, {}))
            self._sizes.append(0)

    def data(self, text: str) -> None:
        """Take text."""
        self._size += len(text)
        if self._size > LONGEST:
            raise ExportError(f"The text of one {self._path[-1]} is longer than {LONGEST >> 20} MB.")
        self._text.append(text)

    def end(self, tag: str) -> None:
        """End an element."""
        name = self._path.pop()
        if not self._open:
            return
        kind, said = self._open[-1]
        if name == kind and (kind != "category" or len(self._open) == 1):
            self._open.pop()
            size = self._sizes.pop()
            if kind in _TAXONOMIES:
                said[Field.TYPE] = _TAXONOMIES[kind]
            self._take(kind, said, size)
        elif found := _KINDS[kind][1].get(name):
            text = "".join(self._text).strip()
            if found is Field.TEXT:
                self._sizes[-1] = len(text.encode())
            else:
                said[found] = text
        self._text = []

    def close(self) -> None:
        """End the document."""


def _name(tag: str) -> str:
    """Return the name of an element; that of content is told from that of an excerpt, whose names are alike."""
    space, _, name = tag.rpartition("}")
    return f"{space.rstrip('/').rpartition('/')[2]}/{name}" if name == "encoded" else name

"""WordPress's export (WXR, an extension of RSS 2.0): items, terms, comments, authors, of one file or of its parts."""

import re
import xml.etree.ElementTree as ElementTree
from collections.abc import Callable, Iterator, Mapping, MutableMapping

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
            "post_date": Field.DATE,
            "creator": Field.AUTHOR,
            "post_parent": Field.PARENT,
            "attachment_url": Field.FILE,
            "link": Field.LINK,
            "content/encoded": Field.TEXT,
        },
    ),
    "comment": (
        _COMMENTS,
        {
            "comment_id": Field.IDENTITY,
            "comment_approved": Field.STATUS,
            "comment_author": Field.AUTHOR,
            "comment_date": Field.DATE,
            "comment_content": Field.TEXT,
        },
    ),
    "author": (
        _ACCOUNTS,
        {"author_id": Field.IDENTITY, "author_display_name": Field.TITLE, "author_login": Field.SLUG},
    ),
    "term": (
        _TERMS,
        {
            "term_id": Field.IDENTITY,
            "term_taxonomy": Field.TYPE,
            "term_slug": Field.SLUG,
            "term_name": Field.TITLE,
            "term_parent": Field.PARENT,
        },
    ),
    "category": (
        _TERMS,
        {
            "term_id": Field.IDENTITY,
            "category_nicename": Field.SLUG,
            "cat_name": Field.TITLE,
            "category_parent": Field.PARENT,
        },
    ),
    "tag": (_TERMS, {"term_id": Field.IDENTITY, "tag_slug": Field.SLUG, "tag_name": Field.TITLE}),
}
"""What an element is a row of, with what the elements in it say. An item's own ``category`` is no such row."""
_TAXONOMIES = {"category": "category", "tag": "post_tag"}
"""Terms whose element says what they are."""
_SETTINGS = {"title": "blogname", "base_site_url": "siteurl", "base_blog_url": "home", "language": "WPLANG"}
"""What the channel says of the site, and the setting that it is."""
_GENERATOR = re.compile(r"\?v=([\w.-]+)$")
_UPLOADS = "/uploads/"


_FIELDS = {
    table.name: sorted(
        {Field.TYPE, *(one for of, fields in _KINDS.values() if of is table for one in fields.values())} - {Field.TEXT}
        | ({Field.PARENT} if table is _COMMENTS else set())
    )
    for table in wordpress.PLATFORM.items
}
"""What an export says of the items of each table."""


class ExportError(ValueError):
    """An export cannot be read; the message is for a person, and names the line."""


def recognise(beginning: bytes) -> bool:
    """Whether a file begins like an export of this kind."""
    return b"<rss" in beginning and _MARK in beginning.replace(b"'", b'"')


class Export:
    """What the parts of an export hold, together; what two parts name is counted once."""

    def __init__(self) -> None:
        self._gathering = {one.name: _Gathering(one) for one in wordpress.PLATFORM.items}
        self._settings: dict[str, str] = {}
        self.ends_early = ""
        """Why a part is taken for cut off, in words; empty where each ends as it should."""

    def steps(self, read: Callable[[int], bytes]) -> Iterator[None]:
        """Read a part to its end, a piece with each step; ``read`` returns so many further bytes or fewer.

        Raises ExportError.
        """
        target = _Target(self._take, self._settings)
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
        items = tuple(one.items for one in self._gathering.values())
        return Installation(wordpress.PLATFORM, items, settings=self._settings)

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
                for one in _FIELDS[self._items.table.name]
            }
            self._items.add(len(some), packed, np.array([size for _, size in some]))


class _Target:
    """What the parser tells of an export: a row is told as its element closes."""

    def __init__(
        self, take: Callable[[str, Mapping[Field, str], int], None], settings: MutableMapping[str, str]
    ) -> None:
        self._take, self._settings = take, settings
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
            self._set(name)
            return
        kind, said = self._open[-1]
        if name == kind and (kind != "category" or len(self._open) == 1):
            self._open.pop()
            size = self._sizes.pop()
            if kind in _TAXONOMIES:
                said[Field.TYPE] = _TAXONOMIES[kind]
            if kind == "comment" and self._open:
                said[Field.PARENT] = self._open[0][1].get(Field.IDENTITY, "")
            self._take(kind, said, size)
        elif found := _KINDS[kind][1].get(name):
            text = "".join(self._text).strip()
            if found is Field.TEXT:
                self._sizes[-1] = len(text.encode())
            else:
                said[found] = text.partition(_UPLOADS)[2] if found is Field.FILE else text
        self._text = []

    def _set(self, name: str) -> None:
        """Take what the channel says of the site."""
        text = "".join(self._text).strip()
        self._text = []
        if self._path != ["rss", "channel"]:
            return
        if name == "generator" and (version := _GENERATOR.search(text)):
            self._settings["version"] = version[1]
        elif name in _SETTINGS:
            self._settings.setdefault(_SETTINGS[name], text)

    def close(self) -> None:
        """End the document."""


def _name(tag: str) -> str:
    """Return the name of an element; that of content is told from that of an excerpt, whose names are alike."""
    space, _, name = tag.rpartition("}")
    return f"{space.rstrip('/').rpartition('/')[2]}/{name}" if name == "encoded" else name

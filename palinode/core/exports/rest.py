"""What public APIs said, as Palinode keeps it: a line of JSON for each answer.

That of WordPress (REST, /wp-json/), and listings of any other kind by the mappings of core/exports/json_listing.py.

The first line says what it is, and of which site; each further one names a route and holds the items of a page of it.
"""

import html
from collections.abc import Callable, Iterator, Mapping
from typing import Any

import orjson

from palinode.core.platforms import listed, wordpress
from palinode.core.platforms.items import Installation, Items
from palinode.core.platforms.platform import Field, ItemTable

FORM = "answers of an API"
PIECE = 1 << 18
LONGEST = 64 << 20
"""Bytes of a line."""
LISTED = "listed"
"""Entries of a listing that a person mapped."""
_POSTS, _TERMS, _COMMENTS, _ACCOUNTS = wordpress.PLATFORM.items
_TABLES: dict[str, tuple[ItemTable, dict[Field, str]]] = {
    "posts": (
        _POSTS,
        {
            Field.IDENTITY: "id",
            Field.TYPE: "type",
            Field.STATUS: "status",
            Field.TITLE: "title",
            Field.SLUG: "slug",
            Field.DATE: "date",
            Field.AUTHOR: "author",
            Field.PARENT: "parent",
            Field.LINK: "link",
        },
    ),
    "terms": (
        _TERMS,
        {
            Field.IDENTITY: "id",
            Field.TYPE: "taxonomy",
            Field.TITLE: "name",
            Field.SLUG: "slug",
            Field.PARENT: "parent",
            Field.KEY: "id",
            Field.LINK: "link",
        },
    ),
    "comments": (
        _COMMENTS,
        {
            Field.IDENTITY: "id",
            Field.STATUS: "status",
            Field.AUTHOR: "author_name",
            Field.DATE: "date",
            Field.PARENT: "post",
        },
    ),
    "users": (
        _ACCOUNTS,
        {Field.IDENTITY: "id", Field.TITLE: "name", Field.SLUG: "slug", Field.LINK: "link"},
    ),
    LISTED: (listed.ENTRIES, {field: field.value for field in listed.ENTRIES.columns}),
}
"""What the items of a route are rows of, and what is said of them."""
FIELDS = {name: ",".join(dict.fromkeys(fields.values())) for name, (_, fields) in _TABLES.items()}
"""What is asked for of each item."""
_STATUSES = {"approved": "1", "hold": "0"}
"""Of comments, as the database writes them."""


class ApiError(ValueError):
    """A kept API cannot be read; the message is for a person."""


def first_line(site: Mapping[str, Any]) -> bytes:
    """Return the line that a file begins with; ``site`` is what WordPress says of it, nothing where there is none."""
    said = {name: site.get(name, "") for name in ("name", "url", "home", "gmt_offset", "timezone_string")}
    return orjson.dumps({"form": FORM, "site": said if site else {}}) + b"\n"


def line(what: str, total: int, items: list[dict[str, Any]]) -> bytes:
    """Return a line of items: ``posts``, ``terms``, ``comments`` or ``users``; of how many there are in all."""
    return orjson.dumps({"what": what, "total": total, "items": items}) + b"\n"


def refusal(route: str, why: str) -> bytes:
    """Return a line that says that a route was not answered."""
    return orjson.dumps({"refused": route, "why": why}) + b"\n"


def recognise(beginning: bytes) -> bool:
    """Whether a file begins like one of answers."""
    return beginning.startswith(b'{"form":"' + FORM.encode() + b'"')


class Api:
    """What the lines of a file of answers hold, read one by one."""

    def __init__(self) -> None:
        self._items = {name: Items(table) for name, (table, _) in _TABLES.items()}
        self._known: dict[str, set[str]] = {name: set() for name in _TABLES}
        self._settings: dict[str, str] = {}
        self.refused: dict[str, str] = {}
        """Routes that were not answered, and why."""

    def steps(self, read: Callable[[int], bytes]) -> Iterator[None]:
        """Read to the end, a piece with each step. Raises ApiError."""
        rest, number = b"", 1
        while piece := read(PIECE):
            *lines, rest = (rest + piece).split(b"\n")
            for one in lines:
                self._line(one, number)
                number += 1
            if len(rest) > LONGEST:
                raise ApiError(f"Line {number:,} is longer than {LONGEST >> 20} MB.")
            yield
        if rest:
            raise ApiError(f"It ends within line {number:,}.")

    def _line(self, text: bytes, number: int) -> None:
        try:
            said = orjson.loads(text)
            if "form" in said:
                self._settings = {name: str(value) for name, value in said["site"].items() if value not in (None, "")}
            elif "refused" in said:
                self.refused[str(said["refused"])] = str(said["why"])
            else:
                self._take(said["what"], said["items"])
        except (orjson.JSONDecodeError, KeyError, TypeError, AttributeError) as error:
            raise ApiError(f"Line {number:,}: it is none that Palinode wrote ({error}).") from None

    def _take(self, what: str, items: list[dict[str, Any]]) -> None:
        fields = _TABLES[what][1]
        known, key = self._known[what], fields[Field.IDENTITY]
        some = []
        for one in items:
            ident = f"{one.get('type', '')} {one[key]}" if what == LISTED else str(one[key])
            if ident not in known:
                known.add(ident)
                some.append(one)
        if some:
            packed = {field: b"\0".join(_text(one, field, name) for one in some) for field, name in fields.items()}
            self._items[what].add(len(some), packed, None)

    @property
    def installations(self) -> list[Installation]:
        """What was read so far: WordPress, if its API answered, and what other listings hold."""
        found = []
        if self._settings:
            settings = self._settings | {"siteurl": self._settings.get("url", "")}
            items = tuple(one for name, one in self._items.items() if name != LISTED)
            found.append(Installation(wordpress.PLATFORM, items, settings=settings))
        if self._items[LISTED].count:
            found.append(Installation(listed.PLATFORM, (self._items[LISTED],)))
        return found


def _text(item: Mapping[str, Any], field: Field, name: str) -> bytes:
    value = item.get(name, "")
    if isinstance(value, dict):
        value = html.unescape(str(value.get("raw", value.get("rendered", ""))))
    text = str(value if value is not None else "").replace("\0", "")
    if field is Field.DATE:
        text = text.replace("T", " ")
    if field is Field.STATUS:
        text = _STATUSES.get(text, text)
    return (html.unescape(text) if field is Field.TITLE else text).encode()

"""The address rule: which source address becomes which address at the destination.

A small written language, one line each; docs/address-rule.md holds its test vectors.

    https://tidemill.quillhaven.example/ -> https://quillhavenmill.example/
    /shop/ -> /store/
    /?p=2210 -> /journal/spring-neaps
    only /about-us -> /visit/about
    /search -> /find ; query drop
    /<number>/<number>/ -> /
    https://quillhavenmill.example/ at https://stage.host.example/~mill/
    slash remove
    # a remark

What is decided:

- Both sides may be written whole or as a path; a path belongs to the first line's host.
- ``only`` is an exception: it takes that one address, path and query, and nothing below it.
- The order of lines does not matter. Exceptions come first, then lines for the address's own host,
  then the path of most segments, then a line that names the query. Two equal left sides are an error.
- A path ends at a segment: ``/shop`` and ``/shop/`` mean the same, take ``/shop/rye`` and ``/shop``
  and leave ``/shopping-list`` alone.
- ``<number>`` is a segment of digits. A line that has one takes what stands below its path, not that path itself; on
  the right side it is the number that stood on the left, in their order. Of as many segments, words come first.
- ``http``/``https`` and ``www.``/bare host are one side; the right side says which form it takes.
- Letter case counts. ``%7e``, ``%7E`` and ``~`` are the same when lines are matched.
- The query stays, unless a line says ``query drop``; a query that a line names is used up by it.
- Trailing slashes stay, unless ``slash add`` or ``slash remove`` is said; files keep their form.
- An address of another host is outside: it stays what it is, but for addresses of the source inside it, as in
  ``?u=https%3A%2F%2Fold.example%2F`` (nested_address.py).
- ``FINAL at TEMPORARY`` says where a host of the copy is reached for now (temporary_address.py); what is expected is
  the final form.
"""

import re
from collections.abc import Iterable, Sequence, Set
from dataclasses import dataclass
from functools import cached_property
from typing import Literal

from palinode.core import address as addresses
from palinode.core import nested_address
from palinode.core.address import AddressError, Parts
from palinode.core.temporary_address import Forms, TemporaryAddress

Slash = Literal["keep", "add", "remove"]
Query = Literal["keep", "drop"]


VERSION = 3
"""Raised when the same text comes to expect something else, since what rules expect is kept."""
NUMBER = "<number>"
"""Stands for a segment of digits."""
_NUMBER = "%3Cnumber%3E"
"""As it stands in an address in normal form."""
LIMIT = 200_000
"""Characters of a rule."""


class RuleError(ValueError):
    """A line of the rule cannot be read; ``line`` is its number, from 1."""

    def __init__(self, line: int, message: str) -> None:
        super().__init__(f"Line {line}: {message}")
        self.line = line
        self.message = message


@dataclass(frozen=True)
class Line:
    """One line of the rule, read."""

    number: int
    host: str
    """Folded: without ``www.``."""
    path: str
    """Without trailing slash, so the root is empty; for an exception the path as it stands."""
    query: str
    only: bool
    to: Parts
    keeps: Query = "keep"
    takes: re.Pattern[str] | None = None
    """What its path takes, if it has numbers: a path with something below it."""


@dataclass(frozen=True)
class Expected:
    """The address expected at the destination, and what decided it."""

    address: str
    line: int | None
    """Number of the deciding line; None when the address is outside the rule."""
    notes: tuple[str, ...] = ()
    """What else was done, in words for a person."""


@dataclass(frozen=True)
class Rule:
    """An address rule, read from its text by :func:`read`; immutable and safe to share."""

    text: str
    lines: tuple[Line, ...]
    """In the order in which they are asked: the most special first."""
    slash: Slash = "keep"
    forms: Forms | None = None
    """The temporary addresses of the copy, if it has any."""

    def reached(self, address: str) -> str:
        """Return the form in which an address of the copy is asked for."""
        return self.forms.temporary_of(address) if self.forms else address

    def origins(self, origins: Iterable[str]) -> dict[str, str]:
        """Return for origins of the source those of the destination that take their place: where their homes go."""
        return {origin: addresses.origin(self._expect(f"{origin}/").address) for origin in origins}

    def expect(self, address: str) -> Expected:
        """Return what is expected of a source address (normal form) at the destination."""
        return self._expect(self.with_nested([address])[0])

    def with_nested(self, many: Sequence[str]) -> list[str]:
        """Return addresses with those inside them as they are expected, and else as they are."""
        return nested_address.mapped_many(many, lambda text: self._expect(text).address)

    def _expect(self, address: str) -> Expected:
        parts = addresses.split(address)
        host = addresses.bare_host(parts.host)
        path = parts.path
        even = _unreserved(path)
        for line in self.lines:
            if line.host != host:
                continue
            found = _match(line, path, parts.query)
            if found is None and even is not path:
                found = _match(line, even, parts.query)
            if found is not None:
                return self._apply(line, parts, *found)
        return Expected(address, None, ("outside the rule",))

    def expect_many(self, texts: Iterable[str]) -> list[str]:
        """Return the expected addresses of many source addresses, in their order.

        What depends on nothing but host and first segment is worked out once for all that share them.
        """
        texts = self.with_nested(list(texts))
        if self.slash != "keep" or any(line.keeps == "drop" or line.takes for line in self.lines):
            return [self._expect(text).address for text in texts]
        special = self._special
        # Host, first segment and "/" or "?" to what takes their place; None where that depends on more.
        begins: dict[str, str | None] = {"": None}
        expected = []
        for text in texts:
            end = text.find("/", text.find("/", 8) + 1)
            if end < 0:
                end = text.find("?", 8)
            start = text[: end + 1]
            if start not in begins:
                begins[start] = self._begin(start, special)
            begin = begins[start]
            expected.append(self._expect(text).address if begin is None else begin + text[end + 1 :])
        return expected

    def beginning(self, start: str) -> str | None:
        """Return how all expected addresses begin whose source begins with ``start``, which ends with "/".

        None where that depends on more: on lines for what stands below, on queries, on addresses within addresses.
        """
        if self.slash != "keep" or any(line.keeps == "drop" or line.takes for line in self.lines):
            return None
        return self._begin(start, self._special)

    @cached_property
    def _special(self) -> set[tuple[str, str]]:
        """Host and first segment of lines for what stands below."""
        return {
            (line.host, addresses.section(line_address(line)))
            for line in self.lines
            if line.only or line.query or line.path.count("/") > 1 or "%" in line.path
        }

    def _begin(self, start: str, special: Set[tuple[str, str]]) -> str | None:
        """Return how all expected addresses begin whose source begins with ``start``, which ends with "/" or "?"."""
        stem, mark = start[:-1], start[-1]
        parts = addresses.split(stem)
        empty = parts.path == "/" and mark == "/"
        if empty or parts.query or "%" in stem or (addresses.bare_host(parts.host), parts.path) in special:
            return None
        found = self.expect(stem).address
        return (found.removesuffix("/") if mark == "/" else found) + mark

    def _apply(self, line: Line, parts: Parts, rest: str, numbers: tuple[str, ...]) -> Expected:
        notes = []
        if line.only:
            return Expected(line.to.text, line.number, ("exception",))
        path = _filled(line.to.path.rstrip("/"), numbers) + rest
        query = parts.query
        if line.query:
            path, query = line.to.path, line.to.query
        elif query and line.keeps == "drop":
            query = ""
            notes.append("query dropped")
        elif query:
            notes.append("query kept")
        path, slashed = _slashed(path, self.slash)
        notes += slashed
        if parts.host != line.host:
            notes.append("www folded")
        return Expected(f"{line.to.scheme}://{line.to.host}{path or '/'}{query}", line.number, tuple(notes))


def line_address(line: Line) -> str:
    """Return the address of a line's left side, as it is written."""
    return Parts("https", line.host, line.path or "/", line.query).text.replace(_NUMBER, NUMBER)


def read(text: str) -> Rule:
    """Read the text of a rule.

    Raises RuleError for the first line that cannot be read.
    """
    lines: list[Line] = []
    slash: Slash = "keep"
    temporary: list[TemporaryAddress] = []
    home: tuple[Parts, Parts] | None = None
    seen: dict[tuple[str, str, str, bool], int] = {}
    for number, raw in enumerate(text.splitlines(), 1):
        written = re.sub(r"(^|\s)#.*", "", raw).strip()
        if not written:
            continue
        if option := re.fullmatch(r"slash\s+(\w+)", written):
            slash = _slash_option(number, option[1])
            continue
        if at := re.fullmatch(r"(\S+)\s+at\s+(\S+)", written):
            temporary.append(_temporary(number, at[1], at[2], temporary))
            continue
        line = _read_line(number, written, home)
        if home is None:
            home = (Parts("https", line.host, "/", ""), line.to)
        key = (line.host, _unreserved(line.path), line.query, line.only)
        if key in seen:
            raise RuleError(number, f"line {seen[key]} has the same left side. Take one of them out.")
        seen[key] = number
        lines.append(line)
    if not lines:
        raise RuleError(1, "the rule is empty. Its first line says which site becomes which.")
    lines.sort(key=_rank)
    return Rule(text, tuple(lines), slash, Forms(tuple(temporary)) if temporary else None)


def _rank(line: Line) -> tuple[bool, str, int, int, bool, int]:
    """Return where a line stands among others: the most special first."""
    path = line.path
    return not line.only, line.host, -path.count("/"), path.count(_NUMBER), not line.query, line.number


def derive(source: str, destination: str, further: Iterable[tuple[str, str]] = ()) -> str:
    """Return the rule's text for two base addresses in normal form, and for those of ``further`` hosts."""
    return "\n".join(f"{_folder(old)} -> {_folder(new)}" for old, new in [(source, destination), *further])


def lines_of_hosts(text: str, further: Iterable[tuple[str, str]]) -> list[str]:
    """Return a line for each further host, source and destination, that no line of a rule's text names.

    Raises RuleError for a text that cannot be read.
    """
    hosts = {line.host for line in read(text).lines}
    return [derive(old, new) for old, new in further if addresses.bare_host(addresses.split(old).host) not in hosts]


def joined(text: str, lines: Sequence[str]) -> str:
    """Return a rule's text with lines added at its end."""
    return "\n".join([text.rstrip("\n"), *lines]) if lines else text


def _folder(base: str) -> str:
    parts = addresses.split(base)
    return Parts(parts.scheme, parts.host, parts.path.rstrip("/") + "/", "").text


def _read_line(number: int, written: str, home: tuple[Parts, Parts] | None) -> Line:
    body, *options = (piece.strip() for piece in written.split(" ; "))
    keeps: Query = "keep"
    for option in options:
        if option not in ("query drop", "query keep"):
            raise RuleError(number, f"“{option}” is not known. Write “query drop” or “query keep”.")
        keeps = "drop" if option == "query drop" else "keep"
    only = body.startswith("only ")
    left, arrow, right = (piece.strip() for piece in body.removeprefix("only ").partition("->"))
    if not arrow or not left or not right:
        raise RuleError(number, "write it as OLD -> NEW, each a path or a whole address.")
    from_parts = _side(number, left, home[0] if home else None)
    to_parts = _side(number, right, home[1] if home else None)
    path = _unreserved(from_parts.path if only else from_parts.path.rstrip("/"))
    takes = _takes(number, path, to_parts.path, bool(only or from_parts.query))
    return Line(number, addresses.bare_host(from_parts.host), path, from_parts.query, only, to_parts, keeps, takes)


def _takes(number: int, path: str, to: str, alone: bool) -> re.Pattern[str] | None:
    """Return what a path with numbers takes; None for one without."""
    segments = path.split("/")
    if to.count(_NUMBER) > segments.count(_NUMBER):
        raise RuleError(number, f"the right side has more {NUMBER} than the left.")
    if _NUMBER not in path:
        return None
    if path.count(_NUMBER) > segments.count(_NUMBER):
        raise RuleError(number, f"{NUMBER} stands for a whole segment, as in /{NUMBER}/.")
    if alone:
        raise RuleError(number, f"{NUMBER} stands for many addresses, and this line takes one alone.")
    return re.compile("/".join(r"(\d+)" if one == _NUMBER else re.escape(one) for one in segments) + r"(?=/[^/])")


def _side(number: int, written: str, home: Parts | None) -> Parts:
    if written.startswith("/") and not written.startswith("//"):
        if home is None:
            raise RuleError(number, "the first line needs whole addresses, with https:// and host.")
        written = f"{home.scheme}://{home.host}{written}"
    try:
        return addresses.split(addresses.typed(written))
    except AddressError as error:
        raise RuleError(number, str(error)) from None


def _temporary(number: int, final: str, temporary: str, before: Sequence[TemporaryAddress]) -> TemporaryAddress:
    found = TemporaryAddress(*(_folder(_side(number, written, None).text) for written in (final, temporary)))
    if found.final == found.temporary:
        raise RuleError(number, "the final and the temporary address are the same. Take this line out.")
    if any(one.final == found.final for one in before):
        raise RuleError(number, f"a temporary address of {found.final} is named already. Take one of them out.")
    if any(one.temporary == found.temporary for one in before):
        raise RuleError(number, f"{found.temporary} stands for another address already. Take one of them out.")
    return found


def _slash_option(number: int, word: str) -> Slash:
    if word == "keep":
        return "keep"
    if word == "add":
        return "add"
    if word == "remove":
        return "remove"
    raise RuleError(number, f"slash {word} is not known. Write slash keep, slash add or slash remove.")


def _match(line: Line, path: str, query: str) -> tuple[str, tuple[str, ...]] | None:
    """Return what of ``path`` is left below the line's path, and its numbers; None if the line does not take it."""
    if line.takes:
        found = line.takes.match(path)
        return (path[found.end() :], found.groups()) if found else None
    if line.only:
        return ("", ()) if path == line.path and query == line.query else None
    if line.query and (query != line.query or path.rstrip("/") != line.path):
        return None
    if not path.startswith(line.path):
        return None
    rest = path[len(line.path) :]
    return (rest, ()) if not rest or rest[0] == "/" else None


def _filled(path: str, numbers: tuple[str, ...]) -> str:
    """Return a path with numbers in their places."""
    for number in numbers if _NUMBER in path else ():
        path = path.replace(_NUMBER, number, 1)
    return path


def _slashed(path: str, slash: Slash) -> tuple[str, tuple[str, ...]]:
    last = path.rpartition("/")[2]
    if slash == "add" and last and "." not in last:
        return path + "/", ("slash added",)
    if slash == "remove" and not last and len(path) > 1:
        return path.rstrip("/"), ("slash removed",)
    return path, ()


def _unreserved(path: str) -> str:
    """Return ``path`` with escapes of unreserved characters undone (RFC 3986 section 6.2.2)."""
    if "%" not in path:
        return path
    return re.sub(r"%([0-9A-Fa-f]{2})", _undo, path)


def _undo(escape: re.Match[str]) -> str:
    char = chr(int(escape[1], 16))
    return char if re.match(r"[A-Za-z0-9._~-]", char) else escape[0].upper()

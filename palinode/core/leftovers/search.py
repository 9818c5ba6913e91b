"""Where old names stand in a text, how each is spelled, and what is expected in its place."""

import base64
import binascii
import re
from collections.abc import Iterator
from enum import StrEnum
from functools import lru_cache
from typing import NamedTuple

from palinode.core import address as addresses
from palinode.core.leftovers import spelling
from palinode.core.leftovers.spelling import PLAIN, SPELLINGS, Spelling
from palinode.core.leftovers.wanted import OldName, Wanted
from palinode.core.rule import Rule

_DOT = r"(?:\.|%2e|%252e|&#46;|&#x2e;|&period;|\\u002e)"
_SLASH = "|".join(one.slash for one in SPELLINGS)
_COLON = "|".join(dict.fromkeys(one.colon for one in SPELLINGS))
_BEFORE = re.compile(
    rf"(?:(?P<scheme>https?)(?P<colon>{_COLON}))?(?P<slash>{_SLASH})(?P=slash)(?:[^\s/@\"'<>%&;\\]{{1,80}}@)?\Z",
    re.IGNORECASE,
)
_ACCOUNT = re.compile(r"[\w.+\-]{1,64}(?P<at>@|%40|%2540|&#64;|&#x40;|&commat;|\\u0040)\Z")
_PART_OF_NAME = re.compile(r"[\w\-]\.?\Z")
"""What stands before a name that goes on to the left; a dot by itself, as in the domain of a cookie, is none."""
_ESCAPE = re.compile(
    r"(?:%(?:25)?(?!2d|2e|5f|3\d|4[1-9a-f]|5[0-9a]|6[1-9a-f]|7[0-9a])[0-9a-f]{2}|\\[nrtbf]|\\u00(?!2d|2e|5f)[0-9a-f]{2})\Z",
    re.IGNORECASE,
)
"""What stands before a name and ends like a part of it, but is itself a character: ``%20``, a line end in a script."""
_AFTER = rf"(?![\w\-]|{_DOT}[\w\-])"
_PORT = re.compile(r"(?::|%3a|&#58;|&#x3a;)(\d{2,5})(?!\d)", re.IGNORECASE)
_ENDS = frozenset("/fF;@0")
"""Characters with which slashes end, however they are written, and what stands between an account and its host."""
_LOOKED_BACK = 120
_ESCAPED = 8
_LONGEST = 4_000
_TRAILING = ".,;:!?)]*"
_NO_TEXT = re.compile("[\udc80-\udcff]")
"""Bytes that are no UTF-8, as Python's surrogateescape has them (PEP 383)."""
_LABELS = re.compile(r"[A-Za-z0-9\-]{1,63}(?:\.[A-Za-z0-9\-]{1,63}){0,5}\.\Z")
_NAME = re.compile(r"(?:[A-Za-z0-9](?:[A-Za-z0-9\-]*[A-Za-z0-9])?\.)+")
"""Labels of a host name, each with its dot (RFC 1123 section 2.1)."""
_BASE64 = re.compile(r"[A-Za-z0-9+/_-]{24,}={0,2}")
_MOST_BASE64 = 200_000
_AROUND, _SAMPLE = 40, 240


class Kind(StrEnum):
    """What stands there."""

    ADDRESS = "address"
    RELATIVE = "protocol-relative address"
    NAME = "name"
    MAIL = "mail address"
    BELOW = "name below the old one"
    """Another name, which goes with the old domain if that is given up."""
    PATH = "path on the server"
    NUMBER = "IP address"


class Occurrence(NamedTuple):
    """One occurrence of what is looked for."""

    start: int
    end: int
    """Behind its last character."""
    written: str
    kind: Kind
    spelling: Spelling
    plain: str
    """As it would be written plain; the scheme of a protocol-relative one is left out."""
    slash: str = "/"
    """How slash and colon are written; the colon is empty without a scheme."""
    colon: str = ""
    in_base64: bool = False
    """It stands in a text in base64, whose bounds ``start`` and ``end`` are."""

    @property
    def address(self) -> str:
        """The address in normal form; empty for what is none."""
        if self.kind not in (Kind.ADDRESS, Kind.RELATIVE):
            return ""
        plain = self.plain if self.kind is Kind.ADDRESS else f"http:{self.plain}"
        return addresses.normal(_NO_TEXT.sub(lambda found: f"%{ord(found[0]) - 0xDC00:02X}", plain)) or ""


def find(text: str, wanted: Wanted) -> Iterator[Occurrence]:
    """Yield what stands in a text, in order of its place; names that only contain an old one are none."""
    found = list(_names(text, wanted)) + list(_paths(text, wanted)) + list(_numbers(text, wanted))
    if wanted.in_base64:
        found += _in_base64(text, wanted)
    end = -1
    # Of two that begin alike the longer one.
    for one in sorted(found, key=lambda one: (one.start, -one.end)):
        if one.start >= end:
            yield one
            end = one.end


def around(text: str, one: Occurrence) -> str:
    """Return an occurrence with what stands around it, in one line."""
    return " ".join(text[max(0, one.start - _AROUND) : one.end + _AROUND].split())[:_SAMPLE]


def at(text: str, place: int, wanted: Wanted) -> Occurrence | None:
    """Return what stands where a fragment of something wanted begins; None where that is a part of something else."""
    longest = 3 * max((len(one.host) for one in wanted.names), default=0)
    begin, end = max(0, place - longest), place + longest
    found = next((one for one in _names(text, wanted, begin, end) if one.end > place), None)
    if found is None and (wanted.paths or wanted.numbers):
        found = next((one for one in find(text, wanted) if one.start <= place < one.end), None)
    return found


def expected(one: Occurrence, rule: Rule) -> str:
    """Return what is expected in the place of an occurrence, in its own spelling; empty where the rule says nothing."""
    if one.kind in (Kind.ADDRESS, Kind.RELATIVE):
        address = one.address
        to = rule.expect(address).address if address else ""
        return "" if to == address else _written(one, address, to)
    if one.kind in (Kind.NAME, Kind.MAIL):
        _, at, name = one.plain.rpartition("@")
        host = addresses.split(rule.expect(f"http://{name.lower()}/").address).host
        if host == name.lower():
            return ""
        return one.written[: len(one.written) - len(name)] + host if at else host
    return ""


def stays(one: Occurrence, rule: Rule) -> bool:
    """Whether an address stays where it is by a line of the rule, so that it is no leftover."""
    if not (address := one.address):
        return False
    to = rule.expect(address)
    return to.line is not None and to.address == address


def _written(one: Occurrence, address: str, to: str) -> str:
    """Write an expected address as an occurrence is written; what the rule leaves of it stays as it is written."""
    plain, mark, fragment = one.plain.partition("#")
    scheme = 0 if one.kind is Kind.ADDRESS else to.index(":") + 1
    before, after = address.split("/"), to.split("/")
    same = 0
    while same < min(len(before), len(after)) - 3 and before[-1 - same] == after[-1 - same]:
        same += 1
    slashes = [found.start() for found in re.finditer(one.spelling.slash, one.written, re.IGNORECASE)]
    if same and len(slashes) - one.plain.count("/", len(plain)) == len(before) - 1 and slashes[2:]:
        # The last pieces are the same; slashes of a fragment follow them.
        kept = one.written[slashes[len(before) - 1 - same] :]
        return one.spelling.write("/".join(after[:-same])[scheme:], one.slash, one.colon) + kept
    if addresses.split(address).path == "/" and not plain.endswith("/") and "?" not in plain:
        to = to.removesuffix("/")
    return one.spelling.write(to[scheme:] + mark + fragment, one.slash, one.colon)


def _names(text: str, wanted: Wanted, begin: int = 0, behind: int | None = None) -> Iterator[Occurrence]:
    pattern = _pattern(tuple(wanted.by_host))
    if pattern is None:
        return
    old = wanted.by_host
    end = 0
    for found in pattern.finditer(text, begin, len(text) if behind is None else behind):
        if found.start() < end:
            # It stands within the address before, and goes where that goes.
            continue
        host = re.sub(_DOT, ".", found[0], flags=re.IGNORECASE).lower()
        one = _occurrence(text, found.start(), found.end(), host) or _below(
            text, found.start(), found.end(), host, wanted
        )
        if one and _is_old(one, old[host]):
            yield one
            end = one.end


@lru_cache(100)
def _pattern(hosts: tuple[str, ...]) -> re.Pattern[str] | None:
    if not hosts:
        return None
    written = [re.escape(host).replace(r"\.", _DOT) for host in sorted(hosts, key=len, reverse=True)]
    return re.compile(f"(?:{'|'.join(written)}){_AFTER}", re.IGNORECASE)


def _occurrence(text: str, start: int, end: int, host: str) -> Occurrence | None:
    """Return what a name at a place is a part of; None where it is a part of another name."""
    last = text[max(0, start - 1) : start]
    if last == "/" and (scheme := _plain_scheme(text, start)):
        return _address(text, start, end, host, len(scheme), scheme[:-3], "/", ":")
    back = text[max(0, start - _LOOKED_BACK) : start] if last in _ENDS else ""
    if before := _BEFORE.search(back):
        return _address(
            text, start, end, host, len(before[0]), before["scheme"] or "", before["slash"], before["colon"] or ""
        )
    if account := _ACCOUNT.search(back):
        begin = start - len(account[0])
        name = account[0][: len(account[0]) - len(account["at"])]
        return Occurrence(begin, end, text[begin:end], Kind.MAIL, PLAIN, f"{name}@{text[start:end]}")
    back = text[max(0, start - _ESCAPED) : start]
    if _PART_OF_NAME.search(back) and not _ESCAPE.search(back):
        return None
    return Occurrence(start, end, text[start:end], Kind.NAME, PLAIN, text[start:end])


def _below(text: str, start: int, end: int, host: str, wanted: Wanted) -> Occurrence | None:
    """Return what a name below an old one is a part of; None where it is another name, or one of the new site."""
    labels = _LABELS.search(text, max(0, start - _LOOKED_BACK), start)
    if labels is None:
        return None
    before = text[max(0, labels.start() - 1) : labels.start()]
    written = labels[0]
    # An escaped character ends with what may be a letter.
    written = written[2:] if before == "%" else written[1:] if before == "\\" else written
    name = f"{written}{host}".lower()
    if not _NAME.fullmatch(written) or name in wanted.staying or name in wanted.by_host:
        return None
    one = _occurrence(text, start - len(written), end, name)
    return one._replace(kind=Kind.BELOW) if one else None


def _plain_scheme(text: str, at: int) -> str:
    """Return the scheme that ends at a place and is written plain, with its slashes; empty for none."""
    for written in ("http://", "https://"):
        begin = at - len(written)
        if begin >= 0 and text[begin:at].lower() == written:
            return written
    return ""


def _address(
    text: str, start: int, end: int, host: str, before: int, scheme: str, slash: str, colon: str
) -> Occurrence:
    """Return the address that a host is a part of; its scheme and slashes take ``before`` characters."""
    how = spelling.of_slash(slash)
    port = _PORT.match(text, end)
    behind = port.end() if port else end
    rest = _rest(how).match(text, behind, behind + _LONGEST)
    path = rest[0] if rest else ""
    path = _trimmed(path, how) if path and _begins_path(path, how) else ""
    begin, stop = start - before, behind + len(path)
    said = f"{scheme.lower()}:" if scheme else ""
    plain = f"{said}//{host}{f':{port[1]}' if port else ''}{how.read(path)}"
    kind = Kind.ADDRESS if scheme else Kind.RELATIVE
    return Occurrence(begin, stop, text[begin:stop], kind, how, plain, slash, colon)


@lru_cache(20)
def _rest(how: Spelling) -> re.Pattern[str]:
    return re.compile(how.rest, re.IGNORECASE)


def _begins_path(path: str, how: Spelling) -> bool:
    """Whether what follows a name is its path, its query or its fragment."""
    return how.read(path)[:1] in ("/", "?", "#")


def _trimmed(path: str, how: Spelling) -> str:
    """Return a path without the punctuation of a sentence at its end."""
    if how is not PLAIN:
        return path
    while path and path[-1] in _TRAILING and not (path[-1] == ")" and "(" in path):
        if path[-1] == ";" and re.search(r"&\w{2,8};\Z", path):
            break
        path = path[:-1]
    return path


def _is_old(one: Occurrence, name: OldName) -> bool:
    """Whether an occurrence is old: of a name that stays, only what stands below its folder, or has its scheme."""
    if name.is_whole:
        return True
    if one.kind not in (Kind.ADDRESS, Kind.RELATIVE):
        # Names below one that stays are not old.
        return False
    parts = addresses.split(one.address) if one.address else None
    if parts is None or (name.port is not None and parts.host.partition(":")[2] != name.port):
        return False
    if name.scheme and (one.kind is Kind.RELATIVE or parts.scheme != name.scheme):
        return False
    return f"{parts.path}/".startswith(name.folder)


def _paths(text: str, wanted: Wanted) -> Iterator[Occurrence]:
    for path in wanted.paths:
        written = re.escape(path).replace("/", f"(?:{_SLASH})")
        for found in re.finditer(rf"(?<![\w.\-]){written}(?![\w\-]|\.\w)", text):
            yield Occurrence(found.start(), found.end(), found[0], Kind.PATH, PLAIN, path)


def _numbers(text: str, wanted: Wanted) -> Iterator[Occurrence]:
    for number in wanted.numbers:
        more = r"\w|:" if ":" in number else r"\w|\.\d"
        for found in re.finditer(rf"(?<![\w.:]){re.escape(number)}(?!{more})", text, re.IGNORECASE):
            yield Occurrence(found.start(), found.end(), found[0], Kind.NUMBER, PLAIN, number)


def _in_base64(text: str, wanted: Wanted) -> Iterator[Occurrence]:
    for found in _BASE64.finditer(text):
        token = found[0].replace("-", "+").replace("_", "/").rstrip("=")
        if len(token) > _MOST_BASE64:
            continue
        try:
            data = base64.b64decode(token + "=" * (-len(token) % 4), validate=True)
        except (binascii.Error, ValueError):
            continue
        if wanted.may_be_in(data):
            for one in _names(data.decode("utf-8", "replace"), wanted):
                yield one._replace(start=found.start(), end=found.end(), in_base64=True)
                break

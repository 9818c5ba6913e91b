"""How an address may be spelled: plain, escaped as in JSON, as entities, within another address, twice over.

A spelling is known by how it writes the colon and the slashes behind a scheme; the rest is written alike.

- ``http:\\/\\/mill.example\\/shop`` is ``http://mill.example/shop``, escaped
- ``https%3A%2F%2Fmill.example%2Fshop`` is ``https://mill.example/shop``, percent-encoded
- ``http:&#x2F;&#x2F;mill.example&#x2F;shop`` is ``http://mill.example/shop``, in entities
"""

import html
import re
from collections.abc import Callable
from dataclasses import dataclass
from functools import cache
from urllib.parse import quote, unquote

_UNESCAPED = "-_.!~*'()"
"""What encodeURIComponent leaves alone (ECMAScript section 19.2.6.4)."""
_CODE = re.compile(r"\\+u([0-9a-f]{4})", re.IGNORECASE)
_ESCAPE = re.compile(r"%(?:25)?[0-9A-F]{2}")


@dataclass(frozen=True)
class Spelling:
    """One way to write an address."""

    word: str
    """In words."""
    slash: str
    """Pattern of a slash; so are the next two."""
    colon: str
    rest: str
    """What may follow the name: path, query and fragment."""
    read: Callable[[str], str]
    """Returns it plain."""
    write: Callable[[str, str, str], str]
    """Writes a plain one, given how slash and colon are written."""


def _as_it_is(text: str) -> str:
    return text


def _unescaped(text: str) -> str:
    return re.sub(r"\\+/", "/", _CODE.sub(lambda found: chr(int(found[1], 16)), text))


def _twice(text: str) -> str:
    return unquote(unquote(text))


def _without_entities(text: str) -> str:
    return html.unescape(html.unescape(text))


def _replaced(text: str, slash: str, colon: str) -> str:
    """Write slashes, and the colon of the scheme, as they were written."""
    return text.replace("://", f"{colon}//", 1).replace("/", slash) if colon else text.replace("/", slash)


def _quoted(text: str, slash: str, _: str) -> str:
    return _in_case(quote(text, safe=_UNESCAPED), slash)


def _quoted_twice(text: str, slash: str, _: str) -> str:
    return _in_case(quote(quote(text, safe=_UNESCAPED), safe=_UNESCAPED), slash)


def _in_case(encoded: str, slash: str) -> str:
    """Return encoded text with its escapes in small letters, where that of the slash is."""
    return _ESCAPE.sub(lambda one: one[0].lower(), encoded) if slash.endswith("f") else encoded


_END = r"&quot;|&#0?3[49];|&#x2[27];|&apos;|&lt;|&gt;"
_CODE_END = "0022|0027|003c|003e"
SPELLINGS = (
    Spelling(
        "plain",
        "/",
        ":",
        # Character by character takes ten times as long as run by run.
        rf"[^\s\"'<>`\\{{}}|^&]*+(?:(?!{_END})&[^\s\"'<>`\\{{}}|^&]*+)*+",
        _as_it_is,
        _replaced,
    ),
    Spelling(
        "escaped",
        r"\\/",
        r":|\\u003a",
        rf"(?:\\/|\\u(?!{_CODE_END})[0-9a-f]{{4}}|[^\s\"'<>`\\])*",
        _unescaped,
        _replaced,
    ),
    Spelling("escaped twice", r"\\{2,7}/", r":|\\{1,7}u003a", r"(?:\\{2,7}/|[^\s\"'<>`\\])*", _unescaped, _replaced),
    Spelling(
        "in codes",
        r"\\{1,7}u002f|\\{1,7}x2f",
        r":|\\{1,7}u003a",
        rf"(?:\\+(?:u(?!{_CODE_END})[0-9a-f]{{4}}|x2f|/)|[^\s\"'<>`\\])*",
        lambda text: _unescaped(re.sub(r"\\+x2f", "/", text, flags=re.IGNORECASE)),
        _replaced,
    ),
    Spelling("percent-encoded", "%2f", r":|%3a", r"[^\s\"'<>&?#/\\;]*", unquote, _quoted),
    Spelling("percent-encoded twice", "%252f", r":|%3a|%253a", r"[^\s\"'<>&?#/\\;]*", _twice, _quoted_twice),
    Spelling(
        "in entities",
        "&#0?47;|&#x0?2f;|&sol;",
        r":|&#58;|&#x3a;|&colon;",
        rf"(?:(?!{_END})[^\s\"'<>`\\])*",
        _without_entities,
        _replaced,
    ),
    Spelling(
        "in entities twice",
        "&amp;(?:#0?47|#x0?2f|sol);",
        r":|&amp;(?:#58|#x3a|colon);",
        rf"(?:(?!{_END}|&amp;quot;)[^\s\"'<>`\\])*",
        _without_entities,
        _replaced,
    ),
)
"""In the order in which they are tried; a slash belongs to one of them alone."""
PLAIN = SPELLINGS[0]
_SLASHES = tuple((re.compile(one.slash, re.IGNORECASE), one) for one in SPELLINGS)


@cache
def of_slash(written: str) -> Spelling:
    """Return the spelling that writes a slash so."""
    return next(one for pattern, one in _SLASHES if pattern.fullmatch(written))

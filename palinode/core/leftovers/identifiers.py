"""Identifiers of services that a page names: keys that are made for a site's name, and may not hold for another.

They are told by how they are named and by their shapes, which do not change with the site.
"""

import re
from collections.abc import Iterator
from enum import StrEnum
from typing import NamedTuple


class Nature(StrEnum):
    """What an identifier is for."""

    SERVICE = "key of a service, as of maps"
    GUARD = "key that guards forms"
    PAYMENT = "key of a payment service"
    SIGN_IN = "identifier for log-in"
    MEASUREMENT = "identifier for measurement"


class Identifier(NamedTuple):
    """An identifier as it is written."""

    nature: Nature
    value: str


_NAMES = {
    ("site", "key"): Nature.GUARD,
    ("website", "key"): Nature.GUARD,
    ("api", "key"): Nature.SERVICE,
    ("access", "token"): Nature.SERVICE,
    ("publishable", "key"): Nature.PAYMENT,
    ("merchant", "id"): Nature.PAYMENT,
    ("client", "id"): Nature.SIGN_IN,
    ("app", "id"): Nature.SIGN_IN,
    ("site", "id"): Nature.MEASUREMENT,
    ("website", "id"): Nature.MEASUREMENT,
    ("tracking", "id"): Nature.MEASUREMENT,
    ("measurement", "id"): Nature.MEASUREMENT,
}
_BY_NAME = {"".join(words): nature for words, nature in _NAMES.items()}
_VALUE = r"[A-Za-z0-9][\w.\-]{5,199}"
_SHAPES = tuple(
    (beginning, re.compile(rf"{beginning}{rest}(?![\w\-])"), nature)
    for beginning, rest, nature in (
        ("AIza", r"[\w\-]{35}", Nature.SERVICE),
        ("6L", r"[\w\-]{38}", Nature.GUARD),
        ("pk_", r"(?:live|test)_[A-Za-z0-9]{10,180}", Nature.PAYMENT),
        ("G-", r"(?=[A-Z0-9]*\d)[A-Z0-9]{8,12}", Nature.MEASUREMENT),
        ("UA-", r"\d{4,10}-\d{1,3}", Nature.MEASUREMENT),
        ("GTM-", r"[A-Z0-9]{5,9}", Nature.MEASUREMENT),
    )
)
"""How each begins, which is looked for first, since patterns are tried at each character."""
_WORDS = "|".join("[_-]?".join(words) for words in _NAMES)
_NAMED = re.compile(
    rf"(?P<name>{_WORDS})(?:[\"']|&quot;)?\s{{0,5}}[:=]\s{{0,5}}(?:[\"']|&quot;)?(?P<value>{_VALUE})", re.IGNORECASE
)
_SPELLED = tuple(f"{one}{mark}{other}" for one, other in _NAMES for mark in ("", "-", "_"))
"""Texts in small letters of which each text with a named identifier holds one: a look that costs little."""
_PARAMETER = re.compile(rf"[?&;]key=(?P<value>{_VALUE})")
"""What a script is loaded with: the plainest name of all, which says something in an address alone."""


def find(text: str) -> Iterator[Identifier]:
    """Yield the identifiers that a page or a script names, some of them more than once."""
    yield from _shaped(text)
    lower = text.lower()
    for found in _NAMED.finditer(text) if any(one in lower for one in _SPELLED) else ():
        if _is_value(found["value"]) and not _is_inside(text, found.start()):
            yield Identifier(_BY_NAME[re.sub("[_-]", "", found["name"]).lower()], found["value"])
    for found in _PARAMETER.finditer(text):
        if _is_value(found["value"]):
            yield Identifier(Nature.SERVICE, found["value"])


def _shaped(text: str) -> Iterator[Identifier]:
    for beginning, shape, nature in _SHAPES:
        at = text.find(beginning)
        while at >= 0:
            found = shape.match(text, at)
            if found and not _is_inside(text, at, "-_"):
                yield Identifier(nature, found[0])
            at = text.find(beginning, at + len(beginning))


def _is_inside(text: str, at: int, more: str = "") -> bool:
    """Whether what begins at a place is the end of a longer word."""
    before = text[at - 1 : at]
    return before.isalnum() or (before != "" and before in more)


def _is_value(value: str) -> bool:
    """Whether a value may be an identifier, and was not told by its shape."""
    return any(map(str.isdigit, value)) and not any(shape.fullmatch(value) for _, shape, _ in _SHAPES)

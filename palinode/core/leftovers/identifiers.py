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
_SHAPES = (
    (Nature.SERVICE, r"AIza[\w\-]{35}"),
    (Nature.GUARD, r"6L[\w\-]{38}"),
    (Nature.PAYMENT, r"pk_(?:live|test)_[A-Za-z0-9]{10,180}"),
    (Nature.MEASUREMENT, r"G-(?=[A-Z0-9]*\d)[A-Z0-9]{8,12}|UA-\d{4,10}-\d{1,3}|GTM-[A-Z0-9]{5,9}"),
)
_WORDS = "|".join("[_-]?".join(words) for words in _NAMES)
_NAMED = re.compile(
    rf"(?<![A-Za-z0-9])(?:data[_-])?(?P<name>{_WORDS})(?:[\"']|&quot;)?\s{{0,5}}[:=]\s{{0,5}}(?:[\"']|&quot;)?(?P<value>{_VALUE})",
    re.IGNORECASE,
)
_PARAMETER = re.compile(rf"[?&;]key=(?P<value>{_VALUE})")
"""What a script is loaded with: the plainest name of all, which says something in an address alone."""
_SHAPED = re.compile("|".join(rf"(?<![\w\-])(?P<n{at}>{shape})(?![\w\-])" for at, (_, shape) in enumerate(_SHAPES)))


def find(text: str) -> Iterator[Identifier]:
    """Yield the identifiers that a page or a script names, some of them more than once."""
    for found in _SHAPED.finditer(text):
        yield Identifier(_SHAPES[int((found.lastgroup or "n0")[1:])][0], found[0])
    for found in _NAMED.finditer(text):
        if any(map(str.isdigit, found["value"])) and not _is_shaped(found["value"]):
            yield Identifier(_BY_NAME[re.sub("[_-]", "", found["name"]).lower()], found["value"])
    for found in _PARAMETER.finditer(text):
        if any(map(str.isdigit, found["value"])) and not _is_shaped(found["value"]):
            yield Identifier(Nature.SERVICE, found["value"])


def _is_shaped(value: str) -> bool:
    return _SHAPED.fullmatch(value) is not None

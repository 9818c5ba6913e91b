"""How caches are asked past, and what they say of the age of what they hold (RFC 9111)."""

import re
import secrets
from collections.abc import Mapping
from types import MappingProxyType

PAST_CACHES = MappingProxyType({"Cache-Control": "no-cache", "Pragma": "no-cache"})
"""Header fields that ask for what is current (RFC 9111 section 5.2.1.4)."""

_DIRECTIVE = re.compile(r"(s-maxage|max-age)\s*=\s*\"?(\d{1,10})", re.IGNORECASE)


def new_query(address: str) -> str:
    """Return an address with a query that no cache has seen."""
    mark = "&" if "?" in address else "?"
    return f"{address}{mark}fresh={secrets.token_hex(6)}"


def age(headers: Mapping[str, str]) -> int:
    """Return the seconds that an answer lay in caches, by its ``Age``; 0 if it does not say."""
    said = headers.get("age", "").strip()
    return int(said) if said.isdigit() and len(said) < 11 else 0


def keeps(headers: Mapping[str, str]) -> int:
    """Return the seconds for which a shared cache may keep an answer; 0 if it does not say."""
    told = {name.lower(): int(seconds) for name, seconds in _DIRECTIVE.findall(headers.get("cache-control", ""))}
    return told.get("s-maxage", told.get("max-age", 0))


def duration(seconds: int) -> str:
    """Return a time in words, as ``two hours`` would be said: the largest unit that fits."""
    for unit, size in (("day", 86_400), ("hour", 3_600), ("minute", 60)):
        if seconds >= size:
            number = round(seconds / size)
            return f"{number:,} {unit}{'' if number == 1 else 's'}"
    return f"{seconds} second{'' if seconds == 1 else 's'}"

"""How caches are asked past, what they say of the age of what they hold (RFC 9111), and when to ask again."""

import re
import secrets
from collections.abc import Mapping
from datetime import UTC
from email.utils import parsedate_to_datetime
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


def retry_after(headers: Mapping[str, str], now: float) -> float | None:
    """Return in how many seconds to ask again (RFC 9110 section 10.2.3); None if an answer does not say.

    It may be given in seconds, or as a date, which counts from the host's own ``Date``, else from ``now`` (seconds
    since the epoch).
    """
    said = headers.get("retry-after", "").strip()
    if said.isascii() and said.isdigit():
        return float(said[:10])
    when = _moment(said)
    return None if when is None else max(0.0, when - (_moment(headers.get("date", "")) or now))


def _moment(date: str) -> float | None:
    """Return the seconds since the epoch of an HTTP date (RFC 9110 section 5.6.7); None for what is none."""
    try:
        found = parsedate_to_datetime(date[:100])
    except (ValueError, IndexError, TypeError):
        return None
    return (found if found.tzinfo else found.replace(tzinfo=UTC)).timestamp()

"""Addresses inside addresses: what is shared, where a log-in leads back to; plain or percent-encoded.

- ``https://share.example/?u=https%3A%2F%2Fold.example%2Fflour`` holds ``https://old.example/flour``
- ``https://old.example/login?next=https://old.example/shop`` holds ``https://old.example/shop``
"""

import re
from collections.abc import Callable, Sequence
from urllib.parse import quote, unquote

from palinode.core import address as addresses

_MARK = re.compile(r"//|%2f%2f|%252f%252f", re.IGNORECASE)
_NESTED = re.compile(
    r"https?://[^&\s\"'<>]+|https?(?::|%3a)%2f%2f[^&/?#\s]+|https?%253a%252f%252f[^&/?#\s]+", re.IGNORECASE
)
_UNESCAPED = "-_.!~*'()"
"""What encodeURIComponent leaves alone (ECMAScript section 19.2.6.4)."""


def mapped_many(many: Sequence[str], expect: Callable[[str], str]) -> list[str]:
    """Return addresses with those inside them as they are expected; ``expect`` maps one."""
    return [mapped(one, expect) if _MARK.search(one, 8) else one for one in many]


def mapped(address: str, expect: Callable[[str], str]) -> str:
    """Return an address with those inside it as they are expected, encoded as they were."""
    start = address.find("/", 8)
    if start < 0:
        return address
    return address[:start] + _NESTED.sub(lambda found: _mapped(found[0], expect), address[start:])


def _mapped(written: str, expect: Callable[[str], str]) -> str:
    times = 0 if "://" in written[:8] and "%2f%2f" not in written[:14].lower() else 2 if "%25" in written[:12] else 1
    plain = written
    for _ in range(times):
        plain = unquote(plain)
    inner = addresses.normal(plain)
    if inner is None:
        return written
    to = expect(inner)
    if to == inner:
        return written
    if inner == plain + "/":
        to = to.removesuffix("/")
    for _ in range(times):
        to = quote(to, safe=_UNESCAPED)
    return _lower(to) if times and re.search(r"%[0-9]?[a-f]", written[:14]) else to


def _lower(encoded: str) -> str:
    """Return encoded text with its escapes in lower case."""
    return re.sub(r"%[0-9A-F]{2}", lambda found: found[0].lower(), encoded)

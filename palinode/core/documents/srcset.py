"""Image candidates of ``srcset`` and ``imagesrcset`` (WHATWG HTML, "parse a srcset attribute")."""

import re

LIMIT = 500
"""Candidates taken from one attribute."""
_BETWEEN = re.compile(r"[\s,]*+")
_ADDRESS = re.compile(r"\S++")
_DESCRIPTORS = re.compile(r"(?:[^,(]++|\([^)]*+\)?)*+,?")
"""What follows an address down to the comma that ends the candidate; one in parentheses does not."""


def read(written: str) -> list[str]:
    """Return the addresses of the candidates.

    A comma ends an address only at its very end: ``a,b.png 2x`` is one.
    """
    found: list[str] = []
    at = _end(_BETWEEN, written, 0)
    while at < len(written) and len(found) < LIMIT:
        end = _end(_ADDRESS, written, at)
        address = written[at:end].rstrip(",")
        if address and not address.lower().startswith("data:"):
            found.append(address)
        # Commas at the end of an address end the candidate; without them descriptors may follow.
        if not written.startswith(",", end - 1):
            end = _end(_DESCRIPTORS, written, end)
        at = _end(_BETWEEN, written, end)
    return found


def _end(pattern: re.Pattern[str], text: str, at: int) -> int:
    match = pattern.match(text, at)
    return match.end() if match else at

"""The ``Link`` header (RFC 8288)."""

import re
from dataclasses import dataclass

LIMIT = 200
"""Links taken from one header."""
LENGTH_LIMIT = 100_000
"""Characters that are read."""
_PARAMETER = re.compile(
    r"\s*+;\s*+([\w*!#$&+.^`|~-]*+)\s*+(?:=\s*+(?:\"((?:[^\"\\]++|\\.)*+)\"|([^\s;,\"]*+)))?", re.DOTALL
)


@dataclass(frozen=True)
class Link:
    """One link of a header."""

    target: str
    """As written."""
    relations: tuple[str, ...]
    """In lower case."""


def read(header: str) -> list[Link]:
    """Return the links of a header; repeated headers are joined by a comma."""
    found: list[Link] = []
    header = header[:LENGTH_LIMIT]
    at = 0
    while (start := header.find("<", at)) >= 0 and len(found) < LIMIT:
        end = header.find(">", start)
        if end < 0:
            break
        relations: tuple[str, ...] | None = None
        at = end + 1
        while parameter := _PARAMETER.match(header, at):
            at = parameter.end()
            if parameter[1].lower() == "rel" and relations is None:
                relations = tuple((parameter[2] or parameter[3] or "").lower().split())
        found.append(Link(header[start + 1 : end].strip(), relations or ()))
    return found

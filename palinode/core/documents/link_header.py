"""The ``Link`` header (RFC 8288)."""

import re
from dataclasses import dataclass

_LINK = re.compile(r"<([^>]*)>((?:\s*;\s*[\w*!#$&+.^`|~-]+\s*(?:=\s*(?:\"(?:[^\"\\]|\\.)*\"|[^\s;,\"]*))?)*)")
_PARAMETER = re.compile(r";\s*([\w*!#$&+.^`|~-]+)\s*(?:=\s*(?:\"((?:[^\"\\]|\\.)*)\"|([^\s;,\"]*)))?")
_MOST = 200


@dataclass(frozen=True)
class Link:
    """One link of a header."""

    target: str
    """As written."""
    relations: tuple[str, ...]
    """In lower case."""


def read(header: str) -> list[Link]:
    """Return the links of a header; repeated headers are joined by a comma."""
    found = []
    for match in _LINK.finditer(header[:100_000]):
        relations: tuple[str, ...] = ()
        for name, quoted, bare in _PARAMETER.findall(match[2]):
            if name.lower() == "rel" and not relations:
                relations = tuple((quoted or bare).lower().split())
        found.append(Link(match[1].strip(), relations))
        if len(found) >= _MOST:
            break
    return found

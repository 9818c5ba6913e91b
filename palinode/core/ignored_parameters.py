"""Parameters that do nothing to the content: session identifiers, tracking, told by what they do.

They stand in the query, or in a segment of the path as in ``/about;sid=7f`` (RFC 3986 section 3.3).

Whatever its name, a parameter is ignored when pages that differ in its value alone say the same, often enough
and without exception.
"""

from collections import defaultdict
from collections.abc import Iterable
from dataclasses import dataclass

from palinode.core import address as addresses

_ADDRESSES = 8
"""Addresses that must say the same as another one before a parameter is ignored."""


@dataclass(frozen=True)
class IgnoredParameter:
    """A parameter that does nothing."""

    name: str
    addresses: int
    """Addresses with it."""
    pages: int
    """What they are without it."""


def find(pages: Iterable[tuple[str, int]]) -> list[IgnoredParameter]:
    """Return the parameters to ignore among the pages of a site, each an address and a digest of what it says."""
    said = dict(pages)
    groups: dict[str, dict[str, dict[str, int]]] = defaultdict(lambda: defaultdict(dict))
    for address in said:
        for name in names(address):
            groups[name][without(address, frozenset({name}))][address] = said[address]
    found = [_judged(name, alike, said) for name, alike in groups.items()]
    return sorted((one for one in found if one), key=lambda one: -one.addresses)


def names(address: str) -> set[str]:
    """Return the names of the parameters of an address."""
    path, query = addresses.split(address)[2:]
    found = {part.partition("=")[0] for part in query[1:].split("&")} if query else set()
    if ";" in path:
        found |= {part.partition("=")[0] for segment in path.split("/") for part in segment.split(";")[1:]}
    return found - {""}


def without(address: str, ignored: frozenset[str]) -> str:
    """Return an address without the parameters of these names."""
    parts = addresses.split(address)
    if not ignored:
        return address
    path, query = parts.path, parts.query
    if ";" in path:
        path = "/".join(_kept(segment, ";", ignored, first=1) for segment in path.split("/"))
    if query:
        kept = _kept(query[1:], "&", ignored)
        query = f"?{kept}" if kept else ""
    return parts._replace(path=path, query=query).text


def _kept(text: str, mark: str, ignored: frozenset[str], first: int = 0) -> str:
    """Return a text of parameters between marks without some of them; the pieces before ``first`` are none."""
    pieces = text.split(mark)
    return mark.join([*pieces[:first], *(one for one in pieces[first:] if one.partition("=")[0] not in ignored)])


def _judged(name: str, alike: dict[str, dict[str, int]], bare: dict[str, int]) -> IgnoredParameter | None:
    same = number = 0
    for rest, said in alike.items():
        contents = set(said.values()) | ({bare[rest]} if rest in bare else set())
        if len(contents) > 1:
            return None
        number += len(said)
        same += len(said) - (0 if rest in bare else 1)
    return IgnoredParameter(name, number, len(alike)) if same >= _ADDRESSES else None

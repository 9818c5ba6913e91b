"""Query parameters that do nothing to the content: session identifiers, tracking, told by what they do.

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
    groups: dict[str, dict[str, dict[str, int]]] = defaultdict(lambda: defaultdict(dict))
    bare: dict[str, int] = {}
    for address, said in pages:
        head, mark, query = address.partition("?")
        if not mark:
            bare[head] = said
            continue
        parts = query.split("&")
        for name in {part.partition("=")[0] for part in parts}:
            rest = "&".join(part for part in parts if part.partition("=")[0] != name)
            groups[name][f"{head}?{rest}" if rest else head][address] = said
    found = [_judged(name, alike, bare) for name, alike in groups.items() if name]
    return sorted((one for one in found if one), key=lambda one: -one.addresses)


def without(address: str, names: frozenset[str]) -> str:
    """Return an address without the parameters of these names."""
    parts = addresses.split(address)
    if not names or not parts.query:
        return address
    kept = [part for part in parts.query[1:].split("&") if part.partition("=")[0] not in names]
    query = "&".join(kept)
    return parts._replace(query=f"?{query}" if query else "").text


def _judged(name: str, alike: dict[str, dict[str, int]], bare: dict[str, int]) -> IgnoredParameter | None:
    same = number = 0
    for rest, said in alike.items():
        contents = set(said.values()) | ({bare[rest]} if rest in bare else set())
        if len(contents) > 1:
            return None
        number += len(said)
        same += len(said) - (0 if rest in bare else 1)
    return IgnoredParameter(name, number, len(alike)) if same >= _ADDRESSES else None

"""The mappings of a move's JSON listings: kept, and tried on a side before they are."""

import asyncio
from collections.abc import Mapping, Sequence
from typing import Any, NamedTuple

from palinode.core import options
from palinode.core.exports import json_listing
from palinode.core.exports.json_listing import MOST_MAPPINGS, JsonMapping, MappingError
from palinode.gather import platform_api
from palinode.records.models import Move
from palinode.work import side_access


class Tried(NamedTuple):
    """What a mapping gives of the first page of a listing."""

    entries: list[dict[str, str]]
    more: bool
    """There is another page."""


def of(move: Move) -> list[JsonMapping]:
    """Return the mappings of a move."""
    return [options.kept(JsonMapping, one) for one in Move.objects.values_list("listings", flat=True).get(pk=move.pk)]


def read(given: Mapping[str, Any]) -> JsonMapping:
    """Read a mapping that a person typed. Raises OptionError and MappingError."""
    mapping: JsonMapping = options.read(JsonMapping, given)
    json_listing.check(mapping)
    return mapping


def keep(move: Move, mappings: Sequence[JsonMapping]) -> None:
    """Keep the mappings of a move in the place of those before. Raises MappingError for two of one noun."""
    nouns = [one.noun.strip().lower() for one in mappings]
    if len(set(nouns)) < len(nouns):
        raise MappingError("noun", "Two listings have the same noun.")
    if len(mappings) > MOST_MAPPINGS:
        raise MappingError("noun", f"More than {MOST_MAPPINGS} listings.")
    Move.objects.filter(pk=move.pk).update(listings=[json_listing.plain(one) for one in mappings])


def attempt(move: Move, which: str, mapping: JsonMapping) -> Tried:
    """Return what a mapping gives on a side. Raises MappingError and ApiRefusedError."""
    access, _ = side_access.side_of(move, which)
    asked = platform_api.listed(access, side_access.guard(), side_access.agent(), mapping)
    found, following = asyncio.run(asked)
    return Tried(found, bool(following) or bool(mapping.page and found))

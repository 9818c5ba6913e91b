"""Loads the identifiers of services that the pages of a capture name: read from its stored answers once, and kept."""

from collections.abc import Sequence

import numpy as np
import orjson

from palinode.core.leftovers import named_identifiers
from palinode.core.leftovers.named_identifiers import Gathering, NamedIdentifier
from palinode.records import array_files
from palinode.records.models import Capture
from palinode.work import read_leftovers
from palinode.work.comparing import leftover_files, stored_answers

_ARRAYS = ("said",)


def load(held: Sequence[Capture]) -> list[NamedIdentifier] | None:
    """Return the identifiers of a capture of pages, those that most name first; None where no name is old."""
    capture = held[0]
    if not leftover_files.of_move(capture.move):
        return None
    kept = array_files.once(capture.move_id, _name(capture), _ARRAYS, lambda: _made(capture))
    return named_identifiers.read(orjson.loads(kept["said"].tobytes()))


def _made(capture: Capture) -> dict[str, np.ndarray]:
    gathering = Gathering()
    for address, found in stored_answers.read(capture, read_leftovers.identifiers):
        gathering.add(address, found)
    return {"said": np.frombuffer(orjson.dumps(named_identifiers.plain(gathering.made())), np.uint8)}


def names(captures: Sequence[Capture]) -> set[str]:
    """Return the names of the files that captures have, or would have."""
    return {name for one in captures for name in array_files.names(one.move_id, _name(one), _ARRAYS).values()}


def _name(capture: Capture) -> str:
    return f"{capture.pk}-identifiers-{named_identifiers.VERSION}-{capture.readings}"

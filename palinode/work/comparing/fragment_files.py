"""Loads the fragments of a capture of pages: read from its stored answers once, and kept."""

from collections.abc import Sequence

from palinode.core import fragments
from palinode.core.fragments import ARRAYS, Fragments, Gathering
from palinode.records import array_files
from palinode.records.models import Capture
from palinode.work import read_fragments
from palinode.work.comparing import stored_answers


def load(capture: Capture) -> Fragments:
    """Return the links of a capture that lead to anchors, and the anchors that its pages have."""
    return Fragments.of(array_files.once(capture.move_id, _name(capture), ARRAYS, lambda: _made(capture).arrays()))


def _made(capture: Capture) -> Fragments:
    gathering = Gathering()
    for ident, found in stored_answers.read(capture, read_fragments.read):
        gathering.add(ident, found)
    return gathering.made()


def names(captures: Sequence[Capture]) -> set[str]:
    """Return the names of the files that captures have, or would have."""
    return {name for one in captures for name in array_files.names(one.move_id, _name(one), ARRAYS).values()}


def _name(capture: Capture) -> str:
    return f"{capture.pk}-fragments-{fragments.VERSION}-{capture.readings}"

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
    name = _name(capture)
    if arrays := array_files.read(capture.move_id, name, ARRAYS):
        return Fragments.of(arrays)
    gathering = Gathering()
    for ident, found in stored_answers.read(capture, read_fragments.read):
        gathering.add(ident, found)
    made = gathering.made()
    array_files.keep(capture.move_id, name, made.arrays())
    return made


def names(captures: Sequence[Capture]) -> set[str]:
    """Return the names of the files that captures have, or would have."""
    return {name for one in captures for name in array_files.names(one.move_id, _name(one), ARRAYS).values()}


def _name(capture: Capture) -> str:
    return f"{capture.pk}-fragments-{fragments.VERSION}-{capture.readings}"

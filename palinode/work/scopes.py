"""Which addresses belong to a side, as it is described now, and as it was when a capture was made."""

from palinode.core import rule as rules
from palinode.core.scope import Scope
from palinode.records.models import Capture, Move
from palinode.work import side_access


def of_side(move: Move, which: str) -> Scope:
    """Return the addresses of a side as they are reached now."""
    return _scope(move, which, side_access.bases(move, which))


def of_capture(capture: Capture) -> Scope:
    """Return the addresses that a capture is, or was, to record."""
    return _scope(capture.move, capture.which, capture.bases)


def _scope(move: Move, which: str, bases: tuple[str, ...]) -> Scope:
    return Scope(bases, rules.read(move.rule).forms if which == "destination" else None)

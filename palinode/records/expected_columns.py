"""What the address rule makes of a capture of the source, kept as arrays as long as the move has that rule."""

import hashlib
from dataclasses import dataclass, fields

import numpy as np

from palinode.core import address as addresses
from palinode.core.columns import changes_path, find
from palinode.core.edges import sums
from palinode.core.rule import VERSION, Rule
from palinode.records import array_files, column_files, lines
from palinode.records.column_files import CaptureColumns, name_of
from palinode.records.lines import Lines
from palinode.records.models import Capture


@dataclass(frozen=True)
class ExpectedColumns:
    """Of n answers of a capture and m addresses that they refer to besides."""

    text: np.ndarray
    """uint8: the address that the rule expects for each answer, in UTF-8, one a line."""
    ident: np.ndarray
    """int64 (n,): its identity."""
    planned: np.ndarray
    """bool (n,): the rule changes the path or the query."""
    elsewhere: np.ndarray
    """int64 (m,): identity of what the rule expects for what else is referred to."""
    edge_sum: np.ndarray
    """int64 (n,): as core/edges.py sums what each refers to in compared fields."""


_NAMES = tuple(one.name for one in fields(ExpectedColumns))


def of(capture: Capture, kept: CaptureColumns, texts: list[str], rule: Rule) -> ExpectedColumns:
    """Return what a rule makes of a capture; of the move's own rule it is kept. ``texts`` are its addresses."""
    what = _what(capture, rule.text)
    if found := array_files.read(capture.move_id, what, _NAMES):
        return ExpectedColumns(**found)
    expected = rule.expect_many(texts)
    ident = addresses.idents(expected)
    elsewhere = addresses.idents(rule.expect_many(Lines(kept.elsewhere_text, len(kept.elsewhere)).all()))
    made = ExpectedColumns(
        text=lines.of(expected),
        ident=ident,
        planned=changes_path(rule.with_nested(texts), expected),
        elsewhere=elsewhere,
        edge_sum=sums(np.concatenate([ident, elsewhere])[kept.refers], kept.places, kept.offsets),
    )
    if capture.state == Capture.State.CLOSED and rule.text == capture.move.rule:
        array_files.keep(capture.move_id, what, vars(made))
    return made


def sources(capture: Capture, rule: Rule, expected: np.ndarray) -> dict[int, str]:
    """Return the addresses of a capture of which a rule expects some identities (int64, ascending), by these."""
    kept = column_files.of(capture)
    made = of(capture, kept, kept.lines("text").all(), rule)
    found: dict[int, str] = {}
    for idents, texts in (
        (made.elsewhere, Lines(kept.elsewhere_text, len(kept.elsewhere))),
        (made.ident, kept.lines("text")),
    ):
        at = find(expected, idents)
        rows = np.flatnonzero(at >= 0)
        found |= dict(zip(idents[rows].tolist(), texts.at(rows), strict=True))
    return found


def names(captures: list[Capture]) -> set[str]:
    """Return the names of the files that some captures of a move have, or would have, by its present rule."""
    return {
        name for one in captures for name in array_files.names(one.move_id, _what(one, one.move.rule), _NAMES).values()
    }


def _what(capture: Capture, rule: str) -> str:
    return f"{name_of(capture)}-{VERSION}-{hashlib.sha256(rule.encode()).hexdigest()[:16]}"

"""Reads the stored answers of a capture, in reading processes, for what is wanted of them and was not kept."""

from collections.abc import Callable, Iterator, Sequence
from typing import Any, TypeVar

from django.db import connection

from palinode.records import plans
from palinode.records.models import Capture
from palinode.work import readers
from palinode.work.readers import Unreadable
from palinode.work.record_location import At
from palinode.work.stored_answer import StoredAnswer

_TOGETHER = 40
"""Answers handed to a reading process at once."""
_FETCHED = 2_000
_SQL = f"""
    SELECT a.ident, d.text, s.name, a."offset", t.name, b."offset" FROM
    (SELECT * FROM records_answer WHERE capture_id = %(capture)s AND ident > %(after)s AND variant = 0
     AND segment_id IS NOT NULL ORDER BY ident LIMIT %(most)s) a {plans.ADDRESS}
    JOIN records_segment s ON s.id = a.segment_id AND s.let_go_at IS NULL
    JOIN records_capture c ON c.id = s.capture_id AND c.move_id = %(move)s
    LEFT JOIN LATERAL (SELECT * FROM records_body WHERE move_id = %(move)s AND digest = a.body LIMIT 1) b ON true
    LEFT JOIN records_segment t ON t.id = b.segment_id AND t.let_go_at IS NULL
    ORDER BY a.ident"""

T = TypeVar("T")


def read(
    capture: Capture, function: Callable[..., Sequence[T]], *args: Any, unread: Callable[[], None] = lambda: None
) -> Iterator[T]:
    """Yield what a function finds in the answers of a capture; it is given some at a time, with ``args``.

    ``unread`` is called for each that cannot be read any more.
    """
    for some in _answers(capture):
        yield from _read(some, function, args, unread)


def _read(
    some: list[StoredAnswer],
    function: Callable[..., Sequence[T]],
    args: tuple[Any, ...],
    unread: Callable[[], None],
) -> Iterator[T]:
    try:
        yield from readers.ours().run(function, some, *args)
    except (Unreadable, FileNotFoundError, ValueError):
        if len(some) == 1:
            unread()
            return
        # One of them did it: each is read by itself.
        for one in some:
            yield from _read([one], function, args, unread)


def _answers(capture: Capture) -> Iterator[list[StoredAnswer]]:
    """Yield where the answers of a capture lie, some at a time, as they lie one after the other."""
    move, after = capture.move_id, -(2**63)
    while True:
        values = {"capture": capture.pk, "move": move, "after": after, "most": _FETCHED}
        with connection.cursor() as cursor:
            cursor.execute(_SQL, values)
            rows = cursor.fetchall()
        if not rows:
            return
        after = rows[-1][0]
        found = [
            StoredAnswer(ident, text, At(move, name, offset), At(move, other, place) if other else None)
            for ident, text, name, offset, other, place in rows
        ]
        found.sort(key=lambda one: (one.record.name, one.record.offset))
        yield from (found[start : start + _TOGETHER] for start in range(0, len(found), _TOGETHER))

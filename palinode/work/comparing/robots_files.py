"""Loads robots.txt of each host of a capture."""

from collections.abc import Sequence
from typing import NamedTuple

from django.db import connection

from palinode.core import address as addresses
from palinode.core.page import REDIRECTS
from palinode.core.robots import RobotsFile
from palinode.core.scope import AskedFor
from palinode.records import plans
from palinode.records.models import Capture
from palinode.work import evidence, read_robots, readers
from palinode.work.readers import Unreadable

_HOPS = 5
"""Redirects that are followed, as RFC 9309 section 2.3.1.2 asks for at least."""
_NAME = "/robots.txt"
_SQL = f"""SELECT a.ident, d.text, a.status, a.reason, a.target, a.body FROM records_frontier f
    CROSS JOIN LATERAL (SELECT * FROM records_answer WHERE capture_id = f.capture_id AND ident = f.ident LIMIT 1) a
    {plans.ADDRESS} WHERE f.capture_id = %(capture)s AND f.asked_for = %(asked_for)s"""


class _Answer(NamedTuple):
    text: str
    status: int | None
    reason: str | None
    target: int | None
    body: bytes | None


def load(held: Sequence[Capture]) -> tuple[RobotsFile, ...] | None:
    """Return what each host answered to the request for its rules; None if none was asked for them.

    Where several captures asked a host, the last of them holds.
    """
    found = {one.origin: one for capture in held for one in _load(capture)}
    return tuple(found[origin] for origin in sorted(found)) or None


def _load(capture: Capture) -> tuple[RobotsFile, ...]:
    with plans.by_key(), connection.cursor() as cursor:
        cursor.execute(_SQL, {"capture": capture.pk, "move": capture.move_id, "asked_for": int(AskedFor.ROBOTS)})
        answers = {ident: _Answer(*rest) for ident, *rest in cursor.fetchall()}
    return tuple(
        _file(capture, answers, ident, one.text.removesuffix(_NAME))
        for ident, one in sorted(answers.items(), key=lambda item: item[1].text)
        if one.text == addresses.origin(one.text) + _NAME
    )


def _file(capture: Capture, answers: dict[int, _Answer], ident: int, origin: str) -> RobotsFile:
    one = answers[ident]
    for _ in range(_HOPS):
        if one.status not in REDIRECTS or one.target not in answers:
            break
        one = answers[one.target]
    if one.status is None:
        return RobotsFile(origin, -1, reason=one.reason or "")
    if one.status != 200 or one.body is None:
        return RobotsFile(origin, one.status)
    at = evidence.body_at(capture.move_id, bytes(one.body))
    if at is None:
        return RobotsFile(origin, -1, reason="its stored body was let go of")
    try:
        text, rules = readers.ours().run(read_robots.read, at)
    except (FileNotFoundError, Unreadable, ValueError) as error:
        return RobotsFile(origin, -1, reason=f"what was stored cannot be read ({error})")
    return RobotsFile(origin, 200, text, rules=rules)

"""A capture that goes on from an earlier one of the same side: all of it, what failed, a section, a list.

What is not asked for again is taken over from the parent as rows that point to what is stored, so that every
capture is whole by itself. What is asked for again is asked by ``ETag`` and ``Last-Modified``.
"""

from collections.abc import Iterator
from dataclasses import dataclass, replace
from enum import StrEnum
from typing import Any

from django.db import connection

from palinode.core import address as addresses
from palinode.core.discovery import Discovery
from palinode.core.documents import address_list
from palinode.core.reason import Reason
from palinode.core.scope import AskedFor, Scope
from palinode.core.wording import number
from palinode.records import batch_commit, bulk_copy, captures, frontier, pattern_budgets, plans
from palinode.records.models import Answer, Capture, Frontier, Move, Segment
from palinode.records.rows import Found
from palinode.work import scopes

_LISTED = 100_000
"""Addresses of a list at most; longer ones are imported for the side instead."""
_GIVEN = Discovery.HOME | Discovery.LIST | Discovery.LOG | Discovery.DATABASE | Discovery.EXPECTED
_FAILED = f"(a.status = 429 OR a.status >= 500 OR (a.status IS NULL AND a.why <> {int(Reason.SHUT_OUT)}))"


class What(StrEnum):
    """What of the parent is asked again."""

    ALL = "all"
    FAILED = "failed"
    SECTION = "section"
    LIST = "list"


class AgainError(ValueError):
    """A capture cannot go on from there; ``field`` names what is wrong, the message is for a person."""

    def __init__(self, field: str, message: str) -> None:
        super().__init__(message)
        self.field = field


@dataclass(frozen=True)
class Again:
    """What a capture asks again of its parent."""

    parent: Capture
    what: What
    section: str = ""
    """Whole address; pages at or below it are asked again, and new ones there."""
    listed: tuple[str, ...] = ()
    """Whole addresses, asked whether they are known or not."""

    def plain(self) -> dict[str, Any]:
        """Return what is kept with the capture."""
        return {"what": self.what.value, "section": self.section, "listed": len(self.listed)}


def read(move: Move, which: str, parent: int, what: str, section: str, listed: str) -> Again:
    """Read what a person asks for: ``section`` as a path or whole address, ``listed`` as lines.

    Raises AgainError for a parent that is not fit, a section or a list of another site.
    """
    capture = captures.closed(move, pk=parent, which=which).first()
    if capture is None:
        raise AgainError("parent", "There is no closed capture of this side with that number.")
    scope = scopes.of_side(move, which)
    base = scope.bases[0]
    if not capture.bases or capture.bases[0] != base or not set(capture.bases) <= set(scope.bases):
        raise AgainError("parent", "The side had other addresses when that capture was made. Capture all of it anew.")
    pointed_to = Answer.objects.filter(capture=capture).values("segment_id")
    if Segment.objects.filter(pk__in=pointed_to).exclude(let_go_at=None).exists():
        raise AgainError("parent", "Files of that capture were let go of. Capture all of it anew.")
    if what == What.SECTION:
        address = addresses.normal(section.strip(), base) if section.strip() else None
        if address is None or not scope.holds(address):
            raise AgainError("section", f"Give a path below {base}, like /shop/, or a whole address of the side.")
        return Again(capture, What.SECTION, section=address)
    if what == What.LIST:
        return Again(capture, What.LIST, listed=tuple(_listed(listed, scope)))
    return Again(capture, What(what))


def site(capture: Capture) -> tuple[Scope, bool]:
    """Return which addresses a capture is to record, and whether it asks for what it finds."""
    scope, section = scopes.of_capture(capture), capture.again.get("section")
    return replace(scope, bases=(section,)) if section else scope, capture.again.get("what") != What.LIST


def plant(capture: Capture, again: Again) -> None:
    """Put what the parent knows into a new capture's frontier, and take over what is not asked again.

    Needs a transaction.
    """
    values = {"capture": capture.pk, "parent": again.parent.pk, "earlier": int(Discovery.EARLIER)}
    whole = again.what == What.ALL
    # All is learnt anew by a capture that asks for all, but for what people and the baseline gave.
    kept = int(_GIVEN) if whole else -1
    limits = [] if whole else [one for one in again.parent.limits if "not followed" in one]
    with plans.whole(), connection.cursor() as cursor:
        cursor.execute(
            f"""INSERT INTO records_frontier
                (capture_id, ident, state, depth, known, lease, asked_for, written, held_by)
                SELECT %(capture)s, f.ident, CASE WHEN f.state = %(left_out)s THEN f.state
                       WHEN {"true" if whole else f"a.ident IS NULL OR {_FAILED}"} THEN 0 ELSE 1 END,
                       f.depth, f.known & %(kept)s::int2 | %(earlier)s::int2, 0, f.asked_for, f.written,
                       f.held_by
                FROM records_frontier f
                LEFT JOIN records_answer a ON a.capture_id = f.capture_id AND a.ident = f.ident
                WHERE f.capture_id = %(parent)s
                {"AND f.asked_for <> %(probe)s AND f.state <> %(left_out)s" if whole else ""}""",
            values | {"left_out": Frontier.LEFT_OUT, "probe": int(AskedFor.PROBE), "kept": kept},
        )
        if not whole:
            # One that asks for all learns anew what patterns bring, beside all that was asked before.
            pattern_budgets.copy(capture, again.parent)
        if again.what in (What.SECTION, What.LIST):
            _choose(capture, _chosen(again))
            frontier.add(capture, [_found(address) for address in again.listed])
            limits += _never_asked(capture, again.parent)
        columns = batch_commit.ANSWER.replace("capture_id, ", "", 1)
        cursor.execute(
            f"INSERT INTO records_answer (capture_id, {columns}) "
            f"SELECT %(capture)s, {', '.join('a.' + one for one in columns.split(', '))} FROM records_answer a "
            "JOIN records_frontier f ON f.capture_id = %(capture)s AND f.ident = a.ident AND f.state = 1 "
            "WHERE a.capture_id = %(parent)s",
            values,
        )
        taken = cursor.rowcount
        cursor.execute("SELECT count(*) FROM records_frontier WHERE capture_id = %(capture)s AND state < 2", values)
        known = cursor.fetchone()[0]
    Capture.objects.filter(pk=capture.pk).update(
        known=known, asked=taken, taken_over=taken, limits=limits, **_counters(capture)
    )


def _choose(capture: Capture, chosen: set[int]) -> None:
    """Let the chosen addresses wait, and no others."""
    with connection.cursor() as cursor:
        cursor.execute(
            "UPDATE records_frontier f SET state = CASE WHEN ident = ANY(%s) THEN 0 ELSE 1 END "
            "WHERE capture_id = %s AND state <> %s",
            [list(chosen), capture.pk, Frontier.LEFT_OUT],
        )


def _never_asked(capture: Capture, parent: Capture) -> list[str]:
    """Leave out what the parent had not come to, which is not to be asked now either; say so as a limit."""
    with plans.whole(), connection.cursor() as cursor:
        cursor.execute(
            "UPDATE records_frontier f SET state = %s WHERE f.capture_id = %s AND f.state = %s AND NOT EXISTS "
            "(SELECT 1 FROM records_answer a WHERE a.capture_id = %s AND a.ident = f.ident)",
            [Frontier.LEFT_OUT, capture.pk, Frontier.ASKED, parent.pk],
        )
        left = cursor.rowcount
    return [f"{number(left, 'address', 'addresses')} that the capture before had not come to"] if left else []


def _chosen(again: Again) -> set[int]:
    if again.what == What.LIST:
        return {addresses.ident(one) for one in again.listed}
    scope = Scope((again.section,))
    sql = (
        "SELECT f.ident, d.text FROM records_frontier f JOIN records_address d ON d.move_id = %s AND d.ident = f.ident "
        "WHERE f.capture_id = %s AND f.asked_for <= %s"
    )
    found: set[int] = set()
    with plans.whole(), bulk_copy.stream(sql, [again.parent.move_id, again.parent.pk, int(AskedFor.FILE)]) as batches:
        for batch in batches:
            found.update(ident for ident, text in batch if scope.holds(text))
    return found


def _counters(capture: Capture) -> dict[str, int]:
    """Return the counters of what was taken over."""
    with plans.whole(), connection.cursor() as cursor:
        cursor.execute(
            "SELECT count(*) FILTER (WHERE is_page), count(*) FILTER (WHERE target IS NOT NULL), "
            "count(*) FILTER (WHERE status IS NULL), "
            "count(*) FILTER (WHERE status = 200 AND NOT is_page AND f.asked_for <= %s) "
            "FROM records_answer a JOIN records_frontier f USING (capture_id, ident) WHERE capture_id = %s",
            [int(AskedFor.FILE), capture.pk],
        )
        return dict(zip(("pages", "redirects", "not_fetched", "files"), cursor.fetchone(), strict=True))


def _listed(text: str, scope: Scope) -> Iterator[str]:
    tally = address_list.Tally()
    found: dict[str, None] = {}
    for address, _, _ in address_list.read(text.splitlines(), scope, tally, headed=False):
        found[address] = None
        if len(found) > _LISTED:
            raise AgainError("addresses", f"More than {_LISTED:,} addresses. Import the list for the side instead.")
    if tally.unread:
        raise AgainError("addresses", f"These are no addresses: {'; '.join(tally.examples)}")
    if not found:
        raise AgainError("addresses", f"No line names an address below {' or '.join(scope.bases)}.")
    yield from found


def _found(address: str) -> Found:
    return Found(addresses.ident(address), address, 1, int(Discovery.LIST), int(AskedFor.PAGE))

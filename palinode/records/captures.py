"""Captures begun, paused, resumed, stopped and closed."""

from collections.abc import Sequence

import numpy as np
from django.db import connection, transaction
from django.db.models import F, Max, QuerySet
from django.utils import timezone

from palinode.core.discovery import Discovery
from palinode.core.facts import VERSION
from palinode.records import bulk_copy, frontier, pattern_budgets, plans
from palinode.records.models import Capture, Move, Share

PAGED = (str(Capture.Kind.CRAWL), str(Capture.Kind.COPY))
"""Kinds of captures that hold pages: what opens a round, and what pages are compared of."""


def latest(move: Move, which: str, kinds: Sequence[str] = PAGED) -> Capture | None:
    """Return the latest closed capture of a side of a move that is of one of some kinds."""
    return closed(move, kinds, which=which).first()


def closed(move: Move, kinds: Sequence[str] = PAGED, **chosen: object) -> QuerySet[Capture]:
    """Return the closed captures of a move that are of some kinds, the latest first."""
    return move.captures.filter(kind__in=kinds, state=Capture.State.CLOSED, **chosen)


def begin(
    move: Move,
    which: str,
    policy: dict[str, object],
    access: dict[str, object],
    parent: Capture | None = None,
    again: dict[str, object] | None = None,
) -> Capture:
    """Make a capture; a destination's is the move's next round."""
    number = None
    if which == "destination":
        Move.objects.select_for_update().get(pk=move.pk)
        last = move.captures.filter(which=which).aggregate(Max("round"))["round__max"]
        number = (last or 0) + 1
    return Capture.objects.create(
        move=move,
        which=which,
        round=number,
        settings=policy,
        access=access,
        parent=parent,
        again=again or {},
        ignored=parent.ignored if parent else [],
    )


def join(capture: Capture) -> Share:
    """Take a share in a capture."""
    return Share.objects.create(capture=capture, seen_at=timezone.now())


def pause(capture: Capture, why: str) -> bool:
    """Pause a running capture; False if it was not running."""
    return bool(
        Capture.objects.filter(pk=capture.pk, state=Capture.State.RUNNING).update(state=Capture.State.PAUSED, why=why)
    )


def resume(capture: Capture) -> bool:
    """Set a paused capture running; False if it was not paused."""
    return bool(
        Capture.objects.filter(pk=capture.pk, state=Capture.State.PAUSED).update(state=Capture.State.RUNNING, why="")
    )


def end(capture: Capture, why: str = "", limit: str = "") -> bool:
    """Let nothing more be asked in a capture; False if it is ending or closed already.

    Its shares keep what is under way. ``why`` says who stopped it, ``limit`` which limit bit.
    """
    with transaction.atomic():
        current = Capture.objects.select_for_update().get(pk=capture.pk)
        if current.state in (Capture.State.ENDING, Capture.State.CLOSED):
            return False
        current.state, current.why = Capture.State.ENDING, why
        if limit:
            current.limits = [*current.limits, limit]
        current.save(update_fields=["state", "why", "limits"])
    return True


def close(capture: Capture) -> bool:
    """Close a capture for good; False if it was closed already.

    It is complete when every known address was asked, nobody stopped it, no limit bit, and what was left out of
    patterns brought nothing new any more.
    """
    with transaction.atomic():
        current = Capture.objects.select_for_update().get(pk=capture.pk)
        if current.state == Capture.State.CLOSED:
            return False
        current.state = Capture.State.CLOSED
        current.ended_at = timezone.now()
        pattern_budgets.leave_out(current)
        current.complete = not (
            current.why or current.limits or frontier.waiting(current) or pattern_budgets.may_miss(current)
        )
        # What is taken over from a parent, or did not change since, was read with it.
        current.facts_version = (current.parent and current.parent.facts_version) or VERSION
        current.save(update_fields=["state", "ended_at", "complete", "facts_version"])
        _sum_targets(current)
        if current.parent_id:
            _say_linked(current)
    return True


def miss(capture: Capture) -> None:
    """Say of a closed capture that it is not complete: it holds pages that lead further than was asked."""
    Capture.objects.filter(pk=capture.pk).update(complete=False)
    capture.complete = False


def rest(capture: Capture, host: str, until: float) -> None:
    """Let all shares of a capture leave a host alone until a moment, in seconds since the epoch."""
    with transaction.atomic():
        current = Capture.objects.select_for_update().get(pk=capture.pk)
        current.rests = {**current.rests, host: max(until, current.rests.get(host, 0.0))}
        current.save(update_fields=["rests"])


def add_seconds(capture: Capture, seconds: float) -> None:
    """Add to the time that shares have worked on a capture."""
    Capture.objects.filter(pk=capture.pk).update(seconds=F("seconds") + seconds)


def _sum_targets(capture: Capture) -> None:
    """Write how many pages refer to each address."""
    idents = np.zeros(0, np.int64)
    pages = np.zeros(0, np.int64)
    examples = np.zeros(0, np.int64)
    sql = (
        "SELECT a.ident, f.targets FROM records_answer a JOIN records_facts f "
        "ON f.move_id = %s AND f.key = a.facts WHERE a.capture_id = %s AND a.is_page"
    )
    with plans.whole(), bulk_copy.stream(sql, [capture.move_id, capture.pk], 2_000) as batches:
        for batch in batches:
            targets = [np.unique(np.frombuffer(row[1], "<i8")) for row in batch]
            sizes = [len(one) for one in targets]
            found = np.concatenate([idents, *targets])
            counts = np.concatenate([pages, np.ones(sum(sizes), np.int64)])
            from_page = np.concatenate([examples, np.repeat(np.array([row[0] for row in batch], np.int64), sizes)])
            idents, first, inverse = np.unique(found, return_index=True, return_inverse=True)
            pages = np.bincount(inverse, counts, len(idents)).astype(np.int64)
            examples = from_page[first]
    lines = [
        f"{capture.pk}\t{ident}\t{count}\t{example}\n"
        for ident, count, example in zip(idents.tolist(), pages.tolist(), examples.tolist(), strict=True)
    ]
    with connection.cursor() as cursor:
        cursor.execute("DELETE FROM records_target WHERE capture_id = %s", [capture.pk])
    bulk_copy.copy_in("records_target", "capture_id, ident, pages, example", lines)


def _say_linked(capture: Capture) -> None:
    """Say of addresses known from the parent that pages link to them; pages that did not change were not read."""
    with plans.whole(), connection.cursor() as cursor:
        cursor.execute(
            "UPDATE records_frontier f SET known = f.known | %(link)s::int2 FROM records_target t "
            "WHERE f.capture_id = %(capture)s AND t.capture_id = %(capture)s AND t.ident = f.ident "
            "AND f.known & %(link)s::int2 = 0 AND f.known & %(earlier)s::int2 <> 0",
            {"capture": capture.pk, "link": int(Discovery.LINK), "earlier": int(Discovery.EARLIER)},
        )

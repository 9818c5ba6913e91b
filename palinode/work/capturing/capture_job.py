"""Captures begun and kept going: rows and jobs together."""

from dataclasses import replace

from django.db import transaction

from palinode.records import captures, frontier
from palinode.records.captures import PAGED
from palinode.records.models import Capture, Move
from palinode.work import job_queue, side_access
from palinode.work.capturing import capture_end, seeds, shares
from palinode.work.capturing import recapture as planting
from palinode.work.capturing.policy import Policy
from palinode.work.capturing.recapture import Again, What


class Busy(Exception):
    """The side is being captured already."""


def begin(move: Move, which: str, policy: Policy, again: Again | None = None) -> Capture:
    """Begin a capture of a side, anew or from an earlier one, and offer its shares to workers.

    Raises Busy if one of that side is not closed yet, and OptionError for a host that the side has not.
    """
    access, honours = side_access.side_of(move, which)
    if again and again.what != What.ALL:
        access = replace(access, bases=again.parent.bases)
    else:
        access = side_access.narrowed(access, policy.hosts)
    with transaction.atomic():
        Move.objects.select_for_update().get(pk=move.pk)
        if move.captures.filter(which=which, kind__in=PAGED).exclude(state=Capture.State.CLOSED).exists():
            raise Busy
        capture = captures.begin(
            move,
            which,
            policy.plain(),
            side_access.told(access, honours),
            again.parent if again else None,
            again.plain() if again else None,
        )
        if again:
            planting.plant(capture, again)
        if again is None or again.what == What.ALL:
            seeds.plant(capture)
        shares.offer(capture, policy.workers)
    return capture


def resume(capture: Capture) -> bool:
    """Set a paused capture going again; False if it was not paused."""
    with transaction.atomic():
        if not captures.resume(capture):
            return False
        shares.offer(capture, Policy.kept(capture.settings).workers)
    return True


def take_up() -> None:
    """See to each capture that no living share works on: offer shares of it again, or close one that was ending."""
    for capture in Capture.objects.filter(state=Capture.State.ENDING):
        capture_end.conclude(capture)
    for capture in Capture.objects.filter(state=Capture.State.RUNNING):
        if not frontier.living_shares(capture):
            workers = Policy.kept(capture.settings).workers
            job_queue.take_up(shares.SHARE, "capture_id", [capture.pk], times=workers or job_queue.workers())

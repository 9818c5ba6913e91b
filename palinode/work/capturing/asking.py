"""Asks for what checks want anew: one capture a side, which joins the set of the baseline or the round.

Such a capture is no round and is not judged; it asks what the checks say, follows redirects, and nothing else.
"""

from django.db import transaction

from palinode.core import address as addresses
from palinode.core.checks import ask, registry
from palinode.core.checks.ask import Asking, Variant
from palinode.core.discovery import Discovery
from palinode.records import capture_sets, captures, frontier
from palinode.records.models import Capture, Move
from palinode.records.rows import Found
from palinode.work import side_access
from palinode.work.capturing import shares
from palinode.work.capturing.policy import Policy
from palinode.work.comparing import check_run, comparison_job

HOPS = 10
"""Redirects that are followed one after the other."""
_SIDES = {"source": "left", "destination": "right"}


class AskingError(Exception):
    """Nothing is asked: no check wants it, it could belong to nothing, or the last asking is not answered yet.

    The message is for a person.
    """


def order(move: Move) -> list[Capture]:
    """Ask what checks want of the baseline and of the latest round; return the captures begun.

    When all of them have closed, both are compared. Raises AskingError.
    """
    heads = [head for head in (move.baseline, captures.latest(move, "destination")) if head]
    if not heads:
        raise AskingError("There is nothing to check yet. Capture a side first.")
    heads = [head for head in heads if _is_there(head)]
    if not heads:
        raise AskingError("The side had another address when it was captured. Capture it anew.")
    # Read before anything is locked: it may take seconds.
    wanted = [(head, asking) for head in heads if (asking := _wanted(head)).requests]
    if not wanted:
        raise AskingError("No check wants anything asked.")
    with transaction.atomic():
        Move.objects.select_for_update().get(pk=move.pk)
        if _open(move):
            raise AskingError("The checks are asking already. Wait for that, or stop it under Captures.")
        return [_begin(head, asking) for head, asking in wanted]


def repeat(head: Capture) -> None:
    """Ask for a new round what was asked for the one before; nothing if nothing was. Needs a transaction."""
    before = captures.closed(head.move, which=head.which, pk__lt=head.pk).first()
    was_asked = before is not None and before.set_members.filter(capture__kind=Capture.Kind.ASKED).exists()
    if was_asked and _is_there(head) and not _open(head.move) and (asking := _wanted(head)).requests:
        _begin(head, asking)


def close(capture: Capture) -> None:
    """Let what was asked join its set; when nothing is under way any more, compare. Needs a transaction."""
    # One after the other: of two that close at once each would take the other for open.
    Move.objects.select_for_update().get(pk=capture.move_id)
    head = capture.move.captures.filter(pk=capture.asking["head"]).first()
    if head is not None:
        capture_sets.add(head, capture)
    if not _open(capture.move):
        comparison_job.order_latest(capture.move)


def variants(capture: Capture) -> list[Variant]:
    """Return the variants of a capture's requests by their numbers, the plain GET first."""
    return [Variant(), *(Variant.read(one) for one in capture.asking.get("variants", ()))]


def _is_there(head: Capture) -> bool:
    """Whether a side is reached today at the addresses at which it was captured."""
    now = side_access.bases(head.move, head.which)
    return head.bases[:1] == now[:1] and set(head.bases) <= set(now)


def _open(move: Move) -> bool:
    return move.captures.filter(kind=Capture.Kind.ASKED).exclude(state=Capture.State.CLOSED).exists()


def _wanted(head: Capture) -> Asking:
    """Return the requests of all checks to the side of a capture of pages."""
    held, side = capture_sets.of(head), _SIDES[head.which]
    asks = [
        one
        for check in registry.CHECKS
        if check.asks is not None
        for one in check.asks(check_run.side_of(check, held), side)
    ]
    return ask.asking(asks)


def _begin(head: Capture, asking: Asking) -> Capture:
    access, honours = side_access.side_of(head.move, head.which)
    policy = Policy(sample=0, max_depth=HOPS, max_addresses=len(asking.requests) * (HOPS + 1))
    capture = Capture.objects.create(
        move=head.move,
        which=head.which,
        kind=Capture.Kind.ASKED,
        settings=policy.plain(),
        access=side_access.told(access, honours),
        asking={"head": head.pk, "variants": [one.plain() for one in asking.variants]},
    )
    found = [
        Found(addresses.ident(address), address, 0, int(Discovery.CHECK), int(asked_for), variant=variant)
        for address, asked_for, variant in asking.requests
    ]
    frontier.add(capture, found)
    shares.offer(capture)
    return capture

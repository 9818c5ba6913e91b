"""A baseline of addresses alone, for a source that is gone: what its database, an export or a list of then names."""

from django.contrib.auth.models import User
from django.db import transaction
from django.utils import timezone

from palinode.core.wording import number
from palinode.gather.access import Access
from palinode.records import capture_sets, captures, decisions, known_answers
from palinode.records.models import Capture, Decision, Move
from palinode.work import side_access
from palinode.work.capturing.policy import Policy
from palinode.work.comparing import comparison_job

NAME = "addresses"
REASON = "known by name alone: nobody asked for it while the source was there"


class NoAddressesError(ValueError):
    """No address of the source is known; the message is for a person."""


def make(move: Move, reason: str, author: User) -> Capture:
    """Make a capture of the addresses that are known of the source, and name it as the baseline.

    What was imported of the source belongs to it. ``reason`` is why there is no source to capture, which is recorded.
    Raises NoAddressesError.
    """
    with transaction.atomic():
        if not known_answers.count(move.pk, "source"):
            raise NoAddressesError(
                "No address of the source is known. Import a dump, an export or a list of its addresses first."
            )
        access = side_access.told(Access(side_access.bases(move, "source")), honours=False)
        capture = captures.begin(move, "source", Policy().plain(), access)
        pages, files = known_answers.write(capture, REASON)
        capture.kind, capture.name, capture.state = Capture.Kind.COPY, NAME, Capture.State.CLOSED
        capture.pages, capture.files, capture.known = pages, files, pages + files
        capture.complete, capture.ended_at, capture.sample = True, timezone.now(), {}
        capture.judgement = _judgement(pages + files)
        capture.save()
        for kind in Capture.SITE_FILES:
            if file := captures.latest(move, "source", [str(kind)]):
                capture_sets.add(capture, file)
        scope = {"what": "baseline", "capture": str(capture.pk)}
        decisions.decide(move, str(Decision.Kind.OVERRIDE), scope, reason, author)
        Move.objects.filter(pk=move.pk).update(baseline=capture)
        comparison_job.order_latest(move)
    return capture


def _judgement(count: int) -> dict[str, object]:
    sentence = f"It holds {number(count, 'address', 'addresses')} and no page: what pages said cannot be compared."
    return {"stands": True, "sentence": sentence, "grounds": [{"text": sentence, "against": True}], "recognised": {}}

"""Comparisons ordered and made: rows and jobs together."""

from django.db import transaction
from django.db.models import Max, Q
from django.utils import timezone

from palinode.core import rule as rules
from palinode.core import standing
from palinode.records import capture_sets, captures, check_options, findings
from palinode.records.models import Capture, Comparison, ComparisonCheck, Judgement, Move
from palinode.work import job_queue
from palinode.work.comparing import check_run, difference_signs, page_pairs, verdict
from palinode.work.comparing.page_pairs import Compared

COMPARE = "compare"
"""Name of the task that makes a comparison (tasks.py)."""


def order(move: Move, left: Capture, right: Capture) -> Comparison:
    """Make the row of a comparison of two captures with their sets, and the job that fills it, together.

    Two captures of one side are compared address by address: no rule lies between them, and what was
    found before is found again.
    """
    rule = move.rule
    if left.which == right.which:
        rule = rules.derive(left.access["base"], left.access["base"])
        before = move.comparisons.filter(left=left, right=right).exclude(state=Comparison.State.FAILED).first()
        if before:
            return before
    with transaction.atomic():
        Move.objects.select_for_update().get(pk=move.pk)
        decided, revised = _last_decision(move), check_options.last(move)
        members = capture_sets.wanted(left, right)
        waiting = move.comparisons.filter(state=Comparison.State.WAITING, left=left, right=right, rule=rule)
        # One that was begun has read the decisions and options of its beginning.
        for same in waiting.filter(Q(begun_at=None) | Q(decided=decided, revised=revised)):
            if capture_sets.kept(same) == members:
                return same
        comparison = Comparison.objects.create(move=move, left=left, right=right, rule=rule)
        capture_sets.keep(comparison, members)
        job_queue.offer(COMPARE, comparison_id=comparison.pk)
    return comparison


def order_latest(move: Move) -> Comparison | None:
    """Order what a decision about a move calls for: its baseline held against the latest round.

    None where one of them is not there yet. Called in the transaction of the decision.
    """
    current = Move.objects.select_related("baseline").get(pk=move.pk)
    latest = captures.latest(current, "destination")
    if current.baseline is None or latest is None or not latest.pages:
        return None
    return order(current, current.baseline, latest)


def _last_decision(move: Move) -> int:
    return move.decisions.aggregate(last=Max("pk"))["last"] or 0


def take_up() -> None:
    """Offer comparisons again that wait, and that no job makes."""
    waiting = Comparison.objects.filter(state=Comparison.State.WAITING, created_at__lt=job_queue.late())
    job_queue.take_up(COMPARE, "comparison_id", waiting.order_by("pk").values_list("pk", flat=True))


def make(comparison: Comparison) -> None:
    """Fill a comparison that waits; one that cannot be made says why."""
    if comparison.state != Comparison.State.WAITING:
        return
    read = {"decided": _last_decision(comparison.move), "revised": check_options.last(comparison.move)}
    Comparison.objects.filter(pk=comparison.pk).update(begun_at=timezone.now(), **read)
    comparison.refresh_from_db(fields=["begun_at", *read])
    try:
        compared = page_pairs.find(comparison, rules.read(comparison.rule))
        if compared.one_side:
            _hold(compared)
        else:
            _judge(compared)
    except Exception as error:
        Comparison.objects.filter(pk=comparison.pk, state=Comparison.State.WAITING).update(
            state=Comparison.State.FAILED, why=f"{type(error).__name__}: {error}"[:500]
        )
        raise


def _judge(compared: Compared) -> None:
    """Run all checks, find what became of their findings since the comparison before, and why; keep it all."""
    comparison = compared.comparison
    shared = difference_signs.shared(
        comparison, compared.paired, compared.ledger, compared.rule, compared.volatile, compared.repeated
    )
    runs, missing = check_run.run(compared, shared)
    with transaction.atomic():
        outcomes, reached = check_run.keep(comparison, runs), verdict.reach(compared, runs, missing)
        verdict.keep(compared, outcomes, reached)
        _finish(compared, reached.plain())


def _hold(compared: Compared) -> None:
    """Keep how two captures of one side differ; it is no verdict, and has no findings."""
    comparison = compared.comparison
    runs, _ = check_run.run(compared, ())
    changed = standing.changed(compared.ledger, compared.limits)
    with transaction.atomic():
        for place, outcome in enumerate(check_run.keep(comparison, runs)):
            ComparisonCheck.objects.create(comparison=comparison, place=place, outcome=outcome)
        Judgement.objects.create(comparison=comparison, findings=b"")
        _finish(compared, changed.plain())


def _finish(compared: Compared, said: dict[str, object]) -> None:
    """Write the counts of a comparison and its standing; from then on it is made."""
    comparison = compared.comparison
    comparison.findings = findings.Judged(comparison).counts()
    comparison.crossing = [list(row) for row in compared.ledger.crossing]
    comparison.standing = said
    comparison.state = Comparison.State.MADE
    comparison.save()

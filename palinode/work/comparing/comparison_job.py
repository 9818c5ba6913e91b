"""Comparisons ordered and made: rows and jobs together."""

from django.db import transaction
from django.db.models import Max, Q
from django.utils import timezone

from palinode.core import rule as rules
from palinode.core import standing
from palinode.core.standing import Basis
from palinode.records import capture_sets, captures, check_options, judgements
from palinode.records.models import Capture, Comparison, ComparisonCheck, Move
from palinode.work import job_queue, read_again
from palinode.work.comparing import check_run, comparison_findings, difference_signs, page_pairs
from palinode.work.comparing.page_pairs import Compared
from palinode.work.deciding import judgement

COMPARE = "compare"
"""Name of the task that makes a comparison (tasks.py)."""


def order(move: Move, left: Capture, right: Capture) -> Comparison:
    """Make the row of a comparison of two captures with their sets, and the job that fills it, together.

    Two captures of one side are compared address by address: no rule lies between them, and what was
    found before is found again.
    """
    rule = move.rule
    if left.which == right.which:
        rule = rules.derive(left.bases[0], left.bases[0], [(base, base) for base in left.bases[1:]])
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
        if same := waiting.select_for_update(skip_locked=True).filter(begun_at=None).first():
            # What joins the sets meanwhile is compared with it: five files imported are no five comparisons.
            same.members.all().delete()
            capture_sets.keep(same, members)
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
        for capture in (comparison.left, comparison.right):
            read_again.bring_up_to_date(capture)
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
    """Run all checks, find what became of their findings since the comparison before, and why; keep and judge it."""
    comparison = compared.comparison
    shared = difference_signs.shared(
        comparison, compared.paired, compared.ledger, compared.rule, compared.volatile, compared.repeated
    )
    runs, missing = check_run.run(compared, shared)
    with transaction.atomic():
        outcomes, result = check_run.keep(comparison, runs), comparison_findings.find(compared, runs, missing)
        comparison_findings.keep(compared, outcomes, result)
        _finish(compared)
        # Both sides are recorded, however they were: the copy is being rehearsed.
        Move.objects.filter(pk=comparison.move_id, stage=Move.Stage.BASELINE).update(stage=Move.Stage.REHEARSAL)
        judgement.renew(comparison)


def _hold(compared: Compared) -> None:
    """Keep how two captures of one side differ; it is no verdict, and has no findings."""
    comparison = compared.comparison
    runs, _ = check_run.run(compared, ())
    with transaction.atomic():
        for place, outcome in enumerate(check_run.keep(comparison, runs)):
            ComparisonCheck.objects.create(comparison=comparison, place=place, outcome=outcome)
        _finish(compared)
        judgements.keep_plain(comparison, standing.changed(Basis.of(compared.ledger, compared.limits)))


def _finish(compared: Compared) -> None:
    """Write which sections rows go to, and that the comparison is made."""
    comparison = compared.comparison
    comparison.crossing = [list(row) for row in compared.ledger.crossing]
    comparison.state = Comparison.State.MADE
    comparison.save(update_fields=["crossing", "state"])

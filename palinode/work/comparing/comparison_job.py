"""Makes a comparison: facts of two captures, through core, to a ledger."""

from collections.abc import Set
from dataclasses import replace
from datetime import timedelta

from django.conf import settings
from django.db import transaction
from django.utils import timezone

from palinode.core import compare, pairing, standing
from palinode.core import rule as rules
from palinode.core.boilerplate import NOTHING
from palinode.core.columns import PageDetails
from palinode.core.compare import Paired
from palinode.core.ledger import Ledger
from palinode.core.pairing.parts import NO_PARTS
from palinode.core.rule import Rule
from palinode.core.standing import Standing
from palinode.core.volatile import Volatile
from palinode.records import decisions, ledgers, pairing_input, sides
from palinode.records.models import Capture, Comparison, Move
from palinode.records.parallel_queries import at_once
from palinode.work import job_queue
from palinode.work.capturing import sampling
from palinode.work.comparing import difference_signs, merged_pages, verdict
from palinode.work.comparing.verdict import Compared

COMPARE = "compare"
"""Name of the task that makes a comparison (tasks.py)."""


def order(move: Move, left: Capture, right: Capture) -> Comparison:
    """Make a comparison's row and the job that fills it, together.

    Two captures of one side are compared address by address: no rule lies between them, and what was
    found before is found again.
    """
    base, rule = left.access["base"], move.rule
    if left.which == right.which:
        rule = rules.derive(base, base)
        before = move.comparisons.filter(left=left, right=right).exclude(state=Comparison.State.FAILED).first()
        if before:
            return before
    with transaction.atomic():
        comparison = Comparison.objects.create(move=move, left=left, right=right, rule=rule)
        job_queue.offer(COMPARE, comparison_id=comparison.pk)
    return comparison


def take_up() -> None:
    """Offer comparisons again that wait, and that no job makes."""
    late = timezone.now() - timedelta(seconds=settings.PALINODE_LEASE_SECONDS)
    for comparison in Comparison.objects.filter(state=Comparison.State.WAITING, created_at__lt=late):
        if not job_queue.is_offered(COMPARE, comparison_id=comparison.pk):
            job_queue.offer(COMPARE, comparison_id=comparison.pk)


def make(comparison: Comparison) -> None:
    """Fill a comparison that waits; one that cannot be made says why."""
    if comparison.state != Comparison.State.WAITING:
        return
    move = comparison.move
    try:
        rule = rules.read(comparison.rule)
        left, right = at_once(
            (sides.load_left, comparison.left, comparison.left.access["base"], rule),
            (sides.load_right, comparison.right, comparison.right.access["base"], rule.forms),
        )
        said = decisions.by_hand(move)
        paired = compare.pair(left, right, said)
        one_side = comparison.left.which == comparison.right.which
        volatile = sampling.volatile_of(comparison.left) | sampling.volatile_of(comparison.right)
        repeated = NOTHING if one_side else difference_signs.repeated(comparison, paired, rule)
        paired, *told = _with_found(comparison, paired, rule, replace(volatile, texts=repeated.texts), said.apart)
        ledger = compare.judge(paired, *told, decisions.retired(move), volatile.fields, repeated.idents)
        pieces = merged_pages.find(comparison, paired, told, ledger, rule) if not one_side else NO_PARTS
        ledger = compare.with_parts(ledger, pieces)
        limits = _cut_short(comparison, left.limits, right.limits)
        if one_side:
            _keep(comparison, ledger, standing.changed(ledger, limits))
        else:
            _judge(Compared(comparison, paired, ledger, rule, limits, volatile, repeated, pieces))
    except Exception as error:
        Comparison.objects.filter(pk=comparison.pk, state=Comparison.State.WAITING).update(
            state=Comparison.State.FAILED, why=f"{type(error).__name__}: {error}"[:500]
        )
        raise


def _with_found(
    comparison: Comparison, paired: Paired, rule: Rule, volatile: Volatile, apart: Set[tuple[int, int]]
) -> tuple[Paired, PageDetails, PageDetails]:
    """Return pairs with those that no address led to, and the details of both sides' pages that may be told of."""
    details = (
        (sides.details, comparison.left, paired.told_left, None, volatile),
        (sides.details, comparison.right, paired.told_right, rule.forms, volatile),
    )
    one_side = comparison.left.which == comparison.right.which
    if one_side or not len(paired.alone_left) or not len(paired.alone_right):
        return paired, *at_once(*details)
    # All at once, so that the database works while pages are read here.
    left, right, *told = at_once(
        (pairing_input.source_pages, comparison.left, paired.alone_left, rule),
        (pairing_input.destination_pages, comparison.right, paired.alone_right, rule.forms),
        *details,
    )
    paired = compare.with_found(paired, pairing.find(left, right, apart))
    by_links = compare.linked(paired, told[1], apart)
    return (compare.with_found(paired, by_links) if len(by_links) else paired), *told


def _judge(compared: Compared) -> None:
    """Find what is wrong or differs, what became of it since the comparison before, and why; keep it all."""
    comparison, ledger = compared.comparison, compared.ledger
    with transaction.atomic():
        # While the database takes the ledger in, the rest is worked out beside it.
        _, reached = at_once((ledgers.write, comparison, ledger), (verdict.reach, compared))
        verdict.keep(compared, reached)
        ledgers.finish(comparison, ledger, reached.plain())


def _keep(comparison: Comparison, ledger: Ledger, changed: Standing) -> None:
    with transaction.atomic():
        ledgers.write(comparison, ledger)
        ledgers.finish(comparison, ledger, changed.plain())


def _cut_short(comparison: Comparison, left: tuple[str, ...], right: tuple[str, ...]) -> tuple[str, ...]:
    names = ["source capture", "destination capture"]
    if comparison.left.which == comparison.right.which:
        names = ["earlier capture", "later capture"]
    return tuple(f"{name} {text}" for name, limits in zip(names, (left, right), strict=True) for text in limits)

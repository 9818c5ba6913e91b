"""Makes a comparison: facts of two captures, through core, to a ledger."""

from django.db import transaction
from procrastinate.contrib.django import app

from palinode.core import compare, standing
from palinode.core import rule as rules
from palinode.core.volatile import Volatile
from palinode.records import decisions, ledgers, sides
from palinode.records.beside import at_once
from palinode.records.models import Capture, Comparison, Move

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
        app.configure_task(COMPARE).defer(comparison_id=comparison.pk)
    return comparison


def make(comparison: Comparison) -> None:
    """Fill a comparison that waits; one that cannot be made says why."""
    if comparison.state != Comparison.State.WAITING:
        return
    move = comparison.move
    try:
        rule = rules.read(comparison.rule)
        left, right = at_once(
            (sides.load_left, comparison.left, comparison.left.access["base"]),
            (sides.load_right, comparison.right, comparison.right.access["base"], rule.forms),
        )
        paired = compare.pair(left, right, rule)
        volatile = volatile_of(comparison.left) | volatile_of(comparison.right)
        ledger = compare.judge(
            paired,
            *at_once(
                (sides.details, comparison.left, paired.told_left, None, volatile),
                (sides.details, comparison.right, paired.told_right, rule.forms, volatile),
            ),
            decisions.retired(move),
            volatile.fields,
        )
        limits = _cut_short(comparison, left.limits, right.limits)
        one_side = comparison.left.which == comparison.right.which
        verdict = standing.changed(ledger, limits) if one_side else standing.judge(ledger, limits)
        ledgers.store(comparison, ledger, verdict.plain())
    except Exception as error:
        Comparison.objects.filter(pk=comparison.pk, state=Comparison.State.WAITING).update(
            state=Comparison.State.FAILED, why=f"{type(error).__name__}: {error}"[:500]
        )
        raise


def volatile_of(capture: Capture) -> Volatile:
    """Return what was learnt to be volatile as a capture was made; on either side it is kept out on both."""
    return Volatile.read((capture.sample or {}).get("volatile", {}))


def _cut_short(comparison: Comparison, left: tuple[str, ...], right: tuple[str, ...]) -> tuple[str, ...]:
    names = ["source capture", "destination capture"]
    if comparison.left.which == comparison.right.which:
        names = ["earlier capture", "later capture"]
    return tuple(f"{name} {text}" for name, limits in zip(names, (left, right), strict=True) for text in limits)

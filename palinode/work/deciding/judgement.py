"""Judges comparisons: as they are made, and anew when something is decided that changes what findings count for."""

from collections.abc import Sequence

import numpy as np
from django.db import transaction
from django.utils import timezone

from palinode.core import judgement
from palinode.core.checks import registry
from palinode.core.expected import Expectation
from palinode.core.standing import Basis
from palinode.records import decisions, findings, judgements
from palinode.records.judgements import JudgedFindings
from palinode.records.models import Comparison, Decision, Judgement, Move
from palinode.work.capturing import sampling
from palinode.work.deciding import expected_differences


def renew(comparison: Comparison, decision: Decision | None = None) -> Judgement:
    """Judge a comparison by the decisions that hold now; ``decision`` is the one that calls for it.

    Needs a transaction, in which nothing else is decided about the move from here on.
    """
    move = Move.everything.select_for_update().get(pk=comparison.move_id)
    comparison.refresh_from_db(fields=["judgement"])
    judged = JudgedFindings(comparison)
    assert judged.found is not None
    expectations = decisions.expected(move)
    declared = {word: registry.KINDS[word].weight for word in judged.words}
    weights = judgement.weights_of(judged.words, declared, decisions.weights(move))
    found = judgements.found(judged)
    made = judgement.judge(
        found,
        weights,
        judgements.accepted(judged),
        _aside(judged, expectations),
        judged.found.causes,
        Basis.read(judged.found.basis),
        move.stage,
        lambda places: judgements.shown_on(judged, places),
    )
    return judgements.keep(
        comparison,
        judged.words,
        found,
        made,
        weights,
        judged.found.causes,
        [one.number for one in expectations],
        decision,
        decisions.next_end(move),
    )


def renew_latest(move: Move, decision: Decision | None = None) -> Comparison | None:
    """Judge the last comparison of a move anew; None if there is none. Needs a transaction."""
    latest = findings.latest(move)
    if latest is not None:
        renew(latest, decision)
    return latest


def renew_due() -> None:
    """Judge those comparisons anew of which a decision ended meanwhile."""
    for comparison in judgements.due(timezone.now()):
        with transaction.atomic():
            renew(comparison)


def _aside(judged: JudgedFindings, expectations: Sequence[Expectation]) -> np.ndarray:
    """Return int64 (n,): for each finding the number of the expectation that sets it aside, 0 for none.

    Pages are read for expectations alone that the judgement before did not know.
    """
    records, before = judged.records, judged.comparison.judgement
    known = list(before.expected) if before else []
    aside = np.zeros(len(records), np.int64)
    numbers = [one.number for one in expectations]
    if known and known == numbers[: len(known)]:
        aside = np.where(np.isin(records["decision"], known), records["decision"], 0)
        expectations = expectations[len(known) :]
    at = np.flatnonzero((aside == 0) & (records["cleared"] == 0))
    if expectations and len(at):
        left, right = findings.sides(judged, at)
        differing = judgements.differing(judged, at, left, right)
        comparison = judged.comparison
        volatile = sampling.volatile_of(comparison.left) | sampling.volatile_of(comparison.right)
        aside[at] = expected_differences.set_aside(comparison, differing, list(expectations), volatile)
    return aside

"""Judgements that came with an archive: whether they hold together, and their numbers here."""

import zlib
from collections.abc import Callable

import numpy as np
from django.db import connection

from palinode.core.checks import registry
from palinode.core.findings import State
from palinode.records import judgements
from palinode.records.models import Comparison, ComparisonFindings, Judgement, Move


def holds_together(comparison: Comparison) -> bool:
    """Whether the findings and the judgement of a comparison that came from elsewhere are of its own outcomes alone."""
    if comparison.judgement is None or comparison.judgement.comparison_id != comparison.pk:
        return False
    judged = judgements.JudgedFindings(comparison)
    records, checks = judged.records, judged.checks
    own = {one.outcome.move_id for one in checks} <= {comparison.move_id}
    in_order = [one.place for one in checks] == list(range(len(checks)))
    if judged.found is None or not own or not in_order or not set(judged.words) <= set(registry.KINDS):
        return False
    if not len(records):
        return True
    with connection.cursor() as cursor:
        cursor.execute(
            "SELECT outcome_id, count(*) FROM records_checkfinding WHERE outcome_id = ANY(%s) GROUP BY 1",
            [judged.numbers.tolist()],
        )
        known = dict(cursor.fetchall())
    sizes = np.array([known.get(one.outcome_id, 0) for one in checks], np.int64)
    rows = np.array([one.outcome.rows for one in checks], np.int64)
    if not (records["outcome"] < len(checks)).all() or not (records["kind"] < len(judged.words)).all():
        return False
    return bool(
        (records["place"] >= 0).all()
        and (records["place"] < sizes[records["outcome"]]).all()
        and (records["row"] < rows[records["outcome"]]).all()
        and (records["state"] <= max(State)).all()
        and (records["cleared"] <= judgements.DROPPED).all()
        and (records["follows"] < len(records)).all()
        and (records["cause"] < max(1, len(judged.found.causes))).all()
        and not _unknown_decisions(comparison.judgement, comparison.move)
    )


def states_fit(comparison: Comparison) -> bool:
    """Whether the last judgement of a comparison that came from elsewhere is one of its findings and causes."""
    judgement = comparison.judgement
    kept = ComparisonFindings.objects.filter(comparison_id=comparison.pk).first()
    if judgement is None or kept is None or judgement.states is None:
        return False
    standing = judgement.standing
    numbers = [cause.get("number", len(kept.causes)) for cause in standing.get("causes", [])]
    if not {"causes", "not_looked_at"} <= set(standing) or any(one >= len(kept.causes) for one in numbers):
        return False
    if comparison.left.which != comparison.right.which and not kept.basis:
        return False
    records = np.frombuffer(bytes(kept.findings), judgements.RECORD)
    if not len(records):
        return True
    if len(judgement.weights) != len(kept.kinds) or (records["kind"] >= len(kept.kinds)).any():
        return False
    try:
        states = judgements.unpacked(judgement, len(records) + 1)
    except (zlib.error, ValueError):
        return False
    aside = judgement.aside
    return (
        len(states) == len(records)
        and bool((states["decision"] <= len(judgement.decisions)).all())
        and isinstance(aside, dict)
        and all(place.isdecimal() and isinstance(pages, int) for place, pages in aside.items())
    )


def renumber_decisions(comparison: Comparison, number: Callable[[int], int | None]) -> None:
    """Give the decisions that a judgement names their numbers here; one that is not here sets nothing aside."""
    judgement = comparison.judgement
    if judgement is None:
        return
    judgement.decisions = [number(old) or 0 for old in judgement.decisions]
    judgement.expected = [new for old in judgement.expected if (new := number(old))]
    judgement.save(update_fields=["decisions", "expected"])


def _unknown_decisions(judgement: Judgement, move: Move) -> bool:
    """Whether findings are set aside by decisions of another move."""
    named = {one for one in judgement.decisions if one}
    return bool(named - set(move.decisions.filter(pk__in=named).values_list("pk", flat=True)))

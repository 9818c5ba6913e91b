"""Tries a further line of the address rule on the pages of a comparison; nothing is kept."""

from palinode.core import rule as rules
from palinode.core import rule_trial
from palinode.core.fates import Fate
from palinode.core.rule_trial import RuleTrial
from palinode.records import outcome_rows, outcomes, page_rows
from palinode.records.models import Comparison

_PAIRED = frozenset(fate.word for fate in (Fate.ALTERED, Fate.MOVED, Fate.KEPT))


def of_line(comparison: Comparison, line: str) -> RuleTrial:
    """Return what a line would do, beside those that a comparison was made with. Raises RuleError."""
    outcome = outcomes.of(comparison, page_rows.CHECK)
    assert outcome is not None, "a comparison that is made has pages"
    before, after = rules.read(comparison.rule), rules.read(f"{comparison.rule.rstrip()}\n{line}")
    told = RuleTrial()
    for batch in outcome_rows.stream(outcome):
        there = [row for row in batch if row.left]
        partners = ((row.right or "") if row.verdict in _PAIRED else "" for row in there)
        told += rule_trial.of(before, after, [row.left or "" for row in there], partners)
    return told

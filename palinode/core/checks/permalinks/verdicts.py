"""Verdicts of the check of permalinks, which finds nothing by itself: the check of pages tells what became of each."""

from palinode.core.checks.check import Verdict
from palinode.core.checks.thread import Thread

VERDICTS = (
    Verdict("gone", "None arrived", Thread.CUT, wants=True),
    Verdict("unplanned", "Not in the rule", Thread.BENT, wants=True),
    Verdict("part", "Some did not arrive", Thread.WAVY, wants=True),
    Verdict("unknown", "Not judged", Thread.DOTS),
    Verdict("planned", "As the rule says", Thread.BENT),
    Verdict("new", "New", Thread.RING),
    Verdict("same", "Same", Thread.STRAIGHT),
)
GONE, UNPLANNED, PART, UNKNOWN, PLANNED, NEW, SAME = range(len(VERDICTS))

"""Findings: one difference or fault each, the same finding from comparison to comparison."""

from palinode.core.findings.finding import Finding
from palinode.core.findings.findings import Findings, Many, columns, joined, ranked
from palinode.core.findings.history import Before, FindingHistory, State, history, left_over

__all__ = [
    "Before",
    "Finding",
    "FindingHistory",
    "Findings",
    "Many",
    "State",
    "columns",
    "history",
    "joined",
    "left_over",
    "ranked",
]

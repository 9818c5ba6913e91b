"""Findings: one difference or fault each, the same finding from comparison to comparison."""

from palinode.core.findings.finding import Finding, digest, subject
from palinode.core.findings.findings import Findings, Many, columns, joined, ranked
from palinode.core.findings.history import (
    Before,
    FindingHistory,
    LeftOver,
    ShownBefore,
    State,
    history,
    left_over,
    missing,
)

__all__ = [
    "Before",
    "Finding",
    "FindingHistory",
    "Findings",
    "LeftOver",
    "Many",
    "ShownBefore",
    "State",
    "columns",
    "digest",
    "history",
    "joined",
    "left_over",
    "missing",
    "ranked",
    "subject",
]

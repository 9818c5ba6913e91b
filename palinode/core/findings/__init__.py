"""Findings: one difference or fault each, the same finding from comparison to comparison."""

from palinode.core.findings.findings import Findings, find
from palinode.core.findings.kind import FIELDS, SHARED, TABLE, FindingKind
from palinode.core.findings.shared import Shared
from palinode.core.findings.state import Before, FindingHistory, State, course, left_over, since_before

__all__ = [
    "FIELDS",
    "SHARED",
    "TABLE",
    "Before",
    "FindingHistory",
    "FindingKind",
    "Findings",
    "Shared",
    "State",
    "course",
    "find",
    "left_over",
    "since_before",
]

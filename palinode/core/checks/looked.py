"""What a check looks at: both sides as they were loaded, the address rule, pairs, and what earlier checks gave."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

from palinode.core.answers import FileAnswers
from palinode.core.findings import Finding
from palinode.core.ledger import Ledger
from palinode.core.robots import RobotsFile
from palinode.core.rule import Rule


@dataclass(frozen=True)
class Side:
    """One side, with what the check reads of it; what it does not read is not loaded."""

    bases: tuple[str, ...]
    """Home page's address of each of its hosts, the main one first."""
    robots: tuple[RobotsFile, ...] | None = None
    files: FileAnswers | None = None


@dataclass(frozen=True)
class Looked:
    """What one check looks at."""

    left: Side
    right: Side
    rule: Rule
    agent: str
    """Name of the user agent with which sites are asked."""
    pages: Ledger | None = None
    """The rows of pages, for checks that read pairs."""
    shared: Sequence[Finding] = ()
    """What many pages share, for the check of pages."""
    options: Any = None
    """As the check declares them; None for a check without, and for its defaults."""
    gives: Mapping[str, Mapping[str, Any]] = field(default_factory=dict)
    """By the names of earlier checks."""

"""What a cause is, and what it is found in."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any

import numpy as np

from palinode.core.causes import cause_kind
from palinode.core.causes.cause_kind import CauseKind
from palinode.core.causes.comparison_context import NOTHING_BESIDE, Beside
from palinode.core.checks.kind import Kind
from palinode.core.checks.outcome import Outcome
from palinode.core.difference_signs import RowSigns, Sign
from palinode.core.findings import Finding, Findings
from palinode.core.ledger import Ledger
from palinode.core.weight import Weight
from palinode.core.wording import sentence

PAGES = 0
"""Place of the check of pages among those of a comparison: it is the first, since the others read its pairs."""


@dataclass(frozen=True)
class Cause:
    """Findings that share one likely reason and one remedy."""

    kind: str
    weight: Weight
    title: str
    detail: str
    remedy: str
    takes: np.ndarray
    """bool of shape (n,): the findings that it takes."""
    pages: int
    """On how many rows of the ledger they stand."""
    show: dict[str, str] = field(default_factory=dict)
    """What leads to the rows: the check if it is another than that of pages, then its verdict and group."""
    raised: bool = False
    """It weighs more than each of its findings alone."""
    line: str = ""
    """A line for the address rule that would say it."""
    everywhere: bool = False
    """Only a capture of all pages shows whether it is mended."""
    instead: str = ""
    """What else it could be, and what would tell the two apart."""
    visits: int = 0
    """How often people asked for the pages of its rows at the source, by imported logs."""

    @property
    def of_kind(self) -> CauseKind:
        """What it has in common with others of its kind."""
        return cause_kind.of(self.kind)

    @property
    def number(self) -> int:
        """How many findings it takes, open or not."""
        return int(self.takes.sum())

    def plain(self) -> dict[str, Any]:
        """Return what is kept with a comparison and shown."""
        return {
            "kind": self.kind,
            "weight": self.weight.word,
            "title": sentence(self.title),
            "detail": sentence(self.detail),
            "remedy": self.remedy,
            "raised": self.raised,
            "findings": self.number,
            "rows": self.pages,
            "visits": self.visits,
            "show": self.show,
            "line": self.line,
            "instead": self.instead,
            "everywhere": self.everywhere,
            "certainty": self.of_kind.certainty.word,
            "who": self.of_kind.who.value,
        }


@dataclass(frozen=True)
class Ground:
    """What causes are found in: the rows of a ledger, the findings on them, and what is known beside them."""

    ledger: Ledger
    findings: Findings
    signs: RowSigns | None = None
    """What pairs that differ show of why; None where none was read."""
    beside: Beside = NOTHING_BESIDE
    checks: tuple[str, ...] = ("pages",)
    """Names of the checks, by their places."""
    outcomes: Mapping[str, Outcome] = field(default_factory=dict)
    """What checks made, by their names."""
    follows: np.ndarray | None = None
    """int64 (findings,): the finding that each only follows from, -1 for none; None where none does."""

    @property
    def own(self) -> np.ndarray:
        """bool (findings,): those that count by themselves."""
        return np.ones(len(self.findings), bool) if self.follows is None else self.follows < 0

    def rows(self, free: np.ndarray, *kinds: Kind) -> np.ndarray:
        """Return bool (rows,): which rows of the ledger have a finding of these kinds, of those ``free``."""
        return self.under(free & self.findings.of(*kinds))

    def under(self, takes: np.ndarray) -> np.ndarray:
        """Return bool (rows,): the rows of pages on which these findings stand, or that share them."""
        rows = np.zeros(len(self.ledger.fate), bool)
        at = self.findings.row[takes & (self.findings.check == PAGES)]
        rows[at[at >= 0]] = True
        for place, on in self._shared.items():
            if takes[place]:
                rows[on] = True
        return rows

    @cached_property
    def _shared(self) -> dict[int, np.ndarray]:
        """The rows of pages that show a finding which differs from page to page elsewhere, by its place."""
        return {
            place: one.on
            for place, one in self.findings.single.items()
            if one.on is not None and one.row < 0 and not one.kind.shared and self.findings.check[place] == PAGES
        }

    def takes(self, free: np.ndarray, rows: np.ndarray, *kinds: Kind) -> np.ndarray:
        """Return bool (findings,): those of these kinds on some rows, of those ``free``."""
        at = np.where(self.findings.check == PAGES, self.findings.row, -1)
        of_kinds = free & self.findings.of(*kinds)
        found: np.ndarray = of_kinds & np.append(rows, False)[at]
        for place, on in self._shared.items():
            # One finding has one cause: that of most of its pages.
            found[place] |= of_kinds[place] and 2 * rows[on].sum() >= len(on)
        return found

    def show(self, sign: Sign) -> np.ndarray:
        """Return bool (rows,): which rows show a sign."""
        signs = self.signs or RowSigns.nothing(len(self.ledger.fate))
        return signs.show(sign)

    def shared(self, free: np.ndarray, *kinds: Kind) -> dict[int, Finding]:
        """Return the free findings of these kinds that many pages share, by their places."""
        wanted = free & self.findings.of(*kinds)
        return {place: one for place, one in self.findings.single.items() if wanted[place]}

    def at(self, places: Iterable[int]) -> np.ndarray:
        """Return bool (findings,): those at these places."""
        found = np.zeros(len(self.findings), bool)
        found[list(places)] = True
        return found

"""The verdict on what was compared: what is wrong or differs, what became of it since before, and why."""

from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from palinode.core import findings, standing
from palinode.core.boilerplate import Boilerplate
from palinode.core.causes.cause import Ground
from palinode.core.compare import Paired
from palinode.core.fates import Fate
from palinode.core.findings import Before, FindingHistory, Findings, State
from palinode.core.ledger import Ledger
from palinode.core.pairing.parts import Parts
from palinode.core.rule import Rule
from palinode.core.standing import Standing
from palinode.core.volatile import Volatile
from palinode.records import decisions
from palinode.records import findings as kept
from palinode.records.models import Comparison
from palinode.work.comparing import comparison_context, difference_signs
from palinode.work.deciding import expected_differences

_MOST_UNKNOWN = 0.5
"""Where more pages could not be judged, nothing is said of what pages share."""


@dataclass(frozen=True)
class Compared:
    """A comparison of both sides as far as its ledger, with what was looked at on the way."""

    comparison: Comparison
    paired: Paired
    ledger: Ledger
    rule: Rule
    limits: tuple[str, ...]
    """Which limits bit in its captures, in words."""
    volatile: Volatile
    repeated: Boilerplate
    pieces: Parts


@dataclass(frozen=True)
class Verdict:
    """What a comparison found."""

    found: Findings
    course: FindingHistory
    """What became of each finding."""
    standing: Standing
    earlier: Comparison | None
    before: Before
    """The findings of that earlier comparison."""
    gone: np.ndarray
    """bool: which of those are not found any more."""
    unseen: np.ndarray
    """bool: which of those stand on pages that could not be judged this time."""

    def plain(self) -> dict[str, Any]:
        """Return the standing with what changed since the comparison before."""
        return self.standing.plain() | {"since": findings.since_before(self.course, self.before, self.gone)}


def reach(compared: Compared) -> Verdict:
    """Find what is wrong or differs, what became of it since the comparison before, and why."""
    comparison, paired, ledger, rule = compared.comparison, compared.paired, compared.ledger, compared.rule
    move, volatile = comparison.move, compared.volatile
    shared = difference_signs.shared(comparison, paired, ledger, rule, volatile, compared.repeated)
    found = findings.find(ledger, decisions.weights(move), shared)
    earlier = kept.comparison_before(comparison)
    before = kept.before(earlier)
    aside = expected_differences.set_aside(
        comparison, expected_differences.of_ledger(ledger, found), decisions.expected(move), volatile
    )
    accepted = decisions.accepted(move)
    course = findings.course(found.key, found.seen, before, accepted, aside, comparison.right.round or 0)
    masks = replace(volatile, texts=compared.repeated.texts)
    contrasts = difference_signs.contrasts(comparison, ledger, rule, masks)
    ground = Ground(ledger, found, contrasts, comparison_context.look(comparison, paired, rule, compared.pieces))
    judged = standing.judge(ground, course.state == State.OPEN, compared.limits)
    unknown = ledger.fate == Fate.UNKNOWN
    unsure = bool(unknown.sum() > _MOST_UNKNOWN * (ledger.left != 0).sum())
    gone, unseen = findings.left_over(found.key, before, ledger.left[unknown], unsure)
    return Verdict(found, course, judged, earlier, before, gone, unseen)


def keep(compared: Compared, verdict: Verdict) -> None:
    """Write the findings of a comparison, and those of the one before that it does not have. Needs a transaction."""
    comparison, earlier, before = compared.comparison, verdict.earlier, verdict.before
    kept.store(comparison, compared.ledger, verdict.found, verdict.course, verdict.standing.causes)
    if earlier:
        said = "its page could not be judged this time"
        kept.carry(comparison, earlier, before.key[verdict.unseen], None, said)
        kept.carry(comparison, earlier, before.key[verdict.gone], State.CLEARED, "")

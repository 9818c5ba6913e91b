"""What a comparison comes to: what became of each finding since the one before, the causes, the standing."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any

from palinode.core import findings, standing
from palinode.core.causes.cause import Ground
from palinode.core.fates import Fate
from palinode.core.findings import Before, FindingHistory, Findings, State
from palinode.core.standing import Standing
from palinode.records import decisions
from palinode.records import findings as kept
from palinode.records.findings import Carried
from palinode.records.models import CheckOutcome
from palinode.work.comparing import comparison_context, difference_signs
from palinode.work.comparing.check_run import Run
from palinode.work.comparing.page_pairs import Compared
from palinode.work.deciding import expected_differences

_MOST_UNKNOWN = 0.5
"""Where more pages could not be judged, nothing is said of what pages share."""


@dataclass(frozen=True)
class Verdict:
    """What a comparison found."""

    found: Findings
    """Of all its checks."""
    history: FindingHistory
    standing: Standing
    before: Before
    """The findings of the comparison before."""
    carried: Carried

    def plain(self) -> dict[str, Any]:
        """Return the standing with what changed since the comparison before."""
        since = findings.since_before(self.history, self.before, self.carried.gone)
        return self.standing.plain() | {"since": since}


def reach(compared: Compared, runs: Sequence[Run], missing: Sequence[str] = ()) -> Verdict:
    """Find what became of the findings of all checks since the comparison before, and why they are there.

    ``missing`` are checks that were not looked at.
    """
    comparison, paired, ledger, rule = compared.comparison, compared.paired, compared.ledger, compared.rule
    move, volatile = comparison.move, compared.volatile
    found = findings.joined([one.made.findings for one in runs], decisions.weights(move))
    earlier = kept.comparison_before(comparison)
    before = kept.before(earlier)
    differing = expected_differences.of_findings(found)
    aside = expected_differences.set_aside(comparison, differing, decisions.expected(move), volatile)
    accepted = decisions.accepted(move)
    history = findings.history(found.key, found.seen, before, accepted, aside, comparison.right.round or 0)
    masks = replace(volatile, texts=compared.repeated.texts)
    signs = difference_signs.of_rows(comparison, ledger, rule, masks)
    beside = comparison_context.look(comparison, paired, rule, compared.pieces)
    made = {one.check.name: one.made for one in runs}
    ground = Ground(ledger, found, signs, beside, tuple(made), made)
    unseen = [*missing, *(sentence for one in runs for sentence in one.made.unseen)]
    judged = standing.judge(ground, history.state == State.OPEN, compared.limits, unseen)
    unknown = ledger.fate == Fate.UNKNOWN
    unsure = bool(unknown.sum() > _MOST_UNKNOWN * (ledger.left != 0).sum())
    gone, not_seen = findings.left_over(found.key, before, ledger.left[unknown], unsure)
    return Verdict(found, history, judged, before, Carried(earlier, gone, not_seen))


def keep(compared: Compared, outcomes: Sequence[CheckOutcome], verdict: Verdict) -> None:
    """Write what became of the findings of a comparison, and those of the one before that it does not have.

    Needs a transaction.
    """
    causes = verdict.standing.causes
    kept.store(compared.comparison, outcomes, verdict.found, verdict.history, causes, verdict.carried)

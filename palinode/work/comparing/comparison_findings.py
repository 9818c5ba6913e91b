"""What a comparison finds by itself: what became of each finding since the one before, and the causes of all."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from palinode.core import causes, findings
from palinode.core.causes.cause import Cause, Ground
from palinode.core.fates import Fate
from palinode.core.findings import FindingHistory, Findings
from palinode.core.standing import Basis
from palinode.records import judgements
from palinode.records.judgements import Carried
from palinode.records.models import CheckOutcome
from palinode.work.comparing import comparison_context, difference_signs
from palinode.work.comparing.check_run import Run
from palinode.work.comparing.page_pairs import Compared

_MOST_UNKNOWN = 0.5
"""Where more pages could not be judged, nothing is said of what pages share."""


@dataclass(frozen=True)
class Result:
    """The findings of a comparison, with their history and causes."""

    findings: Findings
    """Of all its checks."""
    history: FindingHistory
    causes: tuple[Cause, ...]
    carried: Carried
    basis: Basis


def find(compared: Compared, runs: Sequence[Run], missing: Sequence[str] = ()) -> Result:
    """Find what became of the findings of all checks since the comparison before, and why they are there.

    ``missing`` are checks that were not looked at.
    """
    comparison, paired, ledger, rule = compared.comparison, compared.paired, compared.ledger, compared.rule
    found = findings.joined([one.made.findings for one in runs])
    earlier = judgements.comparison_before(comparison)
    before = judgements.before(earlier)
    history = findings.history(found.key, before, comparison.right.round or 0)
    masks = replace(compared.volatile, texts=compared.repeated.texts)
    signs = difference_signs.of_rows(comparison, ledger, rule, masks)
    beside = comparison_context.look(comparison, paired, rule, compared.pieces)
    made = {one.check.name: one.made for one in runs}
    ground = Ground(ledger, found, signs, beside, tuple(made), made)
    unseen = [*missing, *(sentence for one in runs for sentence in one.made.unseen)]
    unknown = ledger.fate == Fate.UNKNOWN
    unsure = bool(unknown.sum() > _MOST_UNKNOWN * (ledger.left != 0).sum())
    gone, not_seen = findings.left_over(found.key, before, ledger.left[unknown], unsure)
    basis = Basis.of(ledger, compared.limits, unseen)
    return Result(found, history, tuple(causes.find(ground)), Carried(earlier, gone, not_seen), basis)


def keep(compared: Compared, outcomes: Sequence[CheckOutcome], result: Result) -> None:
    """Write the findings of a comparison, and those of the one before that it does not have. Needs a transaction."""
    judgements.keep_findings(
        compared.comparison,
        outcomes,
        result.findings,
        result.history,
        result.causes,
        result.carried,
        result.basis,
    )

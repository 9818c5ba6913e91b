"""What a comparison finds by itself: what became of each finding since the one before, and the causes of all."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from palinode.core import causes, findings, followers
from palinode.core.causes.cause import PAGES, Cause, Ground
from palinode.core.fates import Fate
from palinode.core.findings import Before, FindingHistory, Findings
from palinode.core.ledger import Ledger
from palinode.core.standing import Basis
from palinode.records import judgements
from palinode.records.judgements import Carried
from palinode.records.models import CheckOutcome
from palinode.work.comparing import comparison_context, difference_signs
from palinode.work.comparing.check_run import Run
from palinode.work.comparing.page_pairs import Compared


@dataclass(frozen=True)
class Result:
    """The findings of a comparison, with their history and causes."""

    findings: Findings
    """Of all its checks."""
    history: FindingHistory
    causes: tuple[Cause, ...]
    follows: np.ndarray
    """int64: the finding that each only follows from; -1 for none."""
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
    names = [one.check.name for one in runs]
    history = findings.history(
        found.key, _looked_before(found, names, ledger, before), before, comparison.right.round or 0
    )
    masks = replace(compared.volatile, texts=compared.repeated.texts)
    signs = difference_signs.of_rows(comparison, ledger, rule, masks)
    beside = comparison_context.look(comparison, paired, rule, compared.pieces)
    made = {one.check.name: one.made for one in runs}
    follows = followers.find(ledger, found)
    ground = Ground(ledger, found, signs, beside, tuple(made), made, follows)
    unseen = [*missing, *(sentence for one in runs for sentence in one.made.unseen)]
    left_over = findings.left_over(
        before,
        judgements.shown(earlier, findings.missing(found.key, before)),
        set(names),
        ledger.left[ledger.fate == Fate.UNKNOWN],
        ledger.left[ledger.fate == Fate.RETIRED],
    )
    basis = Basis.of(ledger, compared.limits, unseen)
    return Result(found, history, tuple(causes.find(ground)), follows, Carried(earlier, left_over), basis)


def _looked_before(found: Findings, names: Sequence[str], ledger: Ledger, before: Before) -> np.ndarray:
    """Return bool (n,): whether the comparison before looked where each finding is, at half of its pages at least."""
    looked = np.array([name in before.looked for name in names], bool)[found.check]
    unknown = np.isin(ledger.left, before.not_judged) & (ledger.left != 0)
    on_pages = (found.check == PAGES) & (found.row >= 0)
    looked[on_pages] &= ~unknown[found.row[on_pages]]
    for place, one in found.single.items():
        if one.on is not None and len(one.on):
            looked[place] &= 2 * unknown[one.on].sum() < len(one.on)
    return looked


def keep(compared: Compared, outcomes: Sequence[CheckOutcome], result: Result) -> None:
    """Write the findings of a comparison, and those of the one before that it does not have. Needs a transaction."""
    judgements.keep_findings(
        compared.comparison,
        outcomes,
        result.findings,
        result.history,
        result.causes,
        result.follows,
        result.carried,
        result.basis,
    )

"""Checks a cause that somebody mended: captures the pages of its findings again, and nothing else."""

from palinode.core import address as addresses
from palinode.core import rule as rules
from palinode.core.checks import registry
from palinode.records import findings
from palinode.records.models import Capture, Comparison
from palinode.work.capturing import asking, capture_job, recapture
from palinode.work.capturing.policy import Policy
from palinode.work.capturing.recapture import What


def begin(comparison: Comparison, cause: int) -> Capture:
    """Capture the destination again where the findings of a cause stand; a comparison follows as it closes.

    Each page is asked for where it is expected, and at its old path; where checks that ask the hosts themselves found
    all of it, they ask anew. Raises AgainError if the destination's capture cannot be gone on from, Busy while another
    one runs, and AskingError.
    """
    move = comparison.move
    checks = [registry.BY_NAME[name] for name in findings.checks_of(comparison, cause)]
    if checks and all(check.asks for check in checks):
        return asking.order(move)[-1]
    rule = rules.read(comparison.rule)
    listed: dict[str, None] = {}
    for left, right in findings.addresses_of(comparison, cause):
        if right:
            listed[rule.reached(right)] = None
        if left:
            listed[rule.reached(addresses.at_origin(left, rule.origins([addresses.origin(left)])))] = None
    settings = Policy.kept(dict(comparison.right.settings))
    causes = {one["number"]: one for one in comparison.standing.get("causes", [])}
    if cause in causes and causes[cause]["everywhere"]:
        asked = recapture.read(move, "destination", comparison.right_id, What.ALL, "", "")
    else:
        asked = recapture.read(move, "destination", comparison.right_id, What.LIST, "", "\n".join(listed))
    return capture_job.begin(move, "destination", settings, asked)

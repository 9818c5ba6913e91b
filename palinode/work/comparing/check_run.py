"""Runs the checks of a comparison: loads what they read, and keeps what they make under the digest of its inputs."""

import hashlib
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any

import orjson

from palinode.core.checks import registry
from palinode.core.checks.check import Check, Of, Reads
from palinode.core.checks.looked import Looked, Side
from palinode.core.checks.outcome import Outcome
from palinode.core.findings import Finding
from palinode.records import decisions, file_answers, outcomes
from palinode.records.models import Capture, CheckOutcome, Comparison
from palinode.work import side_access
from palinode.work.comparing import robots_files
from palinode.work.comparing.page_pairs import Compared

Loader = Callable[[Capture], Any]

LOADERS: dict[Reads, tuple[str, Loader]] = {
    Reads.ROBOTS: ("robots", robots_files.load),
    Reads.FILES: ("files", file_answers.load),
}
"""What is loaded of each side: the member of :class:`Side` that holds it, and what loads it (None: not there)."""


@dataclass(frozen=True)
class Run:
    """A check that was looked at in a comparison, with what it made."""

    check: Check
    digest: str
    made: Outcome


def run(compared: Compared, shared: Sequence[Finding]) -> tuple[list[Run], list[str]]:
    """Return what each check makes of a comparison, in the order of the registry, and what was not looked at.

    ``shared`` are findings that many pages share. Of two captures of one side pages alone are compared.
    """
    comparison = compared.comparison
    loaded: dict[tuple[str, Reads], Any] = {}
    decided = decisions.of_pairs(comparison.move)
    runs: list[Run] = []
    missing: list[str] = []
    for check in registry.CHECKS:
        if check.judge is None or check.of is not Of.BOTH_SIDES or (compared.one_side and check.name != "pages"):
            continue
        for which, capture in (("left", comparison.left), ("right", comparison.right)):
            for one in check.reads:
                if one in LOADERS and (which, one) not in loaded:
                    loaded[which, one] = LOADERS[one][1](capture)
        lacking = [one for one in check.needs if any(loaded.get((side, one), 0) is None for side in ("left", "right"))]
        if lacking:
            missing.append(check.title.lower())
            continue
        looked = Looked(
            left=_side(comparison.left, "left", check, loaded),
            right=_side(comparison.right, "right", check, loaded),
            rule=compared.rule,
            agent=side_access.agent(),
            pages=compared.ledger if Reads.PAIRS in check.reads else None,
            shared=shared if check.name == "pages" else (),
            options=check.options,
            gives={one.check.name: one.made.gives for one in runs if one.check.name in check.after},
        )
        runs.append(Run(check, _digest(comparison, check, looked, runs, decided), check.judge(looked)))
    return runs, missing


def keep(comparison: Comparison, runs: Sequence[Run]) -> list[CheckOutcome]:
    """Write the outcomes that are new, and return those of all checks. Needs a transaction."""
    return [outcomes.keep(comparison.move_id, one.check, one.digest, one.made) for one in runs]


def _side(capture: Capture, which: str, check: Check, loaded: dict[tuple[str, Reads], Any]) -> Side:
    members = {LOADERS[one][0]: loaded[which, one] for one in check.reads if one in LOADERS}
    return Side(base=capture.access["base"], **members)


def _digest(comparison: Comparison, check: Check, looked: Looked, before: Sequence[Run], decided: Sequence[Any]) -> str:
    """Return the digest of what a check makes its outcome of (SHA-256, hexadecimal).

    ``decided`` are the decisions about pairs and fates.
    """
    inputs: dict[str, Any] = {
        "check": [check.name, check.version],
        "captures": [[one.pk, one.readings] for one in (comparison.left, comparison.right)],
        "rule": comparison.rule,
        "options": dict(looked.options),
        "agent": looked.agent,
        "after": [one.digest for one in before if one.check.name in check.after],
    }
    if Reads.PAIRS in check.reads:
        inputs["decisions"] = decided
    return hashlib.sha256(orjson.dumps(inputs, option=orjson.OPT_SORT_KEYS)).hexdigest()

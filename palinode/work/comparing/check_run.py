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
from palinode.records import capture_sets, decisions, file_answers, outcomes
from palinode.records.captures import PAGED
from palinode.records.models import Capture, CheckOutcome, Comparison
from palinode.work import side_access
from palinode.work.comparing import robots_files
from palinode.work.comparing.page_pairs import Compared


@dataclass(frozen=True)
class Loader:
    """What loads something of a side."""

    member: str
    """Of :class:`Side`, which holds it."""
    kinds: tuple[str, ...]
    """Kinds of captures that it is loaded of."""
    load: Callable[[Sequence[Capture]], Any]
    """Takes those captures of a set that are of its kinds; None for what is not there."""


def _of_pages(load: Callable[[Capture], Any]) -> Callable[[Sequence[Capture]], Any]:
    return lambda held: load(held[0])


LOADERS: dict[Reads, Loader] = {
    Reads.ROBOTS: Loader("robots", (*PAGED, str(Capture.Kind.ASKED)), robots_files.load),
    Reads.FILES: Loader("files", PAGED, _of_pages(file_answers.load)),
}
"""What is loaded of each side for the checks; pairs are there before any check is run."""


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
    held = capture_sets.compared(comparison)
    decided = decisions.of_pairs(comparison.move)
    runs: list[Run] = []
    missing: list[str] = []
    for check in registry.CHECKS:
        if check.judge is None or check.of is not Of.BOTH_SIDES or (compared.one_side and check.name != "pages"):
            continue
        for side in capture_sets.SIDES:
            for one in check.reads:
                if one in LOADERS and (side, one) not in loaded:
                    loaded[side, one] = _loaded(one, held[side])
        lacking = [one for one in check.needs if any(loaded.get((side, one), 0) is None for side in capture_sets.SIDES)]
        if lacking:
            missing.append(check.title.lower())
            continue
        looked = Looked(
            left=_side(comparison.left, check, lambda one: loaded["left", one]),
            right=_side(comparison.right, check, lambda one: loaded["right", one]),
            rule=compared.rule,
            agent=side_access.agent(),
            pages=compared.ledger if Reads.PAIRS in check.reads else None,
            shared=shared if check.name == "pages" else (),
            options=check.options,
            gives={one.check.name: one.made.gives for one in runs if one.check.name in check.after},
        )
        read = [[[one.pk, one.readings] for one in _read_of(check, held[side])] for side in capture_sets.SIDES]
        runs.append(Run(check, _digest(comparison, check, looked, read, runs, decided), check.judge(looked)))
    return runs, missing


def keep(comparison: Comparison, runs: Sequence[Run]) -> list[CheckOutcome]:
    """Write the outcomes that are new, and return those of all checks. Needs a transaction."""
    return [outcomes.keep(comparison.move_id, one.check, one.digest, one.made) for one in runs]


def _read_of(check: Check, held: Sequence[Capture]) -> list[Capture]:
    """Return the captures of a set that a check reads something of."""
    kinds = {kind for one in check.reads for kind in (LOADERS[one].kinds if one in LOADERS else PAGED)}
    return [one for one in held if one.kind in kinds]


def side_of(check: Check, held: Sequence[Capture]) -> Side:
    """Return what a check reads of a set of captures, its capture of pages first."""
    return _side(held[0], check, lambda one: _loaded(one, held))


def _loaded(reads: Reads, held: Sequence[Capture]) -> Any:
    of_kind = [capture for capture in held if capture.kind in LOADERS[reads].kinds]
    return LOADERS[reads].load(of_kind) if of_kind else None


def _side(capture: Capture, check: Check, loaded: Callable[[Reads], Any]) -> Side:
    members = {LOADERS[one].member: loaded(one) for one in check.reads if one in LOADERS}
    return Side(base=capture.access["base"], **members)


def _digest(
    comparison: Comparison,
    check: Check,
    looked: Looked,
    read: list[list[list[int]]],
    before: Sequence[Run],
    decided: Sequence[Any],
) -> str:
    """Return the digest of what a check makes its outcome of (SHA-256, hexadecimal).

    ``read`` are the captures that it reads of each side, ``decided`` the decisions about pairs and fates.
    """
    inputs: dict[str, Any] = {
        "check": [check.name, check.version],
        "captures": read,
        "rule": comparison.rule,
        "options": dict(looked.options),
        "agent": looked.agent,
        "after": [one.digest for one in before if one.check.name in check.after],
    }
    if Reads.PAIRS in check.reads:
        inputs["decisions"] = decided
    return hashlib.sha256(orjson.dumps(inputs, option=orjson.OPT_SORT_KEYS)).hexdigest()

"""Runs the checks of a comparison: loads what they read, and keeps what they make under the digest of its inputs."""

import hashlib
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from typing import Any

import orjson

from palinode.core import options
from palinode.core.checks import registry
from palinode.core.checks.check import Check, Of, Reads
from palinode.core.checks.looked import Looked, Side
from palinode.core.checks.outcome import Outcome
from palinode.core.findings import Finding
from palinode.core.hot_link import HotLink
from palinode.records import address_lists, capture_sets, check_options, decisions, file_answers, link_columns, outcomes
from palinode.records.captures import PAGED
from palinode.records.models import Capture, CheckOutcome, Comparison
from palinode.work import side_access
from palinode.work.comparing import (
    asked_answers,
    fragment_files,
    identifier_files,
    known_addresses,
    leftover_files,
    robots_files,
    site_files,
)
from palinode.work.comparing.page_pairs import Compared


@dataclass(frozen=True)
class Loader:
    """How something that checks read is loaded."""

    member: str
    """Of :class:`Side`, which holds it."""
    kinds: tuple[str, ...]
    """Kinds of captures that it is loaded of."""
    load: Callable[[Sequence[Capture]], Any]
    """From the captures of a set that are of these kinds to what it reads of them; None if they do not have it."""


def _of_pages(load: Callable[[Capture], Any]) -> Callable[[Sequence[Capture]], Any]:
    return lambda held: load(held[0])


def _hot_links(capture: Capture) -> list[HotLink]:
    return address_lists.hot_links(capture.move, capture.which)


LOADERS: dict[Reads, Loader] = {
    Reads.ROBOTS: Loader("robots", (*PAGED, str(Capture.Kind.ASKED)), robots_files.load),
    Reads.FILES: Loader("files", PAGED, _of_pages(file_answers.load)),
    Reads.LINKS: Loader("links", PAGED, _of_pages(link_columns.of)),
    Reads.FRAGMENTS: Loader("fragments", PAGED, _of_pages(fragment_files.load)),
    Reads.KNOWN: Loader("known", PAGED, _of_pages(known_addresses.load)),
    Reads.ITEMS: Loader("items", ("dump", "export", "api", "numbers"), site_files.items),
    Reads.DATABASE: Loader("database", ("dump",), site_files.database),
    Reads.LEFTOVERS: Loader("leftovers", PAGED, leftover_files.load),
    Reads.STORED_LEFTOVERS: Loader("stored_leftovers", ("dump",), leftover_files.load_stored),
    Reads.ASKED: Loader("asked", (str(Capture.Kind.ASKED),), asked_answers.load),
    Reads.IDENTIFIERS: Loader("identifiers", PAGED, identifier_files.load),
    Reads.HOT_LINKS: Loader("hot_links", PAGED, _of_pages(_hot_links)),
    Reads.LISTING: Loader("listing", ("listing",), site_files.listing),
}
"""What is loaded of each side for the checks; pairs are there before any check is run."""


@dataclass(frozen=True)
class Run:
    """A check that was looked at in a comparison, with what it made."""

    check: Check
    digest: str
    made: Outcome


class _Loaded:
    """The data that checks read of both sets of captures; each is loaded when the first check wants it."""

    def __init__(self, held: dict[str, list[Capture]]) -> None:
        self.held = held
        self._there: dict[tuple[str, Reads], Any] = {}

    def side(self, name: str, check: Check) -> Side:
        """Return what a check reads of a side, ``left`` or ``right``."""
        members = {LOADERS[one].member: self._of(name, one) for one in check.reads if one in LOADERS}
        return Side(bases=self.held[name][0].bases, **members)

    def lacks(self, check: Check) -> bool:
        """Whether something that a check needs is not there on one of the sides."""
        return any(self._of(side, one) is None for side in self.held for one in check.needs if one in LOADERS)

    def is_unwanted(self, check: Check) -> bool:
        """Whether nobody gave what a check needs, on either side, and only a person can: a dump, a list of files."""
        kinds = {kind for one in check.needs if one in LOADERS for kind in LOADERS[one].kinds}
        return kinds <= set(map(str, Capture.SITE_FILES)) and not any(
            one.kind in kinds for held in self.held.values() for one in held
        )

    def captures(self, check: Check) -> list[list[list[int]]]:
        """Return the captures of each side that a check reads something of, with how often they were read again."""
        kinds = {kind for one in check.reads for kind in (LOADERS[one].kinds if one in LOADERS else PAGED)}
        return [[[one.pk, one.readings] for one in held if one.kind in kinds] for held in self.held.values()]

    def _of(self, side: str, reads: Reads) -> Any:
        if (side, reads) not in self._there:
            of_kind = [capture for capture in self.held[side] if capture.kind in LOADERS[reads].kinds]
            self._there[side, reads] = LOADERS[reads].load(of_kind) if of_kind else None
        return self._there[side, reads]


def run(compared: Compared, shared: Sequence[Finding]) -> tuple[list[Run], list[str]]:
    """Return what each check makes of a comparison, in the order of the registry, and what was not looked at.

    ``shared`` are findings that many pages share. Of two captures of one side pages alone are compared.
    """
    comparison = compared.comparison
    held = capture_sets.compared(comparison)
    loaded = _Loaded(held)
    decided = decisions.of_pairs(comparison.move)
    runs: list[Run] = []
    missing: list[str] = []
    for check in registry.CHECKS:
        if check.judge is None or check.of is not Of.BOTH_SIDES or (compared.one_side and check.name != "pages"):
            continue
        if loaded.lacks(check):
            if not loaded.is_unwanted(check):
                missing.append(check.title.lower())
            continue
        looked = _looked(compared, check, loaded, runs, check_options.of(comparison.move, check))
        if check.name == "pages":
            looked = replace(looked, shared=shared)
        digest = _digest(comparison, check, looked, loaded.captures(check), runs, decided, compared.visits.digest)
        runs.append(Run(check, digest, check.judge(looked)))
    return runs, missing


def draft(compared: Compared, check: Check, options: Any) -> Outcome | None:
    """Return what a check would make of a comparison with other options; None if something it needs is not there.

    Nothing is stored.
    """
    assert check.judge is not None
    loaded = _Loaded(capture_sets.compared(compared.comparison))
    if loaded.lacks(check):
        return None
    before, _ = run(compared, ()) if set(check.after) - {"pages"} else ([], [])
    return check.judge(_looked(compared, check, loaded, before, options))


def keep(comparison: Comparison, runs: Sequence[Run]) -> list[CheckOutcome]:
    """Write the outcomes that are new, and return those of all checks. Needs a transaction."""
    outcomes.alone(comparison.move_id)
    kept: list[CheckOutcome] = []
    for one in runs:
        # Pages are the first of all.
        kept.append(outcomes.keep(comparison.move_id, one.check, one.digest, one.made, kept[0] if kept else None))
    return kept


def side_of(check: Check, held: list[Capture]) -> Side:
    """Return what a check reads of a set of captures, its capture of pages first."""
    return _Loaded({"left": held}).side("left", check)


def _looked(compared: Compared, check: Check, loaded: _Loaded, before: Sequence[Run], options: Any) -> Looked:
    return Looked(
        left=loaded.side("left", check),
        right=loaded.side("right", check),
        rule=compared.rule,
        agent=side_access.agent(),
        pages=compared.ledger if Reads.PAIRS in check.reads else None,
        options=options,
        gives={one.check.name: one.made.gives for one in before if one.check.name in check.after},
    )


def _digest(
    comparison: Comparison,
    check: Check,
    looked: Looked,
    read: list[list[list[int]]],
    before: Sequence[Run],
    decided: str,
    visited: str,
) -> str:
    """Return the digest of what a check makes its outcome of (SHA-256, hexadecimal).

    ``read`` are the captures that it reads of each side, ``decided`` is a digest of the decisions about them, and
    ``visited`` one of how often pages are visited.
    """
    inputs: dict[str, Any] = {
        "check": [check.name, check.version],
        "captures": read,
        "rule": comparison.rule,
        "options": options.plain(looked.options) if check.options else {},
        "agent": looked.agent,
        "after": [one.digest for one in before if one.check.name in check.after],
    }
    if Reads.PAIRS in check.reads:
        inputs["decisions"] = decided
        inputs["visits"] = visited
    return hashlib.sha256(orjson.dumps(inputs, option=orjson.OPT_SORT_KEYS)).hexdigest()

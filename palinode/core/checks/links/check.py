"""The check of links: each address that pages of the destination link, by what it answers, facing the source's."""

from collections.abc import Iterator

import numpy as np

from palinode.core import address as addresses
from palinode.core import file_family
from palinode.core.answers import NEVER_ASKED
from palinode.core.checks.check import Cell, Check, Column, Reads
from palinode.core.checks.links import fragment_rows, unlinked, verdicts
from palinode.core.checks.links.facing import NOWHERE, Facing
from palinode.core.checks.links.targets import State, Targets, Whose
from palinode.core.checks.looked import Looked
from palinode.core.checks.outcome import Outcome, PageSet, Row, outcome
from palinode.core.checks.shown_rows import ShownRows
from palinode.core.columns import find
from palinode.core.fields import FILE_PLACES, Place
from palinode.core.findings import Finding, columns
from palinode.core.page import REDIRECTS
from palinode.core.wording import number

PAGES, FILES, SITES = "Pages", "Images and files", "Other sites"
GROUPS = (PAGES, FILES, unlinked.GROUP, SITES)
_TEMPLATE = frozenset({Place.TEMPLATE_LINK, Place.TEMPLATE_IMAGE, Place.TEMPLATE_FORM, Place.STYLE, Place.SCRIPT})
_FEWEST, _SHARE, _MOSTLY = 5, 0.5, 0.9
"""An address stands in the template if at least so many pages, that share of all, link to it mostly from there."""
_LISTED = frozenset({verdicts.BROKEN, verdicts.ELSEWHERE, verdicts.OLD_HOST, verdicts.REDIRECTED, verdicts.BEFORE})
"""Verdicts whose rows open to the pages that link."""
_MOST_ROWS, _MOST_PAGES = 300_000, 5_000_000
"""Rows; those beyond that answer are left out. Pages that all rows together list; further ones count them alone."""


def judge(looked: Looked) -> Outcome:
    """Hold each linked address of the destination against what the source's answered."""
    assert looked.left.links is not None and looked.right.links is not None and looked.pages is not None
    left = Targets.of(looked.left.links, looked.left.bases, looked.right.bases)
    right = Targets.of(looked.right.links, looked.right.bases, looked.left.bases, looked.rule)
    facing = Facing.of(left, right, looked.rule, looked.pages)
    told = _Told(looked, left, right, facing)
    rows, found = told.rows()
    further, wrong = fragment_rows.rows(looked, looked.pages, PAGES, len(rows))
    rows += further
    found += wrong
    rows += unlinked.rows(looked, looked.pages, right)
    return outcome(rows, columns(CHECK.kinds, [], found), GROUPS, tuple(_unseen(right, told.left_out)), True)


def _unseen(right: Targets, left_out: int) -> Iterator[str]:
    if left_out:
        yield f"{number(left_out, 'further linked address that answers', 'further linked addresses that answer')}"
    further = int((right.whose == Whose.OTHER_SITE).sum())
    if further:
        yield f"links to other sites ({number(further, 'address', 'addresses')})"


class _Told:
    """Says of each linked address what it answers."""

    def __init__(self, looked: Looked, left: Targets, right: Targets, facing: Facing) -> None:
        assert looked.pages is not None
        self.looked, self.left, self.right, self.facing, self.pages = looked, left, right, facing, looked.pages
        self.left_out = 0
        """Addresses that answer, and have no row since there are too many."""
        self._room = _MOST_PAGES
        self.shown = ShownRows(looked.pages, looked.rule)
        share, all_pages = right.referring.share(_TEMPLATE)[right.number], int(right.links.is_page.sum())
        self.in_template = (right.pages >= max(_FEWEST, _SHARE * all_pages)) & (share >= _MOSTLY)
        self.in_files = right.referring.share(FILE_PLACES)[right.number] > 0
        self.left_places = addresses.places(left.text, looked.left.bases[0])
        self.right_places = addresses.places(right.text, looked.right.bases[0])

    def rows(self) -> tuple[list[Row], list[Finding]]:
        """Return a row for each, and what is wrong that no other check tells."""
        rows: list[Row] = []
        found: list[Finding] = []
        judged, counts, groups = self._verdicts().tolist(), self.right.pages.tolist(), self._groups()
        # The last one is nowhere.
        answered, places = [*self._answered_before(), ""], [*self.left_places, ""]
        for at, (verdict, place, count) in enumerate(zip(judged, self.facing.left.tolist(), counts, strict=True)):
            before, said, note, items = places[place], answered[place], "", None
            # Most of them are in order, and nothing more is said of these.
            if verdict == verdicts.ANSWERS and len(rows) >= _MOST_ROWS:
                self.left_out += 1
                continue
            if verdict != verdicts.ANSWERS:
                note = self._note(at, verdict, place)
                on = self._listed(at, count) if verdict in _LISTED else None
                items = PageSet(on) if on is not None and len(on) else None
                if finding := self._finding(at, verdict, place, note, count, len(rows), on):
                    found.append(finding)
            shown, numbers = self.right_places[at], {"pages": count}
            rows.append(Row(verdict, before, shown, said, note, groups[at], -count, numbers, items))
        return rows, found

    def _answered_before(self) -> list[str]:
        """Return what each linked address of the source answered."""
        plain = {status: str(status) for status in (200, 403, 404, 410, 500)}
        return [plain.get(status) or _answered(self.left, at) for at, status in enumerate(self.left.status.tolist())]

    def _verdicts(self) -> np.ndarray:
        right, facing = self.right, self.facing
        before = np.append(self.left.state, State.UNKNOWN)[facing.left]
        found = np.full(len(right.number), verdicts.ANSWERS)
        found[right.hops > 0] = verdicts.REDIRECTED
        found[facing.is_elsewhere] = verdicts.ELSEWHERE
        found[(right.state == State.ANSWERS) & (before == State.BROKEN)] = verdicts.MENDED
        found[right.state == State.UNKNOWN] = verdicts.UNKNOWN
        broken = right.state == State.BROKEN
        found[broken] = np.where(before[broken] == State.BROKEN, verdicts.BEFORE, verdicts.BROKEN)
        found[right.whose == Whose.OTHER_SIDE] = verdicts.OLD_HOST
        return found

    def _groups(self) -> list[str]:
        whose, in_files = self.right.whose.tolist(), self.in_files.tolist()
        return [
            SITES
            if whose[at] == Whose.OTHER_SITE
            else FILES
            if in_files[at] or ("." in text[-12:] and file_family.ending(text) in file_family.ENDINGS)
            else PAGES
            for at, text in enumerate(self.right.text)
        ]

    def _listed(self, at: int, count: int) -> np.ndarray | None:
        """Return the rows of the pages that link an address; None where there is no room for them any more."""
        self._room -= count
        if self._room < 0:
            return None
        return self.shown.of(self.right.links.ident[self.right.referring.of(int(self.right.number[at]))])

    def _note(self, at: int, verdict: int, place: int) -> str:
        right, said = self.right, []
        if verdict == verdicts.OLD_HOST:
            return "leads to the old host; told by the check of leftovers"
        if verdict == verdicts.UNKNOWN:
            return _answered(right, at)
        if verdict in (verdicts.BROKEN, verdicts.BEFORE):
            said.append(_answered(right, at))
        if verdict == verdicts.BEFORE:
            said.append("broken before, too")
        elif verdict == verdicts.BROKEN:
            said.append(self._why(at))
        if verdict == verdicts.ELSEWHERE:
            row = int(self.facing.row[at])
            to = addresses.places(self.right.links.texts(right.end[at : at + 1]), self.looked.right.bases[0])[0]
            said.append(f"leads to {to}, the page stands at {self.pages.right_place(row)}")
        if verdict == verdicts.REDIRECTED:
            count, before = int(right.hops[at]), self._hops_before(place)
            than = "" if before is None else " now" if count > before else ", as before" if count == before else ""
            said.append(f"{_hops(count)}{than}")
        if self.in_template[at] and verdict in _LISTED:
            said.append("in the template: one place to mend")
        return "; ".join(filter(None, said))

    def _why(self, at: int) -> str:
        row = int(self.facing.row[at])
        if row == NOWHERE:
            return ""
        if self.facing.is_lost[at]:
            return "its page is lost"
        return f"its page stands at {self.pages.right_place(row)}" if self.pages.right[row] else ""

    def _finding(
        self, at: int, verdict: int, place: int, note: str, pages: int, row: int, on: np.ndarray | None
    ) -> Finding | None:
        """Return what is wrong with a linked address, unless the check of pages or of files tells of it."""
        kind = {
            verdicts.BROKEN: verdicts.LINK_BROKEN,
            verdicts.ELSEWHERE: verdicts.LINK_ELSEWHERE,
            verdicts.REDIRECTED: verdicts.LINK_HOPS,
        }.get(verdict)
        before = self._hops_before(place)
        more = before is not None and int(self.right.hops[at]) > before
        if kind is None or (verdict == verdicts.REDIRECTED and not more):
            return None
        if place != NOWHERE and self._is_told(at, place):
            return None
        address = self.right.text[at]
        first = self.pages.right_address[int(on[0])] if on is not None and len(on) else ""
        return Finding(kind, address, pages, first, address, f"{self.right_places[at]}: {note}", address, row, on)

    def _hops_before(self, place: int) -> int | None:
        """Return how many redirects it took at the source; None where that is not known."""
        known = place != NOWHERE and self.left.state[place] == State.ANSWERS
        return int(self.left.hops[place]) if known else None

    def _is_told(self, at: int, place: int) -> bool:
        """Whether the address of the source is that of a page or a file, which other checks hold against its own."""
        files, ident = self.looked.left.files, self.left.ident[place : place + 1]
        return bool(self.facing.is_page[at]) or (files is not None and bool(_is_file(files.ident, files.status, ident)))


def _is_file(idents: np.ndarray, status: np.ndarray, ident: np.ndarray) -> bool:
    row = int(find(idents, ident)[0])
    return row >= 0 and int(status[row]) in (200, NEVER_ASKED)


def _answered(targets: Targets, at: int) -> str:
    """Say what a linked address answers."""
    status = int(targets.status[at])
    hops = int(targets.hops[at])
    if status == NEVER_ASKED:
        return "not asked"
    if status < 0:
        return targets.reasons.get(at) or "not fetched"
    if status not in REDIRECTS:
        return str(status)
    end = int(targets.end[at])
    final = int(targets.links.status[end]) if end >= 0 else NEVER_ASKED
    if targets.state[at] == State.BROKEN and final in REDIRECTS:
        return f"{status}, in a circle"
    tail = "" if final == 200 else f", then {final}" if final > 0 else ", then where nobody asked"
    return f"{status}, {_hops(hops)}{tail}"


def _hops(count: int) -> str:
    return "one hop" if count == 1 else f"{count} hops"


CHECK = Check(
    name="links",
    version=1,
    title="Links",
    view="links",
    reads=(Reads.PAIRS, Reads.FILES, Reads.LINKS, Reads.FRAGMENTS),
    needs=(Reads.LINKS,),
    after=("pages",),
    verdicts=verdicts.VERDICTS,
    kinds=verdicts.KINDS,
    columns=(
        Column("source", "At the source", Cell.LEFT),
        Column("answered", "Answered", Cell.LEFT_NOTE),
        Column("destination", "At the destination", Cell.RIGHT),
        Column("verdict", "Verdict", Cell.VERDICT),
        Column("detail", "What of it", Cell.RIGHT_NOTE),
        Column("group", "Kind", Cell.GROUP),
        Column("pages", "Pages that link", Cell.NUMBER),
    ),
    group_headings=True,
    shown=("pages",),
    judge=judge,
)

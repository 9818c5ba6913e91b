"""Holds two captures against each other: pairs, their parts, their fates, the ledger."""

import operator
from collections import Counter
from collections.abc import Callable, Collection, Set
from dataclasses import dataclass, replace

import numpy as np

from palinode.core import address as addresses
from palinode.core import content, fates, ledger, wording
from palinode.core.columns import LeftColumns, PageDetails, SideColumns, find
from palinode.core.differences import DifferingPairs, Sizes, Told
from palinode.core.fates import AddressChange, Asked, Fate, FoundBy, Redirect
from palinode.core.fields import Field
from palinode.core.ledger import Differences, Ledger
from palinode.core.pairing import Found, by_address, by_hand
from palinode.core.pairing.by_hand import ByHand
from palinode.core.pairing.pairs import Pairs, redirects
from palinode.core.pairing.parts import Parts
from palinode.core.recognition.page_kind import PageKind
from palinode.core.visits import NONE as NO_VISITS
from palinode.core.visits import Visits


@dataclass(frozen=True)
class Retired:
    """What a person retired: single addresses (identities) and whole sections."""

    idents: Set[int] = frozenset()
    sections: Set[str] = frozenset()


@dataclass(frozen=True)
class Paired:
    """The left pages of a comparison with their partners, before what differs is told.

    ``texts``, ``paths``, ``expected`` and the arrays have length n; ``new`` are rows of the right side.
    """

    left: LeftColumns
    right: SideColumns
    rows: np.ndarray
    texts: list[str]
    paths: list[str]
    expected: list[str]
    expected_ident: np.ndarray
    pairs: Pairs
    unlike: np.ndarray
    """bool: a compared field differs."""
    new: np.ndarray

    @property
    def elsewhere(self) -> np.ndarray:
        """bool of shape (n,): a partner was found, but not where the rule expects it."""
        rows: np.ndarray = (self.pairs.partner >= 0) & (self.pairs.found_by != FoundBy.RULE)
        return rows

    @property
    def moved(self) -> tuple[np.ndarray, np.ndarray]:
        """Where pages that were found elsewhere were expected (identities, ascending), and where they are."""
        at = np.flatnonzero(self.elsewhere)
        at = at[np.argsort(self.expected_ident[at])]
        return self.expected_ident[at], self.right.ident[self.pairs.partner[at]]

    @property
    def alone_left(self) -> np.ndarray:
        """Identities of the left pages without a partner; stand-ins are left out."""
        alone = (self.pairs.partner < 0) & (self.left.recognised[self.rows] == PageKind.NONE)
        idents: np.ndarray = self.left.ident[self.rows[alone]]
        return idents

    @property
    def alone_right(self) -> np.ndarray:
        """Identities of the right pages that are nobody's partner; stand-ins are left out."""
        idents: np.ndarray = self.right.ident[self.new[self.right.recognised[self.new] == PageKind.NONE]]
        return idents

    @property
    def doubtful(self) -> np.ndarray:
        """bool of shape (n,): a redirect alone led to the partner, which says something else."""
        rows: np.ndarray = (
            (self.pairs.found_by == FoundBy.REDIRECT)
            & self.unlike
            & (self.left.recognised[self.rows] == PageKind.NONE)
            & (self.right.recognised[self.pairs.partner] == PageKind.NONE)
        )
        return rows

    @property
    def told_left(self) -> np.ndarray:
        """Identities of the left pages whose details are wanted: unlike their partners, or such as may find one."""
        may_find = (self.pairs.partner < 0) & bool(len(self.new))
        idents: np.ndarray = self.left.ident[self.rows[self.unlike | may_find]]
        return idents

    @property
    def told_right(self) -> np.ndarray:
        """Identities of the right pages whose details are wanted: unlike their partners, found elsewhere, or new."""
        leads = self.pairs.leads[self.pairs.leads >= 0]
        rows = np.concatenate([self.pairs.partner[self.unlike | self.elsewhere], leads, self.new])
        idents: np.ndarray = self.right.ident[np.unique(rows)]
        return idents


def pair(left: LeftColumns, right: SideColumns, said: ByHand | None = None) -> Paired:
    """Find the partner of each left page by addresses: where the rule expects it, or where that leads.

    What a person ``said`` of pairs holds before the rule.
    """
    rows = np.flatnonzero(left.is_page)
    texts, expected = (_at(rows)(column) for column in (left.text, left.expected))
    expected_ident = left.expected_ident[rows]
    paths = [text[text.find("/", 8) :] for text in texts]
    pairs = by_address.find(right, texts, left.origins, left.planned[rows], expected_ident, left.recognised[rows])
    if said:
        pairs = by_hand.settle(pairs, left.ident[rows], right, said)
    right, pairs = _without_one_for_many(left.whole[rows], right, pairs)
    unlike = content.unlike(left, right, rows, pairs.partner)
    new = by_address.new(right, pairs)
    return Paired(left, right, rows, texts, paths, expected, expected_ident, pairs, unlike, new)


def _without_one_for_many(left_whole: np.ndarray, right: SideColumns, pairs: Pairs) -> tuple[SideColumns, Pairs]:
    """Take apart the pairs of pages in whose place one page answers that answers in many others' place as well."""
    found = by_address.in_place_of_many(left_whole, right, pairs)
    if not found.any():
        return right, pairs
    recognised = right.recognised.copy()
    recognised[pairs.partner[found]] = PageKind.OTHER
    apart = {
        "partner": np.where(found, -1, pairs.partner),
        "asked": np.where(found, Asked.NOT_FOUND, pairs.asked),
        "found_by": np.where(found, FoundBy.NOTHING, pairs.found_by),
        "redirect": np.where(found, Redirect.NONE, pairs.redirect),
        "certainty": np.where(found, 0.0, pairs.certainty),
    }
    return replace(right, recognised=recognised), replace(pairs, **apart)


def with_found(paired: Paired, found: Found) -> Paired:
    """Return pairs with those that were found, in the place of pages to which a redirect alone led."""
    left = paired.left.ident[paired.rows]
    order = np.argsort(left)
    at, to = order[find(left[order], found.left)], paired.right.find(found.right)
    pairs = paired.pairs
    led = pairs.found_by[at] == FoundBy.REDIRECT
    columns: dict[str, np.ndarray] = {
        "leads": np.where(led, pairs.partner[at], -1),
        "partner": to,
        "found_by": found.found_by,
        "certainty": found.certainty,
        "evidence": found.evidence,
        "redirect": redirects(pairs.asked[at], led),
        "at": to,
        "hops": np.zeros(len(at), np.int64),
        "status": np.zeros(len(at), np.int16),
    }
    changed = {name: getattr(pairs, name).copy() for name in columns}
    for name, column in columns.items():
        changed[name][at] = column
    pairs = replace(pairs, **changed)
    unlike = content.unlike(paired.left, paired.right, paired.rows, pairs.partner)
    return replace(paired, pairs=pairs, unlike=unlike, new=by_address.new(paired.right, pairs))


def differing(
    paired: Paired,
    left: PageDetails,
    right: PageDetails,
    apart: Collection[Field] = (),
    left_out: np.ndarray = content.NO_TARGETS,
) -> DifferingPairs:
    """Return the pairs whose pages differ, with the fields in which they do.

    ``left`` and ``right`` hold the details of the pages that ``paired`` names: ``told_left``, ``told_right``;
    the fields ``apart`` are not compared, and addresses ``left_out`` (identities at the destination) are no difference.
    """
    at = np.flatnonzero(paired.unlike)
    partner = paired.pairs.partner[at]
    one, other = left.of(paired.left.ident[paired.rows[at]]), right.of(paired.right.ident[partner])
    refers = content.references(paired.left, paired.rows[at], other, paired.moved, left_out)
    bits, seen = content.changes(one.prints, other.prints, *refers, apart)
    return DifferingPairs(
        bits,
        seen,
        one,
        other,
        *refers,
        paired.right.noindex[partner] & ~paired.left.noindex[paired.rows[at]],
        [addresses.section_of(place) for place in addresses.places(_at(at)(paired.texts), paired.left.home)],
        paired.left.template[paired.rows[at]],
        (addresses.origin(paired.left.home), addresses.origin(paired.right.home)),
    )


def judge(
    paired: Paired,
    pairs: DifferingPairs,
    told: Told,
    right: PageDetails,
    retired: Retired,
    visits: Visits = NO_VISITS,
) -> Ledger:
    """Derive the fates, and arrange the ledger.

    ``told`` are the differences of ``pairs``; ``right`` holds the details of the right pages that ``paired`` names;
    ``visits`` are those of the source.
    """
    at = np.flatnonzero(paired.unlike)
    shared, changed = (np.zeros(len(paired.rows), np.int32) for _ in range(2))
    changed[at], shared[at] = told.own, told.shared
    figures = (
        _figures(pairs.left, paired.left.noindex[paired.rows[at]]),
        _figures(pairs.right, paired.right.noindex[paired.pairs.partner[at]]),
    )
    many = [told.many.get(place, _NOT_MANY) for place in range(len(at))]
    said = list(map(wording.differences, told.own.tolist(), *figures, many))
    _named(told, said)
    change, right_texts = _addresses(paired, right)
    is_retired = _is_retired(paired, retired)
    fate = fates.judge(is_retired, paired.pairs.partner, paired.pairs.asked, change, changed)
    details = _details(paired, right, change, fate, dict(zip(at.tolist(), said, strict=True)))
    found = Differences(at, pairs.seen, said, told.whole, told.differences)
    visited = visits.of(paired.left.ident[paired.rows])
    return _rows(paired, change, changed, shared, fate, details, right_texts, right, found, visited)


_NOT_MANY: dict[Field, int] = {}
_NAMED = 2
"""Addresses of images or links that a row names where several differ."""


def _named(told: Told, said: list[dict[Field, str]]) -> None:
    """Name in the words of each pair what a page of its own differs in, where that is one thing, or addresses."""
    count, last = (np.zeros((len(said), len(Field)), np.int32) for _ in range(2))
    for name, one in enumerate(told.differences):
        count[one.at, one.field] += 1
        last[one.at, one.field] = name
    bits = np.arange(len(Field))
    own = (told.own[:, None] >> bits & 1 == 1) & (told.whole[:, None] >> bits & 1 == 0)
    for place, field in zip(*(part.tolist() for part in np.nonzero(own & (count == 1))), strict=True):
        said[place][Field(field)] = told.differences[last[place, field]].detail
    several = own & (count > 1)
    abouts: dict[tuple[int, Field], list[str]] = {}
    for one in told.differences:
        for place in one.at[several[one.at, one.field]].tolist() if one.about else ():
            abouts.setdefault((place, one.field), []).append(addresses.path(one.about))
    for (place, field), paths in abouts.items():
        more = ", …" if len(paths) > _NAMED else ""
        said[place][field] += f": {', '.join(paths[:_NAMED])}{more}"


def sizes(paired: Paired) -> Sizes:
    """Return how many pairs there are on the side, in each section and in each template."""
    there = np.flatnonzero(paired.pairs.partner >= 0)
    prints, count = np.unique(paired.left.template[paired.rows[there]], return_counts=True)
    templates = dict(zip(prints.tolist(), count.tolist(), strict=True))
    # By what stands before the second slash of the path first, of which there are few.
    places = addresses.places(_at(there)(paired.texts), paired.left.home)
    starts = Counter(["/".join(place.split("/", 2)[:2]) for place in places])
    sections: Counter[str] = Counter()
    for start, pages in starts.items():
        sections[addresses.section_of(start)] += pages
    return Sizes(len(there), sections, templates)


def with_parts(ledger: Ledger, parts: Parts) -> Ledger:
    """Return a ledger that says of pages without a partner where their text stands, or stood."""
    detail = ledger.detail.copy()
    for row in np.flatnonzero((ledger.fate == Fate.LOST) | (ledger.fate == Fate.NEW)).tolist():
        if holds := parts.merged.get(int(ledger.left[row])):
            detail[row] = f"{detail[row]}; its text stands in {holds}"
        elif held := parts.split.get(int(ledger.right[row])):
            detail[row] = f"part of what was {held}"
    return replace(ledger, detail=detail)


def _is_retired(paired: Paired, retired: Retired) -> np.ndarray:
    found = np.isin(paired.left.ident[paired.rows], np.array(sorted(retired.idents), np.int64))
    if retired.sections:
        places = addresses.places(paired.texts, paired.left.home)
        found |= np.array([addresses.section_of(place) in retired.sections for place in places], bool)
    return found


def _addresses(paired: Paired, right: PageDetails) -> tuple[np.ndarray, list[str]]:
    """Return an AddressChange for each left page, and the address of its partner or the one expected.

    ``right`` has the texts of the pages found elsewhere, which are few; any other partner stands at the
    address that the rule expects.
    """
    pairs, texts = paired.pairs, paired.expected.copy()
    change = np.where((pairs.found_by == FoundBy.RULE) & pairs.planned, AddressChange.PLANNED, AddressChange.NONE)
    at = np.flatnonzero(paired.elsewhere)
    for i, text in zip(at.tolist(), right.of(paired.right.ident[pairs.partner[at]]).text, strict=True):
        if text[text.find("/", 8) :] != paired.paths[i] or pairs.found_by[i] == FoundBy.OLD_PATH:
            change[i] = AddressChange.PLANNED if text == paired.expected[i] else AddressChange.UNPLANNED
        texts[i] = text
    return change, texts


def _rows(
    paired: Paired,
    change: np.ndarray,
    changed: np.ndarray,
    shared: np.ndarray,
    fate: np.ndarray,
    details: list[str],
    right_texts: list[str],
    told: PageDetails,
    differences: Differences,
    visited: tuple[np.ndarray, np.ndarray],
) -> Ledger:
    left, right, rows, pairs, new = paired.left, paired.right, paired.rows, paired.pairs, paired.new
    n, m = len(rows), len(new)
    all_fates = np.concatenate([fate, np.full(m, Fate.NEW, np.int16)])
    new_told = told.of(right.ident[new])
    right_texts = right_texts + new_told.text
    titles = _at(rows)(left.title) + new_told.title
    nothing = [""] * m
    places = addresses.places(paired.texts, left.home) + addresses.places(right_texts[n:], right.home)
    visits, last_visit = (np.concatenate([column, np.full(m, -1, column.dtype)]) for column in visited)
    arranged = ledger.arrange(all_fates, places, visits)
    order = arranged.order

    def pick(array: np.ndarray, filler: int = 0) -> np.ndarray:
        picked: np.ndarray = np.concatenate([array, np.full(m, filler)])[order]
        return picked

    words = _at(order)

    rank = np.empty(n + m, np.int64)
    rank[order] = np.arange(n + m)
    status = np.append(right.status, -1)
    return Ledger(
        fate=all_fates[order],
        place=arranged.place[order],
        section=arranged.section[order],
        section_names=arranged.section_names,
        group=arranged.group[order],
        group_names=arranged.group_names,
        left=pick(left.ident[rows]),
        right=np.concatenate(
            [np.where(pairs.partner >= 0, np.append(right.ident, 0)[pairs.partner], 0), right.ident[new]]
        )[order],
        left_address=words(paired.texts + nothing),
        left_title=words(titles),
        right_address=words(right_texts),
        detail=words(details + nothing),
        found_by=pick(pairs.found_by),
        certainty=pick(pairs.certainty),
        address_change=pick(change),
        content_change=pick(changed),
        shared_change=pick(shared),
        redirect=pick(pairs.redirect),
        asked=pick(pairs.asked),
        left_status=pick(left.status[rows], -1),
        right_status=np.concatenate([status[pairs.at], right.status[new]])[order],
        recognised=np.concatenate([np.append(right.recognised, PageKind.NONE)[pairs.at], right.recognised[new]])[order],
        shut_out=np.concatenate(
            [np.append(right.noindex, False)[pairs.partner] & ~left.noindex[rows], right.noindex[new]]
        )[order],
        visits=visits[order],
        last_visit=last_visit[order],
        template=ledger.templates(np.concatenate([left.template[rows], right.template[new]])[order]),
        differences=replace(
            differences,
            row=rank[differences.row],
            told=[replace(one, at=np.sort(rank[differences.row[one.at]])) for one in differences.told],
        ),
        homes=(left.home, right.home),
    )


def _at(rows: np.ndarray) -> Callable[[list[str]], list[str]]:
    """Return a function that picks these rows of a column of texts, twice as fast as one by one."""
    if len(rows) < 2:
        return lambda column: [column[row] for row in rows.tolist()]
    pick = operator.itemgetter(*rows.tolist())
    return lambda column: list(pick(column))


def _details(
    paired: Paired, told: PageDetails, change: np.ndarray, fate: np.ndarray, differences: dict[int, dict[Field, str]]
) -> list[str]:
    """Return what the ledger says about each left page, in a few words."""
    details = [""] * len(fate)
    pairs, side = paired.pairs, paired.right
    limits = "; ".join(side.limits)
    status, recognised = np.append(side.status, -1), np.append(side.recognised, PageKind.NONE)
    alone = np.flatnonzero((fate != Fate.KEPT) & (pairs.partner < 0))
    at = pairs.at[alone]
    columns: tuple[np.ndarray, ...] = (alone, at, pairs.asked[alone], status[at], recognised[at])
    for i, row, asked, answered, kind in zip(*(column.tolist() for column in columns), strict=True):
        details[i] = wording.not_there(Asked(asked), answered, side.reason.get(row, ""), limits, PageKind(kind))
    for i, said in differences.items():
        details[i] = wording.together(said)
    moved = np.flatnonzero((change != 0) & (pairs.partner >= 0))
    led = np.flatnonzero(pairs.leads >= 0)
    texts = told.of(side.ident[pairs.leads[led]]).text
    leads = {row: addresses.path(text) for row, text in zip(led.tolist(), texts, strict=True)}
    parts = (pairs.evidence, pairs.certainty, pairs.redirect, pairs.found_by, pairs.hops, pairs.status)
    for i, evidence, certainty, redirect, found_by, hops, answered in zip(
        moved.tolist(), *(one[moved].tolist() for one in parts), strict=True
    ):
        if evidence:
            how = wording.found(evidence, certainty, Redirect(redirect), leads.get(i, ""))
        else:
            how = wording.moved(FoundBy(found_by), Redirect(redirect), hops, answered)
        # What changed stands first: it is what a person wants to know.
        details[i] = f"{details[i]}; {how}" if details[i] else how
    return details


def _figures(told: PageDetails, noindex: np.ndarray) -> list[wording.Figures]:
    columns = (noindex, told.words, told.images, told.links, told.forms)
    rows = zip(told.title, *(column.tolist() for column in columns), strict=True)
    return list(map(wording.Figures._make, rows))
